CREATE TABLE `day_change` (
	`day` int NOT NULL,
	`changes` bigint NOT NULL,
	`summed` bigint NOT NULL,
	CONSTRAINT `day_change_day` PRIMARY KEY(`day`)
);
--> statement-breakpoint
CREATE TABLE `shape_day` (
	`day` int NOT NULL,
	`shape` char(10) NOT NULL,
	`source` varchar(64) NOT NULL,
	`tier` varchar(64) NOT NULL,
	`outcome` varchar(16) NOT NULL,
	`severity` tinyint NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	CONSTRAINT `shape_day_day_shape_source_tier_outcome_severity_pk` PRIMARY KEY(`day`,`shape`,`source`,`tier`,`outcome`,`severity`)
);
--> statement-breakpoint
CREATE TABLE `volume_day` (
	`day` int NOT NULL,
	`source` varchar(64) NOT NULL,
	`tier` varchar(64) NOT NULL,
	`outcome` varchar(16) NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	`stored` double NOT NULL,
	CONSTRAINT `volume_day_day_source_tier_outcome_pk` PRIMARY KEY(`day`,`source`,`tier`,`outcome`)
);
--> statement-breakpoint
INSERT IGNORE INTO `day_change` (`day`, `changes`, `summed`) SELECT DISTINCT floor(`start` / 86400000), 1, 0 FROM `volume_ledger`;
