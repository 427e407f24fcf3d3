CREATE TABLE `baskets` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`name` text NOT NULL,
	`basket` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `baskets_name` ON `baskets` (`storefront_id`,`name`);