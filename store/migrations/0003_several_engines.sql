CREATE TABLE `audit` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`at` bigint NOT NULL,
	`who` varchar(64) NOT NULL,
	`command` varchar(64) NOT NULL,
	`subject` varchar(200) NOT NULL,
	`input` longtext NOT NULL,
	CONSTRAINT `audit_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `counter` (
	`name` varchar(32) NOT NULL,
	`value` bigint NOT NULL,
	CONSTRAINT `counter_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `learnt` (
	`kind` varchar(16) NOT NULL,
	`facts` longtext NOT NULL,
	CONSTRAINT `learnt_kind` PRIMARY KEY(`kind`)
);
--> statement-breakpoint
CREATE TABLE `lease` (
	`name` varchar(100) NOT NULL,
	`holder` varchar(48) NOT NULL,
	`token` bigint NOT NULL,
	`until` bigint NOT NULL,
	CONSTRAINT `lease_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `outgoing` (
	`follower` varchar(64) NOT NULL,
	`number` bigint NOT NULL,
	`source` varchar(64) NOT NULL,
	`events` int NOT NULL,
	`bytes` double NOT NULL,
	`bytes_stored` int NOT NULL,
	`at` bigint NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `outgoing_follower_number_pk` PRIMARY KEY(`follower`,`number`)
);
--> statement-breakpoint
CREATE TABLE `spool` (
	`follower` varchar(64) NOT NULL,
	`next` bigint NOT NULL,
	`batches` int NOT NULL,
	`events` double NOT NULL,
	`bytes_stored` double NOT NULL,
	`delivered_events` double NOT NULL,
	`dropped_events` double NOT NULL,
	`dropped_at` bigint NOT NULL,
	CONSTRAINT `spool_follower` PRIMARY KEY(`follower`)
);
--> statement-breakpoint
CREATE TABLE `told` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`kind` varchar(16) NOT NULL,
	`engine` varchar(48) NOT NULL,
	`at` bigint NOT NULL,
	`saved_at` bigint NOT NULL DEFAULT 0,
	`data` longblob NOT NULL,
	CONSTRAINT `told_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `plan_draft` ADD `version` bigint DEFAULT 1 NOT NULL;--> statement-breakpoint
CREATE INDEX `audit_at` ON `audit` (`at`);--> statement-breakpoint
CREATE INDEX `told_saved` ON `told` (`saved_at`,`id`);