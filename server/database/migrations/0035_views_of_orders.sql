PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_saved_views` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`list` text DEFAULT 'payments' NOT NULL,
	`name` text NOT NULL,
	`query` text NOT NULL,
	`person` text NOT NULL,
	`at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "saved_views_list" CHECK("__new_saved_views"."list" in ('payments', 'orders')),
	CONSTRAINT "saved_views_name_given" CHECK("__new_saved_views"."name" <> '')
);
--> statement-breakpoint
INSERT INTO `__new_saved_views`("id", "storefront_id", "list", "name", "query", "person", "at") SELECT "id", "storefront_id", 'payments', "name", "query", "person", "at" FROM `saved_views`;--> statement-breakpoint
DROP TABLE `saved_views`;--> statement-breakpoint
ALTER TABLE `__new_saved_views` RENAME TO `saved_views`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `saved_views_name` ON `saved_views` (`storefront_id`,`list`,`name`);