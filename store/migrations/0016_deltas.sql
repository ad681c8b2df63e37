RENAME TABLE IF EXISTS `told` TO `sender_delta`, `metric_told` TO `metric_delta`, `talkers_told` TO `talker_delta`;
--> statement-breakpoint
ALTER TABLE `sender_delta` RENAME INDEX IF EXISTS `told_saved` TO `sender_delta_saved`, RENAME INDEX IF EXISTS `told_engine` TO `sender_delta_engine`;
