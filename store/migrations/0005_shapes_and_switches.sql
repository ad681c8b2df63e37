CREATE TABLE `shape_new` (
	`number` bigint AUTO_INCREMENT NOT NULL,
	`id` char(10) NOT NULL,
	`skeleton` longtext NOT NULL,
	`sample` longtext NOT NULL,
	`source` varchar(64) NOT NULL,
	`at` bigint NOT NULL,
	CONSTRAINT `shape_new_number` PRIMARY KEY(`number`)
);
--> statement-breakpoint
CREATE TABLE `plan_switch` (
	`name` varchar(150) NOT NULL,
	`keep` varchar(40) NOT NULL,
	`since` bigint NOT NULL,
	`until` bigint NOT NULL,
	`reason` varchar(500) NOT NULL,
	`who` varchar(64) NOT NULL,
	CONSTRAINT `plan_switch_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `shape_volume` (
	`start` bigint NOT NULL,
	`span` tinyint NOT NULL DEFAULT 0,
	`shape` char(10) NOT NULL,
	`source` varchar(64) NOT NULL,
	`tier` varchar(64) NOT NULL,
	`outcome` varchar(16) NOT NULL,
	`severity` tinyint NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	CONSTRAINT `shape_volume_start_shape_source_tier_outcome_severity_pk` PRIMARY KEY(`start`,`shape`,`source`,`tier`,`outcome`,`severity`)
);
--> statement-breakpoint
CREATE TABLE `shape` (
	`id` char(10) NOT NULL,
	`skeleton` longtext NOT NULL,
	`sample` longtext NOT NULL,
	`source` varchar(64) NOT NULL,
	`merged_into` char(10) NOT NULL DEFAULT '',
	`first_seen` bigint NOT NULL,
	`version` bigint NOT NULL,
	`wanted` boolean NOT NULL DEFAULT false,
	CONSTRAINT `shape_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE INDEX `shape_volume_shape` ON `shape_volume` (`shape`,`start`);--> statement-breakpoint
CREATE INDEX `shape_volume_source` ON `shape_volume` (`source`,`start`);--> statement-breakpoint
CREATE INDEX `shape_volume_span` ON `shape_volume` (`span`,`start`);--> statement-breakpoint
CREATE INDEX `shape_version` ON `shape` (`version`);