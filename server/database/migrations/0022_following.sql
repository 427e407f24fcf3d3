ALTER TABLE `offers` ADD `follows_id` text REFERENCES offers(id);--> statement-breakpoint
CREATE INDEX `offers_follows` ON `offers` (`follows_id`);