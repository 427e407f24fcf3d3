CREATE TABLE `subscription_events` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`subscription_id` text NOT NULL,
	`at` integer NOT NULL,
	`by` text NOT NULL,
	`event` text NOT NULL,
	FOREIGN KEY (`subscription_id`) REFERENCES `subscriptions`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `subscription_events_of` ON `subscription_events` (`subscription_id`,`id`);--> statement-breakpoint
CREATE TABLE `subscription_periods` (
	`subscription_id` text NOT NULL,
	`number` integer NOT NULL,
	`first` text NOT NULL,
	`until` text NOT NULL,
	`due_at` integer NOT NULL,
	`amount` integer NOT NULL,
	`state` text NOT NULL,
	`checkout_id` text,
	`tries` integer DEFAULT 0 NOT NULL,
	`tried_at` integer,
	`asks` integer DEFAULT 0 NOT NULL,
	`refused_payment_id` text,
	`reason` text,
	`settled_at` integer,
	PRIMARY KEY(`subscription_id`, `number`),
	FOREIGN KEY (`subscription_id`) REFERENCES `subscriptions`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`checkout_id`) REFERENCES `checkouts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "subscription_periods_state" CHECK("subscription_periods"."state" in ('open', 'paid', 'skipped', 'unpaid')),
	CONSTRAINT "subscription_periods_counts" CHECK("subscription_periods"."number" >= 0 and "subscription_periods"."amount" >= 0 and "subscription_periods"."tries" >= 0 and "subscription_periods"."asks" >= 0)
);
--> statement-breakpoint
CREATE UNIQUE INDEX `subscription_periods_checkout` ON `subscription_periods` (`checkout_id`);--> statement-breakpoint
CREATE INDEX `subscription_periods_due` ON `subscription_periods` (`due_at`);--> statement-breakpoint
CREATE TABLE `subscriptions` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`origin` text NOT NULL,
	`reference` text NOT NULL,
	`shopper` text NOT NULL,
	`customer` text NOT NULL,
	`terms` text NOT NULL,
	`quantity` integer NOT NULL,
	`amount` integer NOT NULL,
	`currency` text NOT NULL,
	`state` text NOT NULL,
	`ending` text,
	`offer_id` text,
	`instrument_id` text,
	`told_ends` text,
	`mandate` text,
	`schedule` text,
	`next` integer NOT NULL,
	`next_due` integer,
	`charged` integer NOT NULL,
	`ends` integer NOT NULL,
	`version` integer NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	`ended_at` integer,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`instrument_id`) REFERENCES `instruments`(`id`) ON UPDATE no action ON DELETE set null,
	CONSTRAINT "subscriptions_mode" CHECK("subscriptions"."mode" in ('test', 'live')),
	CONSTRAINT "subscriptions_origin" CHECK("subscriptions"."origin" in ('shop', 'walk', 'rehearsal')),
	CONSTRAINT "subscriptions_states" CHECK("subscriptions"."state" in ('waiting', 'running', 'behind', 'paused', 'ended')),
	CONSTRAINT "subscriptions_ending" CHECK("subscriptions"."ending" in ('cancelled', 'complete', 'unpaid', 'never-begun')),
	CONSTRAINT "subscriptions_flags" CHECK("subscriptions"."ends" in (0, 1)),
	CONSTRAINT "subscriptions_counts" CHECK("subscriptions"."quantity" >= 0 and "subscriptions"."amount" >= 0 and "subscriptions"."next" >= 0 and "subscriptions"."charged" >= 0)
);
--> statement-breakpoint
CREATE UNIQUE INDEX `subscriptions_reference` ON `subscriptions` (`storefront_id`,`mode`,`origin`,`reference`);--> statement-breakpoint
CREATE INDEX `subscriptions_list` ON `subscriptions` (`storefront_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `subscriptions_state` ON `subscriptions` (`storefront_id`,`mode`,`state`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `subscriptions_due` ON `subscriptions` (`storefront_id`,`mode`,`next_due`) WHERE next_due is not null;--> statement-breakpoint
CREATE INDEX `subscriptions_shopper` ON `subscriptions` (`shopper`,`mode`,`storefront_id`);--> statement-breakpoint
CREATE INDEX `subscriptions_instrument` ON `subscriptions` (`instrument_id`) WHERE instrument_id is not null;--> statement-breakpoint
ALTER TABLE `instruments` ADD `network_reference` text;