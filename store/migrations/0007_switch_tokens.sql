CREATE TABLE `switch_token` (
	`id` int AUTO_INCREMENT NOT NULL,
	`hash` char(64) NOT NULL,
	`title` varchar(64) NOT NULL,
	`hint` char(4) NOT NULL,
	`created_at` bigint NOT NULL,
	CONSTRAINT `switch_token_id` PRIMARY KEY(`id`),
	CONSTRAINT `switch_token_hash_unique` UNIQUE(`hash`)
);
