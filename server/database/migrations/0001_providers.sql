CREATE TABLE `connection_storefronts` (
	`connection_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`since` integer NOT NULL,
	PRIMARY KEY(`connection_id`, `storefront_id`),
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `connection_storefronts_storefront` ON `connection_storefronts` (`storefront_id`);--> statement-breakpoint
CREATE TABLE `domain_files` (
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`name` text NOT NULL,
	`body` text NOT NULL,
	`taken_at` integer NOT NULL,
	`looked_at` integer,
	`findings` text,
	`provider` text,
	PRIMARY KEY(`connection_id`, `mode`),
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `links` (
	`id` text PRIMARY KEY NOT NULL,
	`state` text NOT NULL,
	`connection_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`person` text NOT NULL,
	`verifier` text,
	`started_at` integer NOT NULL,
	`ended_at` integer,
	`outcome` text,
	`says` text,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `links_state_unique` ON `links` (`state`);--> statement-breakpoint
CREATE INDEX `links_connection` ON `links` (`connection_id`,`mode`,`started_at`);--> statement-breakpoint
CREATE TABLE `agreed_fees` (
	`storefront_id` text NOT NULL,
	`subject` text NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `subject`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `shortlist` (
	`storefront_id` text NOT NULL,
	`profile_id` text NOT NULL,
	`added_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `profile_id`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `volumes` (
	`storefront_id` text PRIMARY KEY NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
ALTER TABLE `connections` ADD `disconnected_at` integer;--> statement-breakpoint
ALTER TABLE `endpoints` ADD `registrations` text;--> statement-breakpoint
ALTER TABLE `endpoints` ADD `heard_at` integer;--> statement-breakpoint
ALTER TABLE `exchanges` ADD `operation` text;--> statement-breakpoint
CREATE INDEX `exchanges_connection` ON `exchanges` (`connection_id`,`at`,`id`);--> statement-breakpoint
ALTER TABLE `key_checks` ADD `rights` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE `key_checks` ADD `review` text;--> statement-breakpoint
ALTER TABLE `key_sets` ADD `retired_at` integer;--> statement-breakpoint
ALTER TABLE `profiles` ADD `source` text DEFAULT 'shipped' NOT NULL;--> statement-breakpoint
CREATE INDEX `payments_connection` ON `payments` (`connection_id`,`mode`,`created_at`);--> statement-breakpoint
INSERT INTO `connection_storefronts` (`connection_id`, `storefront_id`, `since`) SELECT `id`, `storefront_id`, `created_at` FROM `connections`;--> statement-breakpoint
UPDATE `endpoints` SET `heard_at` = `proven_at`;
