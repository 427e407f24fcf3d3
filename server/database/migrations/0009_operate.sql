CREATE TABLE `payment_notes` (
	`id` text PRIMARY KEY NOT NULL,
	`payment_id` text NOT NULL,
	`person` text NOT NULL,
	`text` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payment_notes_text" CHECK("payment_notes"."text" <> '')
);
--> statement-breakpoint
CREATE INDEX `payment_notes_list` ON `payment_notes` (`payment_id`,`at`,`id`);--> statement-breakpoint
CREATE TABLE `refund_requests` (
	`id` text PRIMARY KEY NOT NULL,
	`payment_id` text NOT NULL,
	`amount` integer NOT NULL,
	`reason` text NOT NULL,
	`person` text NOT NULL,
	`at` integer NOT NULL,
	`state` text NOT NULL,
	`decided_by` text,
	`decided_at` integer,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "refund_requests_state" CHECK("refund_requests"."state" in ('open', 'agreed', 'declined')),
	CONSTRAINT "refund_requests_amount" CHECK("refund_requests"."amount" > 0),
	CONSTRAINT "refund_requests_other" CHECK("refund_requests"."state" <> 'agreed' or "refund_requests"."decided_by" <> "refund_requests"."person")
);
--> statement-breakpoint
CREATE UNIQUE INDEX `refund_requests_open` ON `refund_requests` (`payment_id`) WHERE state = 'open';--> statement-breakpoint
CREATE INDEX `refund_requests_list` ON `refund_requests` (`payment_id`,`at`,`id`);--> statement-breakpoint
CREATE TABLE `saved_views` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`name` text NOT NULL,
	`query` text NOT NULL,
	`person` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "saved_views_name_given" CHECK("saved_views"."name" <> '')
);
--> statement-breakpoint
CREATE UNIQUE INDEX `saved_views_name` ON `saved_views` (`storefront_id`,`name`);--> statement-breakpoint
PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_findings` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`kind` text NOT NULL,
	`payment_id` text NOT NULL,
	`order_reference` text NOT NULL,
	`detail` text NOT NULL,
	`values` text NOT NULL,
	`state` text NOT NULL,
	`opened_at` integer NOT NULL,
	`snoozed_until` integer,
	`resolved_at` integer,
	`person` text,
	`reason` text,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "findings_mode" CHECK("__new_findings"."mode" in ('test', 'live')),
	CONSTRAINT "findings_kind" CHECK("__new_findings"."kind" in ('surplus', 'late', 'other-amount', 'unknown-status', 'contradiction', 'part-approved', 'too-much', 'dispute', 'refund-failed', 'question', 'stage-unknown', 'held-ends', 'refund-to-agree')),
	CONSTRAINT "findings_state" CHECK("__new_findings"."state" in ('open', 'snoozed', 'resolved'))
);
--> statement-breakpoint
INSERT INTO `__new_findings`("id", "storefront_id", "mode", "kind", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason") SELECT "id", "storefront_id", "mode", "kind", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason" FROM `findings`;--> statement-breakpoint
DROP TABLE `findings`;--> statement-breakpoint
ALTER TABLE `__new_findings` RENAME TO `findings`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `findings_one` ON `findings` (`payment_id`,`kind`,`detail`);--> statement-breakpoint
CREATE INDEX `findings_list` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`);--> statement-breakpoint
CREATE INDEX `findings_open` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`) WHERE state <> 'resolved';--> statement-breakpoint
ALTER TABLE `storefronts` ADD `money` text DEFAULT '{"late":"accept","secondPersonFrom":{}}' NOT NULL;