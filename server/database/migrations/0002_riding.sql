PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_domain_files` (
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`storefront_id` text NOT NULL,
	`name` text NOT NULL,
	`body` text NOT NULL,
	`taken_at` integer NOT NULL,
	`looked_at` integer,
	`findings` text,
	`provider` text,
	PRIMARY KEY(`connection_id`, `mode`, `storefront_id`),
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
INSERT INTO `__new_domain_files`("connection_id", "mode", "storefront_id", "name", "body", "taken_at", "looked_at", "findings", "provider") SELECT f."connection_id", f."mode", c."storefront_id", f."name", f."body", f."taken_at", f."looked_at", f."findings", f."provider" FROM `domain_files` f JOIN `connections` c ON c."id" = f."connection_id";--> statement-breakpoint
DROP TABLE `domain_files`;--> statement-breakpoint
ALTER TABLE `__new_domain_files` RENAME TO `domain_files`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE TABLE `__new_volumes` (
	`storefront_id` text NOT NULL,
	`currency` text NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `currency`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
INSERT INTO `__new_volumes`("storefront_id", "currency", "document", "saved_at") SELECT "storefront_id", json_extract("document", '$.currency'), "document", "saved_at" FROM `volumes`;--> statement-breakpoint
DROP TABLE `volumes`;--> statement-breakpoint
ALTER TABLE `__new_volumes` RENAME TO `volumes`;--> statement-breakpoint
ALTER TABLE `storefronts` ADD `offers_version` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `checkouts` ADD `device_ask` text;--> statement-breakpoint
CREATE INDEX `checkouts_device` ON `checkouts` (`id`) WHERE device_ask is not null and state = 'open';