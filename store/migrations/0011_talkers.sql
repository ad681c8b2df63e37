CREATE TABLE `ranking` (
	`number` int AUTO_INCREMENT NOT NULL,
	`ranking` varchar(64) NOT NULL,
	`counts` varchar(700) NOT NULL,
	CONSTRAINT `ranking_number` PRIMARY KEY(`number`),
	CONSTRAINT `ranking_counts` UNIQUE(`ranking`,`counts`)
);
--> statement-breakpoint
CREATE TABLE `talkers` (
	`ranking` int NOT NULL,
	`level` tinyint NOT NULL,
	`start` bigint NOT NULL,
	`part` tinyint NOT NULL,
	`fresh` boolean NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `talkers_ranking_level_start_part_pk` PRIMARY KEY(`ranking`,`level`,`start`,`part`)
);
--> statement-breakpoint
CREATE TABLE `talkers_told` (
	`id` bigint AUTO_INCREMENT NOT NULL,
	`data` longblob NOT NULL,
	CONSTRAINT `talkers_told_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE INDEX `talkers_fresh` ON `talkers` (`fresh`,`start`);