CREATE TABLE `payout_entries` (
	`id` text PRIMARY KEY NOT NULL,
	`payout_id` text NOT NULL,
	`provider_id` text NOT NULL,
	`kind` text NOT NULL,
	`word` text NOT NULL,
	`payment_id` text,
	`ref` text,
	`reference` text,
	`currency` text NOT NULL,
	`amount` integer NOT NULL,
	`fee` integer NOT NULL,
	`net` integer NOT NULL,
	`at` integer,
	FOREIGN KEY (`payout_id`) REFERENCES `payouts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payout_entries_kind" CHECK("payout_entries"."kind" in ('payment', 'refund', 'dispute', 'fee', 'other'))
);
--> statement-breakpoint
CREATE UNIQUE INDEX `payout_entries_one` ON `payout_entries` (`payout_id`,`provider_id`);--> statement-breakpoint
CREATE INDEX `payout_entries_payment` ON `payout_entries` (`payment_id`) WHERE payment_id is not null;--> statement-breakpoint
CREATE TABLE `payout_readings` (
	`id` text PRIMARY KEY NOT NULL,
	`asked_at` integer NOT NULL,
	`outcome` text
);
--> statement-breakpoint
CREATE TABLE `payouts` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`provider_id` text NOT NULL,
	`currency` text NOT NULL,
	`amount` integer NOT NULL,
	`state` text NOT NULL,
	`paid_at` integer NOT NULL,
	`arrives_at` integer,
	`read_from` text,
	`is_read` integer NOT NULL,
	`entries` integer DEFAULT 0 NOT NULL,
	`sum` integer DEFAULT 0 NOT NULL,
	`odd` integer NOT NULL,
	`told` text,
	`seen_at` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payouts_mode" CHECK("payouts"."mode" in ('test', 'live')),
	CONSTRAINT "payouts_state" CHECK("payouts"."state" in ('announced', 'paid', 'failed')),
	CONSTRAINT "payouts_flags" CHECK("payouts"."is_read" in (0, 1) and "payouts"."odd" in (0, 1)),
	CONSTRAINT "payouts_counts" CHECK("payouts"."entries" >= 0)
);
--> statement-breakpoint
CREATE UNIQUE INDEX `payouts_one` ON `payouts` (`connection_id`,`mode`,`provider_id`);--> statement-breakpoint
CREATE INDEX `payouts_list` ON `payouts` (`mode`,`paid_at`,`id`);--> statement-breakpoint
CREATE INDEX `payouts_odd` ON `payouts` (`connection_id`) WHERE odd = 1;--> statement-breakpoint
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
	CONSTRAINT "findings_kind" CHECK("__new_findings"."kind" in ('surplus', 'late', 'other-amount', 'unknown-status', 'contradiction', 'part-approved', 'too-much', 'dispute', 'refund-failed', 'question', 'stage-unknown', 'held-ends', 'refund-to-agree', 'key-refused', 'gate-slipped', 'declining', 'payout-failed', 'payout-off')),
	CONSTRAINT "findings_state" CHECK("__new_findings"."state" in ('open', 'snoozed', 'resolved'))
);
--> statement-breakpoint
INSERT INTO `__new_findings`("id", "storefront_id", "mode", "kind", "subject", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason") SELECT "id", "storefront_id", "mode", "kind", "payment_id", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason" FROM `findings`;--> statement-breakpoint
DROP TABLE `findings`;--> statement-breakpoint
ALTER TABLE `__new_findings` RENAME TO `findings`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `findings_one` ON `findings` (`subject`,`kind`,`storefront_id`,`detail`);--> statement-breakpoint
CREATE INDEX `findings_payment` ON `findings` (`payment_id`) WHERE payment_id is not null;--> statement-breakpoint
CREATE INDEX `findings_list` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`);--> statement-breakpoint
CREATE INDEX `findings_open` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`) WHERE state <> 'resolved';--> statement-breakpoint
ALTER TABLE `payments` ADD `paid_out` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `payments_not_paid_out` ON `payments` (`connection_id`,`mode`,`created_at`) WHERE captured - refunded - lost > paid_out and origin = 'shop';