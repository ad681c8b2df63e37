CREATE TABLE `price_book` (
	`number` int AUTO_INCREMENT NOT NULL,
	`book` longtext NOT NULL,
	`saved_at` bigint NOT NULL,
	CONSTRAINT `price_book_number` PRIMARY KEY(`number`)
);
