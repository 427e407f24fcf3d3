CREATE TABLE `looks` (
	`storefront_id` text PRIMARY KEY NOT NULL,
	`working` text NOT NULL,
	`live` text,
	`updated_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `pictures` (
	`id` text PRIMARY KEY NOT NULL,
	`bytes` blob NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`created_at` integer NOT NULL,
	CONSTRAINT "pictures_size" CHECK("pictures"."width" >= 0 and "pictures"."height" >= 0)
);
--> statement-breakpoint
CREATE TABLE `receipts` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`payment_id` text NOT NULL,
	`kind` text NOT NULL,
	`refunded` integer NOT NULL,
	`email` text NOT NULL,
	`sent` integer DEFAULT 0 NOT NULL,
	`sent_at` integer,
	`person` text,
	`trouble` text,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "receipts_mode" CHECK("receipts"."mode" in ('test', 'live')),
	CONSTRAINT "receipts_kind" CHECK("receipts"."kind" in ('placed', 'reminder', 'paid', 'refunded')),
	CONSTRAINT "receipts_counts" CHECK("receipts"."refunded" >= 0 and "receipts"."sent" >= 0)
);
--> statement-breakpoint
CREATE INDEX `receipts_payment` ON `receipts` (`payment_id`,`created_at`);--> statement-breakpoint
ALTER TABLE `checkouts` ADD `agreed` text;--> statement-breakpoint
CREATE TRIGGER `standing_looks_insert` AFTER insert ON `looks` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_looks_update` AFTER update ON `looks` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_looks_delete` AFTER delete ON `looks` BEGIN UPDATE standing_version SET version = version + 1; END;
