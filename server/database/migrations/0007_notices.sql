CREATE TABLE `notices` (
	`storefront_id` text PRIMARY KEY NOT NULL,
	`email` text,
	`address` text,
	`secret` text,
	`told_until` integer DEFAULT 0 NOT NULL,
	`sent_at` integer,
	`outcome` text,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "notices_told" CHECK("notices"."told_until" >= 0)
);
