CREATE TABLE `metric_day` (
	`day` int NOT NULL,
	`metric` varchar(64) NOT NULL,
	`series` int NOT NULL,
	CONSTRAINT `metric_day_day_metric_pk` PRIMARY KEY(`day`,`metric`)
);
