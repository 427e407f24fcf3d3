PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_findings` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`kind` text NOT NULL,
	`subject` text NOT NULL,
	`payment_id` text,
	`order_reference` text,
	`detail` text NOT NULL,
	`values` text NOT NULL,
	`state` text NOT NULL,
	`opened_at` integer NOT NULL,
	`snoozed_until` integer,
	`resolved_at` integer,
	`person` text,
	`reason` text,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "findings_mode" CHECK("__new_findings"."mode" in ('test', 'live')),
	CONSTRAINT "findings_kind" CHECK("__new_findings"."kind" in ('surplus', 'late', 'other-amount', 'unknown-status', 'contradiction', 'part-approved', 'too-much', 'dispute', 'refund-failed', 'question', 'stage-unknown', 'held-ends', 'refund-to-agree', 'key-refused', 'gate-slipped', 'declining', 'payout-failed', 'payout-off', 'fallen-silent', 'in-trouble', 'news-not-taken', 'not-applied', 'work-given-up', 'overdue')),
	CONSTRAINT "findings_state" CHECK("__new_findings"."state" in ('open', 'snoozed', 'resolved'))
);
--> statement-breakpoint
INSERT INTO `__new_findings`("id", "storefront_id", "mode", "kind", "subject", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason") SELECT "id", "storefront_id", "mode", "kind", "subject", "payment_id", "order_reference", "detail", "values", "state", "opened_at", "snoozed_until", "resolved_at", "person", "reason" FROM `findings`;--> statement-breakpoint
DROP TABLE `findings`;--> statement-breakpoint
ALTER TABLE `__new_findings` RENAME TO `findings`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `findings_one` ON `findings` (`subject`,`kind`,`storefront_id`,`detail`);--> statement-breakpoint
CREATE INDEX `findings_payment` ON `findings` (`payment_id`) WHERE payment_id is not null;--> statement-breakpoint
CREATE INDEX `findings_list` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`);--> statement-breakpoint
CREATE INDEX `findings_open` ON `findings` (`storefront_id`,`mode`,`opened_at`,`id`) WHERE state <> 'resolved';--> statement-breakpoint
CREATE TABLE `__new_offers` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`way` text DEFAULT 'provider' NOT NULL,
	`connection_id` text,
	`method_id` text NOT NULL,
	`position` integer NOT NULL,
	`off_in_test` integer NOT NULL,
	`off_in_live` integer NOT NULL,
	`working_id` text NOT NULL,
	`live_id` text,
	`created_at` integer NOT NULL,
	`removed_at` integer,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`working_id`) REFERENCES `offer_revisions`(`id`) ON UPDATE no action ON DELETE no action DEFERRABLE INITIALLY DEFERRED,
	FOREIGN KEY (`live_id`) REFERENCES `offer_revisions`(`id`) ON UPDATE no action ON DELETE no action DEFERRABLE INITIALLY DEFERRED,
	CONSTRAINT "offers_way" CHECK("__new_offers"."way" in ('provider', 'offline')),
	CONSTRAINT "offers_connection" CHECK(("__new_offers"."way" = 'offline') = ("__new_offers"."connection_id" is null)),
	CONSTRAINT "offers_off" CHECK("__new_offers"."off_in_test" in (0, 1) and "__new_offers"."off_in_live" in (0, 1))
);
--> statement-breakpoint
INSERT INTO `__new_offers`("id", "storefront_id", "way", "connection_id", "method_id", "position", "off_in_test", "off_in_live", "working_id", "live_id", "created_at", "removed_at") SELECT "id", "storefront_id", 'provider', "connection_id", "method_id", "position", "off_in_test", "off_in_live", "working_id", "live_id", "created_at", "removed_at" FROM `offers`;--> statement-breakpoint
DROP TABLE `offers`;--> statement-breakpoint
ALTER TABLE `__new_offers` RENAME TO `offers`;--> statement-breakpoint
CREATE UNIQUE INDEX `offers_method` ON `offers` (`storefront_id`,`connection_id`,`method_id`) WHERE removed_at is null;--> statement-breakpoint
CREATE INDEX `offers_connection` ON `offers` (`connection_id`);--> statement-breakpoint
CREATE TABLE `__new_payments` (
	`id` text PRIMARY KEY NOT NULL,
	`checkout_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text,
	`key_set_id` text,
	`profile_version_id` text,
	`offer_id` text NOT NULL,
	`revision_id` text NOT NULL,
	`method_id` text NOT NULL,
	`mode` text NOT NULL,
	`origin` text NOT NULL,
	`reference` text NOT NULL,
	`order_reference` text NOT NULL,
	`provider_ref` text,
	`due_at` integer,
	`instrument` text,
	`amount` integer NOT NULL,
	`currency` text NOT NULL,
	`capture` text NOT NULL,
	`state` text NOT NULL,
	`authorised` integer NOT NULL,
	`captured` integer NOT NULL,
	`refunded` integer NOT NULL,
	`released` integer DEFAULT 0 NOT NULL,
	`held` integer DEFAULT 0 NOT NULL,
	`held_until` integer,
	`refunding` integer DEFAULT 0 NOT NULL,
	`in_dispute` integer DEFAULT 0 NOT NULL,
	`lost` integer DEFAULT 0 NOT NULL,
	`dispute` text,
	`dispute_due` integer,
	`review` text,
	`fee` integer,
	`paid_out` integer DEFAULT 0 NOT NULL,
	`decline` text,
	`stage` text,
	`version` integer NOT NULL,
	`parts` text NOT NULL,
	`archived_at` integer,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	FOREIGN KEY (`checkout_id`) REFERENCES `checkouts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`key_set_id`) REFERENCES `key_sets`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`profile_version_id`) REFERENCES `profile_versions`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`revision_id`) REFERENCES `offer_revisions`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payments_road" CHECK(("__new_payments"."connection_id" is null) = ("__new_payments"."key_set_id" is null) and ("__new_payments"."connection_id" is null) = ("__new_payments"."profile_version_id" is null)),
	CONSTRAINT "payments_mode" CHECK("__new_payments"."mode" in ('test', 'live')),
	CONSTRAINT "payments_origin" CHECK("__new_payments"."origin" in ('shop', 'walk', 'rehearsal')),
	CONSTRAINT "payments_state_known" CHECK("__new_payments"."state" in ('created', 'pending', 'authorised', 'captured', 'partly-captured', 'voided', 'declined', 'failed', 'expired', 'cancelled', 'refunded', 'partly-refunded', 'disputed')),
	CONSTRAINT "payments_capture" CHECK("__new_payments"."capture" in ('at-once', 'later')),
	CONSTRAINT "payments_dispute" CHECK("__new_payments"."dispute" in ('open', 'answered', 'lost', 'won')),
	CONSTRAINT "payments_review" CHECK("__new_payments"."review" in ('open', 'passed', 'refused')),
	CONSTRAINT "payments_amounts" CHECK("__new_payments"."amount" >= 0 and "__new_payments"."authorised" >= 0 and "__new_payments"."captured" >= 0 and "__new_payments"."refunded" >= 0),
	CONSTRAINT "payments_rest" CHECK("__new_payments"."released" >= 0 and "__new_payments"."held" >= 0 and "__new_payments"."refunding" >= 0 and "__new_payments"."in_dispute" >= 0 and "__new_payments"."lost" >= 0)
);
--> statement-breakpoint
INSERT INTO `__new_payments`("id", "checkout_id", "storefront_id", "connection_id", "key_set_id", "profile_version_id", "offer_id", "revision_id", "method_id", "mode", "origin", "reference", "order_reference", "provider_ref", "due_at", "instrument", "amount", "currency", "capture", "state", "authorised", "captured", "refunded", "released", "held", "held_until", "refunding", "in_dispute", "lost", "dispute", "dispute_due", "review", "fee", "paid_out", "decline", "stage", "version", "parts", "archived_at", "created_at", "updated_at") SELECT "id", "checkout_id", "storefront_id", "connection_id", "key_set_id", "profile_version_id", "offer_id", "revision_id", "method_id", "mode", "origin", "reference", "order_reference", "provider_ref", NULL, "instrument", "amount", "currency", "capture", "state", "authorised", "captured", "refunded", "released", "held", "held_until", "refunding", "in_dispute", "lost", "dispute", "dispute_due", "review", "fee", "paid_out", "decline", "stage", "version", "parts", "archived_at", "created_at", "updated_at" FROM `payments`;--> statement-breakpoint
DROP TABLE `payments`;--> statement-breakpoint
ALTER TABLE `__new_payments` RENAME TO `payments`;--> statement-breakpoint
CREATE UNIQUE INDEX `payments_reference_unique` ON `payments` (`reference`);--> statement-breakpoint
CREATE INDEX `payments_list` ON `payments` (`storefront_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_state` ON `payments` (`storefront_id`,`mode`,`state`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_order` ON `payments` (`storefront_id`,`mode`,`order_reference`,`id`);--> statement-breakpoint
CREATE INDEX `payments_provider_ref` ON `payments` (`provider_ref`);--> statement-breakpoint
CREATE INDEX `payments_checkout` ON `payments` (`checkout_id`,`created_at`);--> statement-breakpoint
CREATE INDEX `payments_offer` ON `payments` (`offer_id`,`state`);--> statement-breakpoint
CREATE INDEX `payments_offer_list` ON `payments` (`offer_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_not_paid_out` ON `payments` (`connection_id`,`mode`,`created_at`) WHERE captured - refunded - lost > paid_out and origin = 'shop';--> statement-breakpoint
CREATE INDEX `payments_connection` ON `payments` (`connection_id`,`mode`,`created_at`);--> statement-breakpoint
CREATE INDEX `payments_connection_list` ON `payments` (`storefront_id`,`connection_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_amount` ON `payments` (`storefront_id`,`mode`,`amount`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_last_four` ON `payments` (`storefront_id`,substr(instrument, -4),`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_earning` ON `payments` (`storefront_id`,`connection_id`) WHERE mode = 'live' and state in ('authorised', 'captured', 'partly-captured', 'partly-refunded', 'refunded');--> statement-breakpoint
CREATE INDEX `payments_held` ON `payments` (`storefront_id`,`mode`,`held_until`,`id`) WHERE held > 0;--> statement-breakpoint
CREATE INDEX `payments_due` ON `payments` (`storefront_id`,`mode`,`due_at`,`id`) WHERE connection_id is null and state = 'pending';--> statement-breakpoint
ALTER TABLE `payouts` ADD `word` text;--> statement-breakpoint
CREATE TRIGGER `standing_offers_insert` AFTER insert ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_offers_update` AFTER update ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_offers_delete` AFTER delete ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;
