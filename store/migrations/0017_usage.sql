CREATE TABLE `question_use` (
	`day` int NOT NULL,
	`reading` varchar(16) NOT NULL,
	`hash` char(64) NOT NULL,
	`asked_condition` longtext NOT NULL,
	`times` int NOT NULL,
	`last_at` bigint NOT NULL,
	`oldest_age` bigint NOT NULL,
	CONSTRAINT `question_use_day_reading_hash_pk` PRIMARY KEY(`day`,`reading`,`hash`)
);
--> statement-breakpoint
CREATE TABLE `suggestion_decision` (
	`shape` char(10) NOT NULL,
	`until` bigint,
	`reason` varchar(500) NOT NULL,
	`at` bigint NOT NULL,
	CONSTRAINT `suggestion_decision_shape` PRIMARY KEY(`shape`)
);
--> statement-breakpoint
CREATE TABLE `thing_use` (
	`day` int NOT NULL,
	`kind` varchar(16) NOT NULL,
	`name` varchar(256) NOT NULL,
	`reading` varchar(16) NOT NULL,
	`times` int NOT NULL,
	`last_at` bigint NOT NULL,
	`oldest_age` bigint NOT NULL,
	CONSTRAINT `thing_use_kind_name_reading_day_pk` PRIMARY KEY(`kind`,`name`,`reading`,`day`)
);
--> statement-breakpoint
CREATE INDEX `thing_use_day` ON `thing_use` (`day`);