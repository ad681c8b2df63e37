CREATE TABLE `plan_draft` (
	`id` int NOT NULL,
	`plan` longtext NOT NULL,
	`based_on` int NOT NULL,
	`changed_at` bigint NOT NULL,
	`rehearsal` json,
	CONSTRAINT `plan_draft_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `intake_key` (
	`source` varchar(64) NOT NULL,
	`delivery` varchar(200) NOT NULL,
	`accepted` int NOT NULL,
	`rejected` int NOT NULL,
	`at` bigint NOT NULL,
	CONSTRAINT `intake_key_source_delivery_pk` PRIMARY KEY(`source`,`delivery`)
);
--> statement-breakpoint
CREATE TABLE `volume_ledger` (
	`start` bigint NOT NULL,
	`source` varchar(64) NOT NULL,
	`outcome` varchar(16) NOT NULL,
	`tier` varchar(64) NOT NULL,
	`rule` varchar(130) NOT NULL,
	`parsed` boolean NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	`stored` double NOT NULL,
	CONSTRAINT `volume_ledger_start_source_outcome_tier_rule_parsed_pk` PRIMARY KEY(`start`,`source`,`outcome`,`tier`,`rule`,`parsed`)
);
--> statement-breakpoint
CREATE TABLE `plan_revision` (
	`number` int NOT NULL,
	`plan` longtext NOT NULL,
	`note` varchar(1000) NOT NULL,
	`published_at` bigint NOT NULL,
	`predicted` json,
	CONSTRAINT `plan_revision_number` PRIMARY KEY(`number`)
);
--> statement-breakpoint
CREATE TABLE `segment_part` (
	`segment` bigint NOT NULL,
	`name` varchar(300) NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `segment_part_segment_name_pk` PRIMARY KEY(`segment`,`name`)
);
--> statement-breakpoint
CREATE TABLE `segment` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`tier` varchar(64) NOT NULL,
	`source` varchar(64) NOT NULL,
	`slot` bigint NOT NULL,
	`time_from` bigint NOT NULL,
	`time_to` bigint NOT NULL,
	`events` int NOT NULL,
	`weight` double NOT NULL,
	`bytes_in` double NOT NULL,
	`bytes_stored` int NOT NULL,
	`revision` int NOT NULL,
	`replaced_at` bigint,
	CONSTRAINT `segment_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `source` (
	`name` varchar(64) NOT NULL,
	`kind` varchar(16) NOT NULL,
	`format` varchar(16) NOT NULL DEFAULT 'auto',
	`owner` varchar(64) NOT NULL DEFAULT '',
	`labels` json NOT NULL,
	`accepts` longtext NOT NULL,
	`created_at` bigint NOT NULL,
	CONSTRAINT `source_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `tape_chunk` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`source` varchar(64) NOT NULL,
	`time_from` bigint NOT NULL,
	`time_to` bigint NOT NULL,
	`lines` int NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `tape_chunk_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `token` (
	`hash` char(64) NOT NULL,
	`source` varchar(64) NOT NULL,
	`hint` char(4) NOT NULL,
	`backfill` boolean NOT NULL DEFAULT false,
	`created_at` bigint NOT NULL,
	`revoked_at` bigint,
	CONSTRAINT `token_hash` PRIMARY KEY(`hash`)
);
--> statement-breakpoint
CREATE INDEX `intake_key_at` ON `intake_key` (`at`);--> statement-breakpoint
CREATE INDEX `ledger_source` ON `volume_ledger` (`source`,`start`);--> statement-breakpoint
CREATE INDEX `segment_live` ON `segment` (`replaced_at`,`tier`,`time_to`);--> statement-breakpoint
CREATE INDEX `segment_slot` ON `segment` (`tier`,`source`,`slot`,`replaced_at`);--> statement-breakpoint
CREATE INDEX `tape_time` ON `tape_chunk` (`time_to`);--> statement-breakpoint
CREATE INDEX `tape_source` ON `tape_chunk` (`source`,`time_to`);--> statement-breakpoint
CREATE INDEX `token_source` ON `token` (`source`);