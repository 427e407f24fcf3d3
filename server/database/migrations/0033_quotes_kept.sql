CREATE TABLE `quotes` (
	`key` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`quoted` text,
	`until` integer NOT NULL,
	`asked_until` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "quotes_times" CHECK("quotes"."until" >= 0 and "quotes"."asked_until" >= 0)
);
--> statement-breakpoint
CREATE INDEX `quotes_until` ON `quotes` (`until`);