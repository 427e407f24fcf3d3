CREATE TABLE `test_pages` (
	`storefront_id` text PRIMARY KEY NOT NULL,
	`basket` text NOT NULL,
	`cart` text NOT NULL,
	`answers_at` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
