CREATE TABLE `suggestion_taken` (
	`shape` char(10) NOT NULL,
	`at` bigint NOT NULL,
	`tiers` longtext NOT NULL,
	`coins` double NOT NULL,
	`sign` varchar(16) NOT NULL,
	CONSTRAINT `suggestion_taken_shape` PRIMARY KEY(`shape`)
);
