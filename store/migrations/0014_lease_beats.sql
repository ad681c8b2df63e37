ALTER TABLE `lease` ADD `beat` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `lease` DROP COLUMN `until`;
