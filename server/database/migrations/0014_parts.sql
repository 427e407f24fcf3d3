ALTER TABLE `orders` ADD `parts` text DEFAULT '{}' NOT NULL;--> statement-breakpoint
UPDATE orders SET parts = json_object(paying_payment_id, json_object(
  'amount', due, 'whole', json('true'), 'held', held, 'paid', paid, 'refunded', refunded
)) WHERE paying_payment_id IS NOT NULL;--> statement-breakpoint
ALTER TABLE `payment_operations` ADD `by_lines` text;--> statement-breakpoint
ALTER TABLE `storefronts` ADD `apps` text DEFAULT '[]' NOT NULL;
