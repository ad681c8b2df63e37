CREATE TABLE `metric_fill` (
	`metric` int NOT NULL,
	`revision` int NOT NULL,
	`next` bigint NOT NULL,
	`is_done` boolean NOT NULL,
	CONSTRAINT `metric_fill_metric` PRIMARY KEY(`metric`)
);
