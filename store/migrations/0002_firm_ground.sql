CREATE TABLE `plan_draft_discarded` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`plan` longtext NOT NULL,
	`based_on` int NOT NULL,
	`discarded_at` bigint NOT NULL,
	CONSTRAINT `plan_draft_discarded_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `installation` (
	`name` varchar(64) NOT NULL,
	`value` varchar(200) NOT NULL,
	CONSTRAINT `installation_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `quarantine` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`source` varchar(64) NOT NULL,
	`reason` varchar(500) NOT NULL,
	`records` int NOT NULL,
	`bytes` int NOT NULL,
	`at` bigint NOT NULL,
	`delivery` longtext NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `quarantine_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `rewind` (
	`source` varchar(64) NOT NULL,
	`read_from` bigint NOT NULL,
	`requested_at` bigint NOT NULL,
	`step` varchar(16) NOT NULL,
	`removed` double NOT NULL DEFAULT 0,
	CONSTRAINT `rewind_source` PRIMARY KEY(`source`)
);
--> statement-breakpoint
CREATE TABLE `tier_grace` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`tier` varchar(64) NOT NULL,
	`title` varchar(200) NOT NULL,
	`revision` int NOT NULL,
	`kept_for` bigint NOT NULL,
	`keeps_for` bigint NOT NULL,
	`stored_before` bigint NOT NULL,
	`until` bigint NOT NULL,
	CONSTRAINT `tier_grace_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
DROP INDEX `segment_live` ON `segment`;--> statement-breakpoint
CREATE TABLE `file_position_new` (
	`source` varchar(64) NOT NULL,
	`file` char(36) NOT NULL,
	`place` varchar(64) NOT NULL,
	`path` varchar(500) NOT NULL,
	`offset` bigint NOT NULL,
	`head_length` int NOT NULL,
	`head_hash` char(32) NOT NULL,
	`marks` longtext NOT NULL,
	`note` varchar(500) DEFAULT '' NOT NULL,
	`changed_at` bigint NOT NULL,
	CONSTRAINT `file_position_source_file_pk` PRIMARY KEY(`source`,`file`)
);--> statement-breakpoint
INSERT INTO `file_position_new` SELECT `source`, uuid(), left(substring_index(`identity`, ' ', 1), 64), `path`, `offset`, cast(substring_index(substring_index(`identity`, ' ', 2), ' ', -1) as unsigned), substring_index(`identity`, ' ', -1), '[]', '', `changed_at` FROM `file_position`;--> statement-breakpoint
DROP TABLE `file_position`;--> statement-breakpoint
RENAME TABLE `file_position_new` TO `file_position`;--> statement-breakpoint
CREATE TABLE `segment_part_new` (
	`segment` bigint NOT NULL,
	`number` bigint unsigned NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `segment_part_segment_number_pk` PRIMARY KEY(`segment`,`number`)
);--> statement-breakpoint
INSERT INTO `segment_part_new` SELECT `segment`, row_number() OVER (PARTITION BY `segment` ORDER BY `name`), `data` FROM `segment_part`;--> statement-breakpoint
INSERT INTO `segment_part_new` SELECT `segment`, 0, json_objectagg(`name`, `number`) FROM (SELECT `segment`, `name`, row_number() OVER (PARTITION BY `segment` ORDER BY `name`) AS `number` FROM `segment_part`) AS `numbered` GROUP BY `segment`;--> statement-breakpoint
DROP TABLE `segment_part`;--> statement-breakpoint
RENAME TABLE `segment_part_new` TO `segment_part`;--> statement-breakpoint
UPDATE `intake_key` SET `delivery` = sha2(`delivery`, 256);--> statement-breakpoint
ALTER TABLE `intake_key` MODIFY COLUMN `delivery` char(64) NOT NULL;--> statement-breakpoint
ALTER TABLE `picked_object` ADD `name` varchar(500) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `picked_object` ADD `attempts` int DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `picked_object` ADD `retry_at` bigint;--> statement-breakpoint
UPDATE `picked_object` SET `name` = `identity`, `identity` = sha2(`identity`, 256);--> statement-breakpoint
ALTER TABLE `picked_object` MODIFY COLUMN `identity` char(64) NOT NULL;--> statement-breakpoint
ALTER TABLE `volume_ledger` ADD `span` tinyint DEFAULT 0 NOT NULL;--> statement-breakpoint
UPDATE `volume_ledger` SET `span` = 1 WHERE `start` % 3600000 = 0 AND `start` < (unix_timestamp() - 93600) * 1000;--> statement-breakpoint
INSERT INTO `rewind` SELECT `name`, coalesce(json_value(`settings`, '$.notBefore'), 0), coalesce(json_value(`settings`, '$.rewoundAt'), 0), 'done', 0 FROM `source` WHERE json_value(`settings`, '$.rewoundAt') IS NOT NULL;--> statement-breakpoint
ALTER TABLE `token` ADD `id` int AUTO_INCREMENT NOT NULL, ADD CONSTRAINT `token_id_unique` UNIQUE(`id`);--> statement-breakpoint
CREATE INDEX `plan_draft_discarded_at` ON `plan_draft_discarded` (`discarded_at`);--> statement-breakpoint
CREATE INDEX `quarantine_source` ON `quarantine` (`source`,`at`);--> statement-breakpoint
CREATE INDEX `quarantine_at` ON `quarantine` (`at`);--> statement-breakpoint
CREATE INDEX `tier_grace_tier` ON `tier_grace` (`tier`);--> statement-breakpoint
CREATE INDEX `drift_noticed` ON `drift` (`noticed_at`);--> statement-breakpoint
CREATE INDEX `file_position_changed` ON `file_position` (`changed_at`);--> statement-breakpoint
CREATE INDEX `ledger_span` ON `volume_ledger` (`span`,`start`);--> statement-breakpoint
CREATE INDEX `picked_object_at` ON `picked_object` (`source`,`at`);--> statement-breakpoint
CREATE INDEX `segment_time` ON `segment` (`replaced_at`,`time_to`);--> statement-breakpoint
CREATE INDEX `segment_tier` ON `segment` (`tier`,`time_to`);
