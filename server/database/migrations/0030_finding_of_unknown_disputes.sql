PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_findings` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`kind` text NOT NULL,
	`subject` text NOT NULL,
	`payment_id` text,
	`order_reference` text,
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
	CONSTRAINT "findings_kind" CHECK("__new_findings"."kind" in ('surplus', 'late', 'other-amount', 'unknown-status', 'contradiction', 'part-approved', 'too-much', 'dispute', 'refund-failed', 'question', 'stage-unknown', 'held-ends', 'held-back', 'refund-to-agree', 'key-refused', 'gate-slipped', 'declining', 'payout-failed', 'payout-off', 'dispute-unknown', 'fallen-silent', 'in-trouble', 'news-not-taken', 'not-applied', 'work-given-up', 'overdue', 'letters-not-taken', 'not-charged')),
	CONSTRAINT "findings_state" CHECK("__new_findings"."state" in ('open', 'snoozed', 'resolved'))
);
--> statement-breakpoint
INSERT INTO `__new_findings`("id", "storefront_id", "mode", "kind", "subject", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason") SELECT "id", "storefront_id", "mode", "kind", "subject", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason" FROM `findings`;--> statement-breakpoint
DROP TABLE `findings`;--> statement-breakpoint
ALTER TABLE `__new_findings` RENAME TO `findings`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `findings_one` ON `findings` (`subject`,`kind`,`storefront_id`,`detail`);--> statement-breakpoint
CREATE INDEX `findings_payment` ON `findings` (`payment_id`) WHERE payment_id is not null;--> statement-breakpoint
CREATE INDEX `findings_list` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`);--> statement-breakpoint
CREATE INDEX `findings_open` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`) WHERE state <> 'resolved';