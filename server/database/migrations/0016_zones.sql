CREATE TABLE `zones` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`countries` text NOT NULL,
	`regions` text NOT NULL,
	`postcodes` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `zones_name_unique` ON `zones` (`name`);--> statement-breakpoint
CREATE TRIGGER `standing_zones_insert` AFTER insert ON `zones` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_zones_update` AFTER update ON `zones` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_zones_delete` AFTER delete ON `zones` BEGIN UPDATE standing_version SET version = version + 1; END;
