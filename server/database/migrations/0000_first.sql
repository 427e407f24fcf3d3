CREATE TABLE `api_answers` (
	`api_key_id` text NOT NULL,
	`key` text NOT NULL,
	`request_hash` text NOT NULL,
	`status` integer NOT NULL,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`api_key_id`, `key`)
);
--> statement-breakpoint
CREATE TABLE `api_keys` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`key_hash` text NOT NULL,
	`hint` text NOT NULL,
	`created_at` integer NOT NULL,
	`used_at` integer,
	`revoked_at` integer,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `api_keys_keyHash_unique` ON `api_keys` (`key_hash`);--> statement-breakpoint
CREATE INDEX `api_keys_storefront` ON `api_keys` (`storefront_id`,`mode`);--> statement-breakpoint
CREATE TABLE `audit` (
	`number` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`person` text NOT NULL,
	`action` text NOT NULL,
	`subject` text NOT NULL,
	`detail` text NOT NULL,
	`previous` text NOT NULL,
	`hash` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `audit_hash_unique` ON `audit` (`hash`);--> statement-breakpoint
CREATE TABLE `checkouts` (
	`id` text PRIMARY KEY NOT NULL,
	`token` text NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`origin` text NOT NULL,
	`reference` text NOT NULL,
	`order` text NOT NULL,
	`state` text NOT NULL,
	`active_payment_id` text,
	`created_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`closed_at` integer
);
--> statement-breakpoint
CREATE UNIQUE INDEX `checkouts_token_unique` ON `checkouts` (`token`);--> statement-breakpoint
CREATE INDEX `checkouts_open` ON `checkouts` (`expires_at`) WHERE state = 'open';--> statement-breakpoint
CREATE INDEX `checkouts_reference` ON `checkouts` (`storefront_id`,`mode`,`reference`);--> statement-breakpoint
CREATE TABLE `connections` (
	`id` text PRIMARY KEY NOT NULL,
	`profile_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`name` text NOT NULL,
	`live` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`profile_id`) REFERENCES `profiles`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `cutovers` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`kind` text NOT NULL,
	`at` integer NOT NULL,
	`person` text NOT NULL,
	`gates` text NOT NULL,
	`changes` text NOT NULL,
	`snapshot` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `cutovers_connection` ON `cutovers` (`connection_id`,`at`);--> statement-breakpoint
CREATE TABLE `endpoints` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`path` text NOT NULL,
	`secret` text NOT NULL,
	`secret_hint` text NOT NULL,
	`created_at` integer NOT NULL,
	`retired_at` integer,
	`registration` text,
	`proven_at` integer,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `endpoints_path_unique` ON `endpoints` (`path`);--> statement-breakpoint
CREATE INDEX `endpoints_connection` ON `endpoints` (`connection_id`,`mode`);--> statement-breakpoint
CREATE TABLE `exchanges` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`duration` integer,
	`from` text NOT NULL,
	`to` text NOT NULL,
	`label` text NOT NULL,
	`mode` text NOT NULL,
	`connection_id` text,
	`checkout_id` text,
	`payment_id` text,
	`request` text,
	`response` text,
	`outcome` text,
	`ok` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `exchanges_payment` ON `exchanges` (`payment_id`);--> statement-breakpoint
CREATE INDEX `exchanges_checkout` ON `exchanges` (`checkout_id`);--> statement-breakpoint
CREATE TABLE `facts` (
	`number` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`payment_id` text NOT NULL,
	`key` text NOT NULL,
	`source` text NOT NULL,
	`at` integer NOT NULL,
	`recorded_at` integer NOT NULL,
	`statement` text NOT NULL,
	`person` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `facts_key` ON `facts` (`payment_id`,`key`);--> statement-breakpoint
CREATE TABLE `invitations` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`role` text NOT NULL,
	`created_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`used_at` integer
);
--> statement-breakpoint
CREATE TABLE `key_checks` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`key_set_id` text NOT NULL,
	`at` integer NOT NULL,
	`account` text,
	`findings` text NOT NULL,
	`wrong` text NOT NULL,
	`proven` text NOT NULL,
	`unanswered` text
);
--> statement-breakpoint
CREATE INDEX `key_checks_connection` ON `key_checks` (`connection_id`,`mode`,`at`);--> statement-breakpoint
CREATE TABLE `key_sets` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`number` integer NOT NULL,
	`values` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `key_sets_number` ON `key_sets` (`connection_id`,`mode`,`number`);--> statement-breakpoint
CREATE TABLE `news_addresses` (
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`address` text NOT NULL,
	`secret` text NOT NULL,
	`updated_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `mode`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `offer_revisions` (
	`id` text PRIMARY KEY NOT NULL,
	`offer_id` text NOT NULL,
	`number` integer NOT NULL,
	`document` text NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `offer_revisions_number` ON `offer_revisions` (`offer_id`,`number`);--> statement-breakpoint
CREATE TABLE `offers` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text NOT NULL,
	`method_id` text NOT NULL,
	`position` integer NOT NULL,
	`off` integer NOT NULL,
	`working_id` text NOT NULL,
	`live_id` text,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `offers_method` ON `offers` (`storefront_id`,`connection_id`,`method_id`);--> statement-breakpoint
CREATE TABLE `outbox` (
	`id` text PRIMARY KEY NOT NULL,
	`dedupe` text NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`payment_id` text,
	`checkout_id` text,
	`body` text NOT NULL,
	`created_at` integer NOT NULL,
	`tries` integer NOT NULL,
	`next_at` integer,
	`leased_until` integer,
	`delivered_at` integer,
	`last_outcome` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `outbox_dedupe_unique` ON `outbox` (`dedupe`);--> statement-breakpoint
CREATE INDEX `outbox_payment` ON `outbox` (`payment_id`);--> statement-breakpoint
CREATE INDEX `outbox_due` ON `outbox` (`next_at`) WHERE next_at is not null;--> statement-breakpoint
CREATE TABLE `payments` (
	`id` text PRIMARY KEY NOT NULL,
	`checkout_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text NOT NULL,
	`key_set_id` text NOT NULL,
	`offer_id` text NOT NULL,
	`revision_id` text NOT NULL,
	`method_id` text NOT NULL,
	`mode` text NOT NULL,
	`origin` text NOT NULL,
	`reference` text NOT NULL,
	`order_reference` text NOT NULL,
	`provider_ref` text,
	`instrument` text,
	`amount` integer NOT NULL,
	`currency` text NOT NULL,
	`capture` text NOT NULL,
	`state` text NOT NULL,
	`authorised` integer NOT NULL,
	`captured` integer NOT NULL,
	`refunded` integer NOT NULL,
	`stage` text,
	`attention` text,
	`version` integer NOT NULL,
	`parts` text NOT NULL,
	`archived_at` integer,
	`look_up_at` integer,
	`look_ups` integer DEFAULT 0 NOT NULL,
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `payments_reference_unique` ON `payments` (`reference`);--> statement-breakpoint
CREATE INDEX `payments_list` ON `payments` (`storefront_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_state` ON `payments` (`storefront_id`,`mode`,`state`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_order` ON `payments` (`storefront_id`,`mode`,`order_reference`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_provider_ref` ON `payments` (`provider_ref`);--> statement-breakpoint
CREATE INDEX `payments_checkout` ON `payments` (`checkout_id`);--> statement-breakpoint
CREATE INDEX `payments_attention` ON `payments` (`attention`) WHERE attention is not null;--> statement-breakpoint
CREATE INDEX `payments_look_up` ON `payments` (`look_up_at`) WHERE look_up_at is not null;--> statement-breakpoint
CREATE TABLE `people` (
	`id` text PRIMARY KEY NOT NULL,
	`email` text NOT NULL,
	`name` text NOT NULL,
	`role` text NOT NULL,
	`password_hash` text NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `people_email_unique` ON `people` (`email`);--> statement-breakpoint
CREATE TABLE `profiles` (
	`id` text PRIMARY KEY NOT NULL,
	`version` text NOT NULL,
	`document` text NOT NULL,
	`installed_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `proofs` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`offer_id` text NOT NULL,
	`case_id` text NOT NULL,
	`how` text NOT NULL,
	`rehearsal_id` text,
	`state` text NOT NULL,
	`started_at` integer NOT NULL,
	`ended_at` integer,
	`verdicts` text NOT NULL,
	`error` text,
	`payment_id` text,
	`parts` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `proofs_case` ON `proofs` (`offer_id`,`case_id`,`started_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `proofs_walked` ON `proofs` (`payment_id`,`how`);--> statement-breakpoint
CREATE TABLE `rehearsals` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`offer_id` text NOT NULL,
	`person` text NOT NULL,
	`started_at` integer NOT NULL,
	`ended_at` integer,
	`stop_at` integer,
	`leased_until` integer,
	`cases` text NOT NULL
);
--> statement-breakpoint
CREATE UNIQUE INDEX `rehearsals_one_at_a_time` ON `rehearsals` (`offer_id`) WHERE ended_at is null;--> statement-breakpoint
CREATE TABLE `rim_faults` (
	`reference` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`kind` text NOT NULL,
	`until` integer NOT NULL
);
--> statement-breakpoint
CREATE INDEX `rim_faults_connection` ON `rim_faults` (`connection_id`);--> statement-breakpoint
CREATE TABLE `sessions` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`person_id` text NOT NULL,
	`created_at` integer NOT NULL,
	`seen_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `sign_in_failures` (
	`key` text PRIMARY KEY NOT NULL,
	`count` integer NOT NULL,
	`last_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `storefronts` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`domain` text NOT NULL,
	`https` integer NOT NULL,
	`country` text NOT NULL,
	`languages` text NOT NULL,
	`currencies` text NOT NULL,
	`groups` text NOT NULL,
	`stages` text NOT NULL,
	`created_at` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `webhooks` (
	`number` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`endpoint_id` text NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`message_id` text,
	`received_at` integer NOT NULL,
	`headers` text NOT NULL,
	`body` text NOT NULL,
	`verdict` text NOT NULL,
	`outcome` text NOT NULL,
	`event` text,
	`payment_id` text,
	`applied_at` integer,
	`tries` integer DEFAULT 0 NOT NULL
);
--> statement-breakpoint
CREATE INDEX `webhooks_waiting` ON `webhooks` (`number`) WHERE outcome = 'waiting';--> statement-breakpoint
CREATE INDEX `webhooks_payment` ON `webhooks` (`payment_id`);--> statement-breakpoint
CREATE INDEX `webhooks_list` ON `webhooks` (`connection_id`,`mode`,`number`);--> statement-breakpoint
CREATE INDEX `webhooks_message` ON `webhooks` (`endpoint_id`,`message_id`);--> statement-breakpoint
CREATE INDEX `webhooks_refused` ON `webhooks` (`endpoint_id`,`number`) WHERE verdict <> 'verified';