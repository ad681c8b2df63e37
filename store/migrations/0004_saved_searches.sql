CREATE TABLE `saved_search` (
	`name` varchar(64) NOT NULL,
	`search_condition` longtext NOT NULL,
	`time_window` varchar(200) NOT NULL,
	`summary` longtext NOT NULL,
	`owner` varchar(64) NOT NULL,
	`note` varchar(1000) NOT NULL,
	`version` int NOT NULL,
	`changed_at` bigint NOT NULL,
	CONSTRAINT `saved_search_name` PRIMARY KEY(`name`)
);
