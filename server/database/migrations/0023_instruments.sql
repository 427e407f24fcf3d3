CREATE TABLE `instruments` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`offer_id` text NOT NULL,
	`method_id` text NOT NULL,
	`payment_id` text NOT NULL,
	`shopper` text NOT NULL,
	`scope` text NOT NULL,
	`sealed` text,
	`digest` text NOT NULL,
	`name` text NOT NULL,
	`until` integer,
	`consent` text NOT NULL,
	`state` text NOT NULL,
	`chosen_at` integer,
	`used_at` integer,
	`forgotten_at` integer,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "instruments_mode" CHECK("instruments"."mode" in ('test', 'live')),
	CONSTRAINT "instruments_scope" CHECK("instruments"."scope" in ('storefront', 'shop')),
	CONSTRAINT "instruments_state" CHECK("instruments"."state" in ('kept', 'forgotten'))
);
--> statement-breakpoint
CREATE UNIQUE INDEX `instruments_one` ON `instruments` (`connection_id`,`mode`,`shopper`,`digest`);--> statement-breakpoint
CREATE INDEX `instruments_shopper` ON `instruments` (`shopper`,`mode`,`storefront_id`) WHERE state = 'kept';--> statement-breakpoint
ALTER TABLE `payments` ADD `keeping` text;--> statement-breakpoint
CREATE INDEX `payments_keeping` ON `payments` (`checkout_id`) WHERE keeping is not null;