CREATE TABLE `slips` (
	`id` text PRIMARY KEY NOT NULL,
	`payment_id` text NOT NULL,
	`kind` text NOT NULL,
	`words` text,
	`bytes` blob,
	`state` text NOT NULL,
	`person` text,
	`judged_at` integer,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "slips_kind" CHECK("slips"."kind" in ('text', 'picture', 'pdf')),
	CONSTRAINT "slips_state" CHECK("slips"."state" in ('open', 'accepted', 'refused'))
);
--> statement-breakpoint
CREATE INDEX `slips_payment` ON `slips` (`payment_id`,`created_at`,`id`);