CREATE INDEX `checkouts_email` ON `checkouts` (`storefront_id`,lower(json_extract("order", '$.email')),`created_at`);--> statement-breakpoint
CREATE INDEX `payments_offer_list` ON `payments` (`offer_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_connection_list` ON `payments` (`storefront_id`,`connection_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_amount` ON `payments` (`storefront_id`,`mode`,`amount`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_last_four` ON `payments` (`storefront_id`,substr(instrument, -4),`created_at`,`id`);
