CREATE TABLE `drift` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`source` varchar(64) NOT NULL,
	`kind` varchar(24) NOT NULL,
	`subject` varchar(200) NOT NULL,
	`text` varchar(500) NOT NULL,
	`shows` varchar(500) NOT NULL,
	`since` bigint NOT NULL,
	`noticed_at` bigint NOT NULL,
	CONSTRAINT `drift_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `emitter_volume` (
	`start` bigint NOT NULL,
	`source` varchar(64) NOT NULL,
	`name` varchar(190) NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	CONSTRAINT `emitter_volume_start_source_name_pk` PRIMARY KEY(`start`,`source`,`name`)
);
--> statement-breakpoint
CREATE TABLE `emitter` (
	`source` varchar(64) NOT NULL,
	`name` varchar(190) NOT NULL,
	`first_seen` bigint NOT NULL,
	`last_seen` bigint NOT NULL,
	`facts` longtext NOT NULL,
	`retired` boolean NOT NULL DEFAULT false,
	`expected_back` bigint,
	CONSTRAINT `emitter_source_name_pk` PRIMARY KEY(`source`,`name`)
);
--> statement-breakpoint
CREATE TABLE `file_position` (
	`source` varchar(64) NOT NULL,
	`identity` varchar(120) NOT NULL,
	`path` varchar(500) NOT NULL,
	`offset` bigint NOT NULL,
	`changed_at` bigint NOT NULL,
	CONSTRAINT `file_position_source_identity_pk` PRIMARY KEY(`source`,`identity`)
);
--> statement-breakpoint
CREATE TABLE `fleet` (
	`name` varchar(64) NOT NULL,
	`labels_condition` longtext NOT NULL,
	CONSTRAINT `fleet_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `lookup_table` (
	`name` varchar(64) NOT NULL,
	`csv` longtext NOT NULL,
	`changed_at` bigint NOT NULL,
	CONSTRAINT `lookup_table_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `maintenance` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`title` varchar(200) NOT NULL,
	`scope` longtext NOT NULL,
	`time_from` bigint NOT NULL,
	`time_to` bigint,
	`schedule` varchar(100) NOT NULL DEFAULT '',
	`length` bigint NOT NULL DEFAULT 0,
	CONSTRAINT `maintenance_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `picked_object` (
	`source` varchar(64) NOT NULL,
	`identity` varchar(400) NOT NULL,
	`records` int NOT NULL,
	`done` boolean NOT NULL,
	`problem` varchar(500) NOT NULL DEFAULT '',
	`at` bigint NOT NULL,
	CONSTRAINT `picked_object_source_identity_pk` PRIMARY KEY(`source`,`identity`)
);
--> statement-breakpoint
ALTER TABLE `source` ADD `settings` longtext DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `token` ADD `expires_at` bigint;--> statement-breakpoint
CREATE INDEX `drift_source` ON `drift` (`source`,`noticed_at`);--> statement-breakpoint
CREATE INDEX `emitter_volume_source` ON `emitter_volume` (`source`,`start`);--> statement-breakpoint
CREATE INDEX `emitter_first` ON `emitter` (`first_seen`);