CREATE TABLE `metric_chunk` (
	`metric` int NOT NULL,
	`level` tinyint NOT NULL,
	`start` bigint NOT NULL,
	`series` int NOT NULL,
	`fresh` boolean NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `metric_chunk_metric_level_start_series_pk` PRIMARY KEY(`metric`,`level`,`start`,`series`)
);
--> statement-breakpoint
CREATE TABLE `metric_series` (
	`number` int AUTO_INCREMENT NOT NULL,
	`metric` int NOT NULL,
	`labels` longtext NOT NULL,
	`hash` char(64) NOT NULL,
	`first_seen` bigint NOT NULL,
	`last_seen` bigint NOT NULL,
	CONSTRAINT `metric_series_number` PRIMARY KEY(`number`),
	CONSTRAINT `metric_series_labels` UNIQUE(`metric`,`hash`)
);
--> statement-breakpoint
CREATE TABLE `metric` (
	`number` int AUTO_INCREMENT NOT NULL,
	`metric` varchar(64) NOT NULL,
	`points` varchar(300) NOT NULL,
	CONSTRAINT `metric_number` PRIMARY KEY(`number`),
	CONSTRAINT `metric_points` UNIQUE(`metric`,`points`)
);
--> statement-breakpoint
CREATE TABLE `metric_told` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `metric_told_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE INDEX `metric_chunk_fresh` ON `metric_chunk` (`fresh`,`start`);--> statement-breakpoint
CREATE INDEX `metric_series_seen` ON `metric_series` (`metric`,`last_seen`);