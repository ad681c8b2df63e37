CREATE TABLE `cap_day` (
	`tier` varchar(64) NOT NULL,
	`day` bigint NOT NULL,
	`events` double NOT NULL,
	`bytes` double NOT NULL,
	`over_events` double NOT NULL,
	`over_bytes` double NOT NULL,
	CONSTRAINT `cap_day_tier_day_pk` PRIMARY KEY(`tier`,`day`)
);
