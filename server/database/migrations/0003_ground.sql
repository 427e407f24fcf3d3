PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `guards` (
	`holds` integer NOT NULL,
	CONSTRAINT "guard_holds" CHECK("holds" = 1)
);--> statement-breakpoint
CREATE TABLE `keyring` (
	`id` integer PRIMARY KEY NOT NULL,
	`sealed` text NOT NULL,
	CONSTRAINT "keyring_one" CHECK("id" = 1)
);--> statement-breakpoint
CREATE TABLE `standing_version` (
	`id` integer PRIMARY KEY NOT NULL,
	`version` integer NOT NULL,
	`proven` integer NOT NULL,
	CONSTRAINT "standing_version_one" CHECK("id" = 1)
);--> statement-breakpoint
CREATE TABLE `write_marks` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	CONSTRAINT "write_marks_at" CHECK("at" > 0)
);--> statement-breakpoint
CREATE TABLE `profile_versions` (
	`id` text PRIMARY KEY NOT NULL,
	`profile_id` text NOT NULL,
	`number` integer NOT NULL,
	`version` text NOT NULL,
	`source` text NOT NULL,
	`document` text NOT NULL,
	`installed_at` integer NOT NULL,
	FOREIGN KEY (`profile_id`) REFERENCES `profiles`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "profile_versions_source" CHECK("source" in ('shipped', 'file'))
);--> statement-breakpoint
CREATE UNIQUE INDEX `profile_versions_number` ON `profile_versions` (`profile_id`,`number`);--> statement-breakpoint
CREATE INDEX `profile_versions_current` ON `profile_versions` (`profile_id`,`source`,`number`);--> statement-breakpoint
CREATE TABLE `payment_acts` (
	`payment_id` text NOT NULL,
	`once` text NOT NULL,
	`kind` text NOT NULL,
	`amount` integer NOT NULL,
	`person` text NOT NULL,
	`at` integer NOT NULL,
	`done` integer DEFAULT false NOT NULL,
	PRIMARY KEY(`payment_id`, `once`),
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payment_acts_kind" CHECK("kind" in ('capture', 'void', 'refund')),
	CONSTRAINT "payment_acts_amount" CHECK("amount" >= 0),
	CONSTRAINT "payment_acts_flags" CHECK("done" in (0, 1))
);--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`key` text NOT NULL,
	`lane` text NOT NULL,
	`run_at` integer,
	`lease` text,
	`tries` integer DEFAULT 0 NOT NULL,
	`asked` integer DEFAULT 0 NOT NULL,
	`progress` text,
	`error` text,
	`created_at` integer NOT NULL,
	`tried_at` integer,
	CONSTRAINT "jobs_counts" CHECK("tries" >= 0 and "asked" >= 0)
);--> statement-breakpoint
CREATE UNIQUE INDEX `jobs_key` ON `jobs` (`kind`,`key`);--> statement-breakpoint
CREATE INDEX `jobs_due` ON `jobs` (`run_at`,`kind`,`lane`) WHERE run_at is not null;--> statement-breakpoint
CREATE INDEX `jobs_lease` ON `jobs` (`lease`) WHERE lease is not null;--> statement-breakpoint
CREATE INDEX `jobs_failing` ON `jobs` (`created_at`,`id`) WHERE tries > 0;--> statement-breakpoint
INSERT INTO standing_version (id, version, proven) VALUES (1, 1, 1);--> statement-breakpoint
INSERT INTO profile_versions (id, profile_id, number, version, source, document, installed_at) SELECT 'prv_' || id, id, 1, version, source, document, installed_at FROM profiles;--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'look-up', id, connection_id, look_up_at, look_up_at FROM payments WHERE look_up_at is not null;--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'expire-checkout', id, storefront_id, expires_at, expires_at FROM checkouts WHERE state = 'open';--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'take-token', id, json_extract(device_ask, '$.connectionId'), created_at, created_at FROM checkouts WHERE state = 'open' and device_ask is not null and active_payment_id is null and json_extract(device_ask, '$.over') is null and origin <> 'rehearsal';--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'undo-surplus', id, connection_id, updated_at, updated_at FROM payments WHERE attention = 'surplus';--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'deliver-news', id, storefront_id || ':' || mode, next_at, next_at FROM outbox WHERE next_at is not null;--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'rehearse', id, id, started_at, started_at FROM rehearsals WHERE ended_at is null;--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at) SELECT 'job_' || lower(hex(randomblob(12))), 'apply-webhooks', endpoint_id, connection_id, min(received_at), min(received_at) FROM webhooks WHERE outcome = 'waiting' GROUP BY endpoint_id;--> statement-breakpoint
CREATE TABLE `__new_invitations` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`role` text NOT NULL,
	`first` integer DEFAULT false NOT NULL,
	`created_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`used_at` integer,
	CONSTRAINT "invitations_role" CHECK("role" in ('owner', 'operator', 'viewer')),
	CONSTRAINT "invitations_flags" CHECK("first" in (0, 1))
);--> statement-breakpoint
INSERT INTO `__new_invitations` ("token_hash", "role", "first", "created_at", "expires_at", "used_at") SELECT t."token_hash", t."role", 0, t."created_at", t."expires_at", t."used_at" FROM `invitations` t;--> statement-breakpoint
CREATE TABLE `__new_people` (
	`id` text PRIMARY KEY NOT NULL,
	`email` text NOT NULL,
	`name` text NOT NULL,
	`role` text NOT NULL,
	`password_hash` text NOT NULL,
	`created_at` integer NOT NULL,
	CONSTRAINT "people_role" CHECK("role" in ('owner', 'operator', 'viewer'))
);--> statement-breakpoint
INSERT INTO `__new_people` ("id", "email", "name", "role", "password_hash", "created_at") SELECT t."id", t."email", t."name", t."role", t."password_hash", t."created_at" FROM `people` t;--> statement-breakpoint
CREATE TABLE `__new_sessions` (
	`token_hash` text PRIMARY KEY NOT NULL,
	`person_id` text NOT NULL,
	`created_at` integer NOT NULL,
	`seen_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "sessions_times" CHECK("expires_at" >= "created_at")
);--> statement-breakpoint
INSERT INTO `__new_sessions` ("token_hash", "person_id", "created_at", "seen_at", "expires_at") SELECT t."token_hash", t."person_id", t."created_at", t."seen_at", t."expires_at" FROM `sessions` t;--> statement-breakpoint
CREATE TABLE `__new_sign_in_failures` (
	`key` text PRIMARY KEY NOT NULL,
	`count` integer NOT NULL,
	`last_at` integer NOT NULL,
	CONSTRAINT "sign_in_failures_counts" CHECK("count" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_sign_in_failures` ("key", "count", "last_at") SELECT t."key", t."count", t."last_at" FROM `sign_in_failures` t;--> statement-breakpoint
CREATE TABLE `__new_audit` (
	`number` integer PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`person` text NOT NULL,
	`action` text NOT NULL,
	`subject` text NOT NULL,
	`detail` text NOT NULL,
	`previous` text NOT NULL,
	`hash` text NOT NULL,
	CONSTRAINT "audit_hashes" CHECK(length("previous") = 64 and length("hash") = 64)
);--> statement-breakpoint
INSERT INTO `__new_audit` ("number", "at", "person", "action", "subject", "detail", "previous", "hash") SELECT t."number", t."at", t."person", t."action", t."subject", t."detail", t."previous", t."hash" FROM `audit` t;--> statement-breakpoint
CREATE TABLE `__new_api_answers` (
	`api_key_id` text NOT NULL,
	`key` text NOT NULL,
	`request_hash` text NOT NULL,
	`status` integer NOT NULL,
	`body` text NOT NULL,
	`at` integer NOT NULL,
	PRIMARY KEY(`api_key_id`, `key`),
	FOREIGN KEY (`api_key_id`) REFERENCES `api_keys`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "api_answers_status" CHECK("status" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_api_answers` ("api_key_id", "key", "request_hash", "status", "body", "at") SELECT t."api_key_id", t."key", t."request_hash", t."status", t."body", t."at" FROM `api_answers` t WHERE t.status <> 0;--> statement-breakpoint
CREATE TABLE `__new_api_keys` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`key_hash` text NOT NULL,
	`hint` text NOT NULL,
	`created_at` integer NOT NULL,
	`used_at` integer,
	`revoked_at` integer,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "api_keys_mode" CHECK("mode" in ('test', 'live'))
);--> statement-breakpoint
INSERT INTO `__new_api_keys` ("id", "storefront_id", "mode", "key_hash", "hint", "created_at", "used_at", "revoked_at") SELECT t."id", t."storefront_id", t."mode", t."key_hash", t."hint", t."created_at", t."used_at", t."revoked_at" FROM `api_keys` t;--> statement-breakpoint
CREATE TABLE `__new_news_addresses` (
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`address` text NOT NULL,
	`secret` text NOT NULL,
	`updated_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `mode`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "news_addresses_mode" CHECK("mode" in ('test', 'live'))
);--> statement-breakpoint
INSERT INTO `__new_news_addresses` ("storefront_id", "mode", "address", "secret", "updated_at") SELECT t."storefront_id", t."mode", t."address", t."secret", t."updated_at" FROM `news_addresses` t;--> statement-breakpoint
CREATE TABLE `__new_storefronts` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`domain` text NOT NULL,
	`https` integer NOT NULL,
	`country` text NOT NULL,
	`languages` text NOT NULL,
	`currencies` text NOT NULL,
	`groups` text NOT NULL,
	`stages` text NOT NULL,
	`offers_version` integer DEFAULT 0 NOT NULL,
	`created_at` integer NOT NULL,
	CONSTRAINT "storefronts_flags" CHECK("https" in (0, 1)),
	CONSTRAINT "storefronts_counts" CHECK("offers_version" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_storefronts` ("id", "name", "domain", "https", "country", "languages", "currencies", "groups", "stages", "offers_version", "created_at") SELECT t."id", t."name", t."domain", t."https", t."country", t."languages", t."currencies", t."groups", t."stages", t."offers_version", t."created_at" FROM `storefronts` t;--> statement-breakpoint
CREATE TABLE `__new_profiles` (
	`id` text PRIMARY KEY NOT NULL,
	`created_at` integer NOT NULL,
	CONSTRAINT "profiles_at" CHECK("created_at" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_profiles` ("id", "created_at") SELECT t."id", t.installed_at FROM `profiles` t;--> statement-breakpoint
CREATE TABLE `__new_connection_storefronts` (
	`connection_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`since` integer NOT NULL,
	`live` text DEFAULT 'never' NOT NULL,
	`version_id` text,
	`moved_at` integer,
	PRIMARY KEY(`connection_id`, `storefront_id`),
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`version_id`) REFERENCES `profile_versions`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "connection_storefronts_live" CHECK("live" in ('never', 'live', 'fallen-back'))
);--> statement-breakpoint
INSERT INTO `__new_connection_storefronts` ("connection_id", "storefront_id", "since", "live", "version_id", "moved_at") SELECT t."connection_id", t."storefront_id", t."since", coalesce((select c.live from connections c where c.id = t.connection_id and exists (select 1 from cutovers m where m.connection_id = t.connection_id and m.storefront_id = t.storefront_id and m.kind = 'cut-over')), 'never'), (select 'prv_' || c.profile_id from connections c where c.id = t.connection_id and c.live <> 'never' and exists (select 1 from cutovers m where m.connection_id = t.connection_id and m.storefront_id = t.storefront_id and m.kind = 'cut-over')), (select max(m.at) from cutovers m where m.connection_id = t.connection_id and m.storefront_id = t.storefront_id) FROM `connection_storefronts` t;--> statement-breakpoint
CREATE TABLE `__new_connections` (
	`id` text PRIMARY KEY NOT NULL,
	`profile_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`name` text NOT NULL,
	`test_version_id` text NOT NULL,
	`live_version_id` text,
	`live_account` text,
	`created_at` integer NOT NULL,
	`disconnected_at` integer,
	FOREIGN KEY (`profile_id`) REFERENCES `profiles`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`test_version_id`) REFERENCES `profile_versions`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`live_version_id`) REFERENCES `profile_versions`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "connections_name" CHECK(length("name") > 0)
);--> statement-breakpoint
INSERT INTO `__new_connections` ("id", "profile_id", "storefront_id", "name", "test_version_id", "live_version_id", "live_account", "created_at", "disconnected_at") SELECT t."id", t."profile_id", t."storefront_id", t."name", 'prv_' || t.profile_id, case when t.live = 'never' then null else 'prv_' || t.profile_id end, case when t.live = 'live' then (select json_extract(c.account, '$.account') from key_checks c join key_sets k on k.id = c.key_set_id where c.connection_id = t.id and c.mode = 'live' and c.unanswered is null and json_type(c.account) = 'object' order by k.number desc, c.at desc limit 1) end, t."created_at", t."disconnected_at" FROM `connections` t;--> statement-breakpoint
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
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "domain_files_mode" CHECK("mode" in ('test', 'live'))
);--> statement-breakpoint
INSERT INTO `__new_domain_files` ("connection_id", "mode", "storefront_id", "name", "body", "taken_at", "looked_at", "findings", "provider") SELECT t."connection_id", t."mode", t."storefront_id", t."name", t."body", t."taken_at", t."looked_at", t."findings", t."provider" FROM `domain_files` t;--> statement-breakpoint
CREATE TABLE `__new_endpoints` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`path` text NOT NULL,
	`secret` text NOT NULL,
	`secret_hint` text NOT NULL,
	`created_at` integer NOT NULL,
	`retired_at` integer,
	`registration` text,
	`registrations` text,
	`proven_at` integer,
	`heard_at` integer,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "endpoints_mode" CHECK("mode" in ('test', 'live'))
);--> statement-breakpoint
INSERT INTO `__new_endpoints` ("id", "connection_id", "mode", "path", "secret", "secret_hint", "created_at", "retired_at", "registration", "registrations", "proven_at", "heard_at") SELECT t."id", t."connection_id", t."mode", t."path", t."secret", t."secret_hint", t."created_at", t."retired_at", t."registration", t."registrations", t."proven_at", t."heard_at" FROM `endpoints` t;--> statement-breakpoint
CREATE TABLE `__new_key_checks` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`key_set_id` text NOT NULL,
	`at` integer NOT NULL,
	`account` text,
	`findings` text NOT NULL,
	`wrong` text NOT NULL,
	`proven` text NOT NULL,
	`rights` text DEFAULT '{}' NOT NULL,
	`review` text,
	`unanswered` text,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`key_set_id`) REFERENCES `key_sets`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "key_checks_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "key_checks_review" CHECK("review" in ('applied', 'in-review', 'approved', 'declined', 'restricted'))
);--> statement-breakpoint
INSERT INTO `__new_key_checks` ("id", "connection_id", "mode", "key_set_id", "at", "account", "findings", "wrong", "proven", "rights", "review", "unanswered") SELECT t."id", t."connection_id", t."mode", t."key_set_id", t."at", t."account", t."findings", t."wrong", t."proven", t."rights", t."review", t."unanswered" FROM `key_checks` t;--> statement-breakpoint
CREATE TABLE `__new_key_sets` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`number` integer NOT NULL,
	`values` text NOT NULL,
	`created_at` integer NOT NULL,
	`retired_at` integer,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "key_sets_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "key_sets_counts" CHECK("number" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_key_sets` ("id", "connection_id", "mode", "number", "values", "created_at", "retired_at") SELECT t."id", t."connection_id", t."mode", t."number", t."values", t."created_at", t."retired_at" FROM `key_sets` t;--> statement-breakpoint
CREATE TABLE `__new_links` (
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
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "links_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "links_outcome" CHECK("outcome" in ('linked', 'denied', 'failed'))
);--> statement-breakpoint
INSERT INTO `__new_links` ("id", "state", "connection_id", "storefront_id", "mode", "person", "verifier", "started_at", "ended_at", "outcome", "says") SELECT t."id", t."state", t."connection_id", t."storefront_id", t."mode", t."person", t."verifier", t."started_at", t."ended_at", t."outcome", t."says" FROM `links` t;--> statement-breakpoint
CREATE TABLE `__new_offer_revisions` (
	`id` text PRIMARY KEY NOT NULL,
	`offer_id` text NOT NULL,
	`number` integer NOT NULL,
	`document` text NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "offer_revisions_counts" CHECK("number" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_offer_revisions` ("id", "offer_id", "number", "document", "person", "created_at") SELECT t."id", t."offer_id", t."number", t."document", t."person", t."created_at" FROM `offer_revisions` t;--> statement-breakpoint
CREATE TABLE `__new_offers` (
	`id` text PRIMARY KEY NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text NOT NULL,
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
	CONSTRAINT "offers_off" CHECK("off_in_test" in (0, 1) and "off_in_live" in (0, 1))
);--> statement-breakpoint
INSERT INTO `__new_offers` ("id", "storefront_id", "connection_id", "method_id", "position", "off_in_test", "off_in_live", "working_id", "live_id", "created_at", "removed_at") SELECT t."id", t."storefront_id", t."connection_id", t."method_id", t."position", t."off", t."off", t."working_id", t."live_id", t."created_at", null FROM `offers` t;--> statement-breakpoint
CREATE TABLE `__new_checkouts` (
	`id` text PRIMARY KEY NOT NULL,
	`token` text NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`origin` text NOT NULL,
	`reference` text NOT NULL,
	`order` text NOT NULL,
	`state` text NOT NULL,
	`active_payment_id` text,
	`device_ask` text,
	`created_at` integer NOT NULL,
	`expires_at` integer NOT NULL,
	`closed_at` integer,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`active_payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "checkouts_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "checkouts_origin" CHECK("origin" in ('shop', 'walk', 'rehearsal')),
	CONSTRAINT "checkouts_state" CHECK("state" in ('open', 'paid', 'cancelled', 'expired'))
);--> statement-breakpoint
INSERT INTO `__new_checkouts` ("id", "token", "storefront_id", "mode", "origin", "reference", "order", "state", "active_payment_id", "device_ask", "created_at", "expires_at", "closed_at") SELECT t."id", t."token", t."storefront_id", t."mode", t."origin", t."reference", t."order", t."state", t."active_payment_id", t."device_ask", t."created_at", t."expires_at", t."closed_at" FROM `checkouts` t;--> statement-breakpoint
CREATE TABLE `__new_facts` (
	`number` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`payment_id` text NOT NULL,
	`key` text NOT NULL,
	`source` text NOT NULL,
	`at` integer NOT NULL,
	`recorded_at` integer NOT NULL,
	`statement` text NOT NULL,
	`person` text,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "facts_source" CHECK("source" in ('zahlung', 'answer', 'webhook', 'look-up', 'admin'))
);--> statement-breakpoint
INSERT INTO `__new_facts` ("number", "payment_id", "key", "source", "at", "recorded_at", "statement", "person") SELECT t."number", t."payment_id", t."key", t."source", t."at", t."recorded_at", t."statement", t."person" FROM `facts` t;--> statement-breakpoint
CREATE TABLE `__new_payments` (
	`id` text PRIMARY KEY NOT NULL,
	`checkout_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`connection_id` text NOT NULL,
	`key_set_id` text NOT NULL,
	`profile_version_id` text NOT NULL,
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
	`created_at` integer NOT NULL,
	`updated_at` integer NOT NULL,
	FOREIGN KEY (`checkout_id`) REFERENCES `checkouts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`key_set_id`) REFERENCES `key_sets`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`profile_version_id`) REFERENCES `profile_versions`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`revision_id`) REFERENCES `offer_revisions`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payments_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "payments_origin" CHECK("origin" in ('shop', 'walk', 'rehearsal')),
	CONSTRAINT "payments_state_known" CHECK("state" in ('created', 'pending', 'authorised', 'captured', 'partly-captured', 'voided', 'declined', 'failed', 'expired', 'cancelled', 'refunded', 'partly-refunded', 'disputed')),
	CONSTRAINT "payments_capture" CHECK("capture" in ('at-once', 'later')),
	CONSTRAINT "payments_attention_known" CHECK("attention" in ('surplus', 'contradiction')),
	CONSTRAINT "payments_amounts" CHECK("amount" >= 0 and "authorised" >= 0 and "captured" >= 0 and "refunded" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_payments` ("id", "checkout_id", "storefront_id", "connection_id", "key_set_id", "profile_version_id", "offer_id", "revision_id", "method_id", "mode", "origin", "reference", "order_reference", "provider_ref", "instrument", "amount", "currency", "capture", "state", "authorised", "captured", "refunded", "stage", "attention", "version", "parts", "archived_at", "created_at", "updated_at") SELECT t."id", t."checkout_id", t."storefront_id", t."connection_id", t."key_set_id", (select 'prv_' || c.profile_id from connections c where c.id = t.connection_id), t."offer_id", t."revision_id", t."method_id", t."mode", t."origin", t."reference", t."order_reference", t."provider_ref", t."instrument", t."amount", t."currency", t."capture", t."state", t."authorised", t."captured", t."refunded", t."stage", t."attention", t."version", t."parts", t."archived_at", t."created_at", t."updated_at" FROM `payments` t;--> statement-breakpoint
CREATE TABLE `__new_exchanges` (
	`id` text PRIMARY KEY NOT NULL,
	`at` integer NOT NULL,
	`duration` integer,
	`from` text NOT NULL,
	`to` text NOT NULL,
	`label` text NOT NULL,
	`operation` text,
	`mode` text NOT NULL,
	`connection_id` text,
	`checkout_id` text,
	`payment_id` text,
	`request` text,
	`response` text,
	`outcome` text,
	`ok` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`checkout_id`) REFERENCES `checkouts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "exchanges_lanes" CHECK("from" in ('shopper', 'shop', 'zahlung', 'provider')),
	CONSTRAINT "exchanges_to" CHECK("to" in ('shopper', 'shop', 'zahlung', 'provider')),
	CONSTRAINT "exchanges_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "exchanges_flags" CHECK("ok" in (0, 1))
);--> statement-breakpoint
INSERT INTO `__new_exchanges` ("id", "at", "duration", "from", "to", "label", "operation", "mode", "connection_id", "checkout_id", "payment_id", "request", "response", "outcome", "ok") SELECT t."id", t."at", t."duration", t."from", t."to", t."label", t."operation", t."mode", t."connection_id", t."checkout_id", t."payment_id", t."request", t."response", t."outcome", t."ok" FROM `exchanges` t;--> statement-breakpoint
CREATE TABLE `__new_outbox` (
	`id` text PRIMARY KEY NOT NULL,
	`dedupe` text NOT NULL,
	`storefront_id` text NOT NULL,
	`mode` text NOT NULL,
	`payment_id` text,
	`checkout_id` text,
	`body` text NOT NULL,
	`created_at` integer NOT NULL,
	`tries` integer NOT NULL,
	`delivered_at` integer,
	`last_outcome` text,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`checkout_id`) REFERENCES `checkouts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "outbox_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "outbox_counts" CHECK("tries" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_outbox` ("id", "dedupe", "storefront_id", "mode", "payment_id", "checkout_id", "body", "created_at", "tries", "delivered_at", "last_outcome") SELECT t."id", t."dedupe", t."storefront_id", t."mode", t."payment_id", t."checkout_id", t."body", t."created_at", t."tries", t."delivered_at", t."last_outcome" FROM `outbox` t;--> statement-breakpoint
CREATE TABLE `__new_webhooks` (
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
	`error` text,
	FOREIGN KEY (`endpoint_id`) REFERENCES `endpoints`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "webhooks_mode" CHECK("mode" in ('test', 'live')),
	CONSTRAINT "webhooks_verdict" CHECK("verdict" in ('verified', 'header-missing', 'timestamp-malformed', 'timestamp-too-old', 'timestamp-too-new', 'signature-malformed', 'signature-mismatch', 'component-missing', 'algorithm-refused', 'digest-mismatch', 'key-unknown', 'key-missing', 'body-unreadable', 'secret-malformed')),
	CONSTRAINT "webhooks_outcome" CHECK("outcome" in ('waiting', 'applied', 'repeated', 'unknown-payment', 'not-understood', 'failing', 'given-up', 'ping', 'account', 'refused', 'lost', 'held'))
);--> statement-breakpoint
INSERT INTO `__new_webhooks` ("number", "endpoint_id", "connection_id", "mode", "message_id", "received_at", "headers", "body", "verdict", "outcome", "event", "payment_id", "applied_at", "error") SELECT t."number", t."endpoint_id", t."connection_id", t."mode", t."message_id", t."received_at", t."headers", t."body", t."verdict", t."outcome", t."event", t."payment_id", t."applied_at", null FROM `webhooks` t;--> statement-breakpoint
CREATE TABLE `__new_proofs` (
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
	`parts` text NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`rehearsal_id`) REFERENCES `rehearsals`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "proofs_case" CHECK("case_id" in ('approved', 'captured-later', 'insufficient-funds', 'expired-card', 'wrong-code', 'processing-error', 'challenge-passed', 'challenge-failed', 'refund', 'part-refund', 'void', 'answer-lost', 'webhook-lost', 'webhook-doubled', 'webhooks-reordered', 'webhook-forged')),
	CONSTRAINT "proofs_how" CHECK("how" in ('rehearsed', 'walked')),
	CONSTRAINT "proofs_state" CHECK("state" in ('running', 'passed', 'failed', 'stopped'))
);--> statement-breakpoint
INSERT INTO `__new_proofs` ("id", "connection_id", "offer_id", "case_id", "how", "rehearsal_id", "state", "started_at", "ended_at", "verdicts", "error", "payment_id", "parts") SELECT t."id", t."connection_id", t."offer_id", t."case_id", t."how", t."rehearsal_id", t."state", t."started_at", t."ended_at", t."verdicts", t."error", t."payment_id", t."parts" FROM `proofs` t;--> statement-breakpoint
CREATE TABLE `__new_rehearsals` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`offer_id` text NOT NULL,
	`person` text NOT NULL,
	`started_at` integer NOT NULL,
	`ended_at` integer,
	`stop_at` integer,
	`cases` text NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`offer_id`) REFERENCES `offers`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "rehearsals_times" CHECK("ended_at" is null or "ended_at" >= "started_at")
);--> statement-breakpoint
INSERT INTO `__new_rehearsals` ("id", "connection_id", "offer_id", "person", "started_at", "ended_at", "stop_at", "cases") SELECT t."id", t."connection_id", t."offer_id", t."person", t."started_at", t."ended_at", t."stop_at", t."cases" FROM `rehearsals` t;--> statement-breakpoint
CREATE TABLE `__new_rim_faults` (
	`reference` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`kind` text NOT NULL,
	`until` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "rim_faults_kind" CHECK("kind" in ('lose-webhook', 'double-webhook', 'reorder-webhooks'))
);--> statement-breakpoint
INSERT INTO `__new_rim_faults` ("reference", "connection_id", "kind", "until") SELECT t."reference", t."connection_id", t."kind", t."until" FROM `rim_faults` t;--> statement-breakpoint
CREATE TABLE `__new_cutovers` (
	`id` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`storefront_id` text NOT NULL,
	`kind` text NOT NULL,
	`at` integer NOT NULL,
	`person` text NOT NULL,
	`gates` text NOT NULL,
	`changes` text NOT NULL,
	`snapshot` text NOT NULL,
	`reason` text,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "cutovers_kind" CHECK("kind" in ('cut-over', 'fall-back', 'step-back', 'restore', 'replaced'))
);--> statement-breakpoint
INSERT INTO `__new_cutovers` ("id", "connection_id", "storefront_id", "kind", "at", "person", "gates", "changes", "snapshot", "reason") SELECT t."id", t."connection_id", t."storefront_id", t."kind", t."at", t."person", t."gates", t."changes", json_object('pairs', json_array(json_object('connectionId', t.connection_id, 'live', coalesce(json_extract(t.snapshot, '$.live'), 'never'), 'versionId', (select case when json_extract(t.snapshot, '$.live') = 'never' then null else 'prv_' || c.profile_id end from connections c where c.id = t.connection_id), 'offers', json((select json_group_array(json_object('offerId', json_extract(o.value, '$.id'), 'liveId', json_extract(o.value, '$.liveId'), 'off', json(case when json_extract(o.value, '$.off') then 'true' else 'false' end))) from json_each(t.snapshot, '$.offers') o))))), null FROM `cutovers` t;--> statement-breakpoint
CREATE TABLE `__new_agreed_fees` (
	`storefront_id` text NOT NULL,
	`subject` text NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `subject`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "agreed_fees_at" CHECK("saved_at" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_agreed_fees` ("storefront_id", "subject", "document", "saved_at") SELECT t."storefront_id", t."subject", t."document", t."saved_at" FROM `agreed_fees` t;--> statement-breakpoint
CREATE TABLE `__new_shortlist` (
	`storefront_id` text NOT NULL,
	`profile_id` text NOT NULL,
	`added_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `profile_id`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`profile_id`) REFERENCES `profiles`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "shortlist_at" CHECK("added_at" >= 0)
);--> statement-breakpoint
INSERT INTO `__new_shortlist` ("storefront_id", "profile_id", "added_at") SELECT t."storefront_id", t."profile_id", t."added_at" FROM `shortlist` t;--> statement-breakpoint
CREATE TABLE `__new_volumes` (
	`storefront_id` text NOT NULL,
	`currency` text NOT NULL,
	`document` text NOT NULL,
	`saved_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `currency`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "volumes_currency" CHECK(length("currency") = 3)
);--> statement-breakpoint
INSERT INTO `__new_volumes` ("storefront_id", "currency", "document", "saved_at") SELECT t."storefront_id", t."currency", t."document", t."saved_at" FROM `volumes` t;--> statement-breakpoint
DROP TABLE `invitations`;--> statement-breakpoint
DROP TABLE `people`;--> statement-breakpoint
DROP TABLE `sessions`;--> statement-breakpoint
DROP TABLE `sign_in_failures`;--> statement-breakpoint
DROP TABLE `audit`;--> statement-breakpoint
DROP TABLE `api_answers`;--> statement-breakpoint
DROP TABLE `api_keys`;--> statement-breakpoint
DROP TABLE `news_addresses`;--> statement-breakpoint
DROP TABLE `storefronts`;--> statement-breakpoint
DROP TABLE `profiles`;--> statement-breakpoint
DROP TABLE `connection_storefronts`;--> statement-breakpoint
DROP TABLE `connections`;--> statement-breakpoint
DROP TABLE `domain_files`;--> statement-breakpoint
DROP TABLE `endpoints`;--> statement-breakpoint
DROP TABLE `key_checks`;--> statement-breakpoint
DROP TABLE `key_sets`;--> statement-breakpoint
DROP TABLE `links`;--> statement-breakpoint
DROP TABLE `offer_revisions`;--> statement-breakpoint
DROP TABLE `offers`;--> statement-breakpoint
DROP TABLE `checkouts`;--> statement-breakpoint
DROP TABLE `facts`;--> statement-breakpoint
DROP TABLE `payments`;--> statement-breakpoint
DROP TABLE `exchanges`;--> statement-breakpoint
DROP TABLE `outbox`;--> statement-breakpoint
DROP TABLE `webhooks`;--> statement-breakpoint
DROP TABLE `proofs`;--> statement-breakpoint
DROP TABLE `rehearsals`;--> statement-breakpoint
DROP TABLE `rim_faults`;--> statement-breakpoint
DROP TABLE `cutovers`;--> statement-breakpoint
DROP TABLE `agreed_fees`;--> statement-breakpoint
DROP TABLE `shortlist`;--> statement-breakpoint
DROP TABLE `volumes`;--> statement-breakpoint
ALTER TABLE `__new_invitations` RENAME TO `invitations`;--> statement-breakpoint
ALTER TABLE `__new_people` RENAME TO `people`;--> statement-breakpoint
ALTER TABLE `__new_sessions` RENAME TO `sessions`;--> statement-breakpoint
ALTER TABLE `__new_sign_in_failures` RENAME TO `sign_in_failures`;--> statement-breakpoint
ALTER TABLE `__new_audit` RENAME TO `audit`;--> statement-breakpoint
ALTER TABLE `__new_api_answers` RENAME TO `api_answers`;--> statement-breakpoint
ALTER TABLE `__new_api_keys` RENAME TO `api_keys`;--> statement-breakpoint
ALTER TABLE `__new_news_addresses` RENAME TO `news_addresses`;--> statement-breakpoint
ALTER TABLE `__new_storefronts` RENAME TO `storefronts`;--> statement-breakpoint
ALTER TABLE `__new_profiles` RENAME TO `profiles`;--> statement-breakpoint
ALTER TABLE `__new_connection_storefronts` RENAME TO `connection_storefronts`;--> statement-breakpoint
ALTER TABLE `__new_connections` RENAME TO `connections`;--> statement-breakpoint
ALTER TABLE `__new_domain_files` RENAME TO `domain_files`;--> statement-breakpoint
ALTER TABLE `__new_endpoints` RENAME TO `endpoints`;--> statement-breakpoint
ALTER TABLE `__new_key_checks` RENAME TO `key_checks`;--> statement-breakpoint
ALTER TABLE `__new_key_sets` RENAME TO `key_sets`;--> statement-breakpoint
ALTER TABLE `__new_links` RENAME TO `links`;--> statement-breakpoint
ALTER TABLE `__new_offer_revisions` RENAME TO `offer_revisions`;--> statement-breakpoint
ALTER TABLE `__new_offers` RENAME TO `offers`;--> statement-breakpoint
ALTER TABLE `__new_checkouts` RENAME TO `checkouts`;--> statement-breakpoint
ALTER TABLE `__new_facts` RENAME TO `facts`;--> statement-breakpoint
ALTER TABLE `__new_payments` RENAME TO `payments`;--> statement-breakpoint
ALTER TABLE `__new_exchanges` RENAME TO `exchanges`;--> statement-breakpoint
ALTER TABLE `__new_outbox` RENAME TO `outbox`;--> statement-breakpoint
ALTER TABLE `__new_webhooks` RENAME TO `webhooks`;--> statement-breakpoint
ALTER TABLE `__new_proofs` RENAME TO `proofs`;--> statement-breakpoint
ALTER TABLE `__new_rehearsals` RENAME TO `rehearsals`;--> statement-breakpoint
ALTER TABLE `__new_rim_faults` RENAME TO `rim_faults`;--> statement-breakpoint
ALTER TABLE `__new_cutovers` RENAME TO `cutovers`;--> statement-breakpoint
ALTER TABLE `__new_agreed_fees` RENAME TO `agreed_fees`;--> statement-breakpoint
ALTER TABLE `__new_shortlist` RENAME TO `shortlist`;--> statement-breakpoint
ALTER TABLE `__new_volumes` RENAME TO `volumes`;--> statement-breakpoint
CREATE UNIQUE INDEX `invitations_first` ON `invitations` (`first`) WHERE first = 1;--> statement-breakpoint
CREATE UNIQUE INDEX `people_email_unique` ON `people` (`email`);--> statement-breakpoint
CREATE INDEX `people_list` ON `people` (`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `sessions_person` ON `sessions` (`person_id`);--> statement-breakpoint
CREATE INDEX `sessions_expiry` ON `sessions` (`expires_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `audit_hash_unique` ON `audit` (`hash`);--> statement-breakpoint
CREATE INDEX `api_answers_age` ON `api_answers` (`at`);--> statement-breakpoint
CREATE UNIQUE INDEX `api_keys_keyHash_unique` ON `api_keys` (`key_hash`);--> statement-breakpoint
CREATE INDEX `api_keys_storefront` ON `api_keys` (`storefront_id`,`mode`,`created_at`);--> statement-breakpoint
CREATE INDEX `storefronts_list` ON `storefronts` (`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `connection_storefronts_storefront` ON `connection_storefronts` (`storefront_id`);--> statement-breakpoint
CREATE INDEX `connections_profile` ON `connections` (`profile_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `endpoints_path_unique` ON `endpoints` (`path`);--> statement-breakpoint
CREATE INDEX `endpoints_connection` ON `endpoints` (`connection_id`,`mode`);--> statement-breakpoint
CREATE INDEX `key_checks_connection` ON `key_checks` (`connection_id`,`mode`,`at`);--> statement-breakpoint
CREATE INDEX `key_checks_set` ON `key_checks` (`key_set_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `key_sets_number` ON `key_sets` (`connection_id`,`mode`,`number`);--> statement-breakpoint
CREATE UNIQUE INDEX `links_state_unique` ON `links` (`state`);--> statement-breakpoint
CREATE INDEX `links_connection` ON `links` (`connection_id`,`mode`,`started_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `offer_revisions_number` ON `offer_revisions` (`offer_id`,`number`);--> statement-breakpoint
CREATE UNIQUE INDEX `offers_method` ON `offers` (`storefront_id`,`connection_id`,`method_id`) WHERE removed_at is null;--> statement-breakpoint
CREATE INDEX `offers_connection` ON `offers` (`connection_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `checkouts_token_unique` ON `checkouts` (`token`);--> statement-breakpoint
CREATE INDEX `checkouts_reference` ON `checkouts` (`storefront_id`,`mode`,`reference`);--> statement-breakpoint
CREATE UNIQUE INDEX `facts_key` ON `facts` (`payment_id`,`key`);--> statement-breakpoint
CREATE UNIQUE INDEX `payments_reference_unique` ON `payments` (`reference`);--> statement-breakpoint
CREATE INDEX `payments_list` ON `payments` (`storefront_id`,`mode`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_state` ON `payments` (`storefront_id`,`mode`,`state`,`created_at`,`id`);--> statement-breakpoint
CREATE INDEX `payments_order` ON `payments` (`storefront_id`,`mode`,`order_reference`,`id`);--> statement-breakpoint
CREATE INDEX `payments_provider_ref` ON `payments` (`provider_ref`);--> statement-breakpoint
CREATE INDEX `payments_checkout` ON `payments` (`checkout_id`,`created_at`);--> statement-breakpoint
CREATE INDEX `payments_offer` ON `payments` (`offer_id`,`state`);--> statement-breakpoint
CREATE INDEX `payments_connection` ON `payments` (`connection_id`,`mode`,`created_at`);--> statement-breakpoint
CREATE INDEX `payments_earning` ON `payments` (`storefront_id`,`connection_id`) WHERE mode = 'live' and state in ('authorised', 'captured', 'partly-captured', 'partly-refunded', 'refunded');--> statement-breakpoint
CREATE INDEX `payments_attention` ON `payments` (`attention`) WHERE attention is not null;--> statement-breakpoint
CREATE INDEX `exchanges_payment` ON `exchanges` (`payment_id`);--> statement-breakpoint
CREATE INDEX `exchanges_checkout` ON `exchanges` (`checkout_id`);--> statement-breakpoint
CREATE INDEX `exchanges_connection` ON `exchanges` (`connection_id`,`at`,`id`);--> statement-breakpoint
CREATE INDEX `exchanges_age` ON `exchanges` (`at`);--> statement-breakpoint
CREATE UNIQUE INDEX `outbox_dedupe_unique` ON `outbox` (`dedupe`);--> statement-breakpoint
CREATE INDEX `outbox_payment` ON `outbox` (`payment_id`);--> statement-breakpoint
CREATE INDEX `outbox_age` ON `outbox` (`created_at`);--> statement-breakpoint
CREATE INDEX `webhooks_waiting` ON `webhooks` (`endpoint_id`,`number`) WHERE outcome = 'waiting';--> statement-breakpoint
CREATE INDEX `webhooks_age` ON `webhooks` (`received_at`);--> statement-breakpoint
CREATE INDEX `webhooks_payment` ON `webhooks` (`payment_id`);--> statement-breakpoint
CREATE INDEX `webhooks_list` ON `webhooks` (`connection_id`,`mode`,`number`);--> statement-breakpoint
CREATE INDEX `webhooks_message` ON `webhooks` (`endpoint_id`,`message_id`);--> statement-breakpoint
CREATE INDEX `webhooks_refused` ON `webhooks` (`endpoint_id`,`number`) WHERE verdict <> 'verified';--> statement-breakpoint
CREATE INDEX `proofs_case` ON `proofs` (`offer_id`,`case_id`,`started_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `proofs_walked` ON `proofs` (`payment_id`,`how`);--> statement-breakpoint
CREATE INDEX `proofs_rehearsal` ON `proofs` (`rehearsal_id`);--> statement-breakpoint
CREATE UNIQUE INDEX `rehearsals_one_at_a_time` ON `rehearsals` (`offer_id`) WHERE ended_at is null;--> statement-breakpoint
CREATE INDEX `rim_faults_connection` ON `rim_faults` (`connection_id`);--> statement-breakpoint
CREATE INDEX `cutovers_list` ON `cutovers` (`storefront_id`,`at`,`id`);--> statement-breakpoint
CREATE INDEX `cutovers_pair` ON `cutovers` (`storefront_id`,`connection_id`,`kind`,`at`,`id`);--> statement-breakpoint
CREATE TRIGGER `standing_storefronts_insert` AFTER insert ON `storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_storefronts_update` AFTER update ON `storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_storefronts_delete` AFTER delete ON `storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connections_insert` AFTER insert ON `connections` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connections_update` AFTER update ON `connections` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connections_delete` AFTER delete ON `connections` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connection_storefronts_insert` AFTER insert ON `connection_storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connection_storefronts_update` AFTER update ON `connection_storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connection_storefronts_delete` AFTER delete ON `connection_storefronts` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_offers_insert` AFTER insert ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_offers_update` AFTER update ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_offers_delete` AFTER delete ON `offers` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_sets_insert` AFTER insert ON `key_sets` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_sets_update` AFTER update ON `key_sets` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_sets_delete` AFTER delete ON `key_sets` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_checks_insert` AFTER insert ON `key_checks` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_checks_update` AFTER update ON `key_checks` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_key_checks_delete` AFTER delete ON `key_checks` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_domain_files_insert` AFTER insert ON `domain_files` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_domain_files_update` AFTER update ON `domain_files` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_domain_files_delete` AFTER delete ON `domain_files` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_profile_versions_insert` AFTER insert ON `profile_versions` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_profile_versions_update` AFTER update ON `profile_versions` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_profile_versions_delete` AFTER delete ON `profile_versions` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_api_keys_insert` AFTER insert ON `api_keys` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_api_keys_update` AFTER update of revoked_at ON `api_keys` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_api_keys_delete` AFTER delete ON `api_keys` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_proofs_insert` AFTER insert ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_proofs_update` AFTER update ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_proofs_delete` AFTER delete ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_rehearsals_insert` AFTER insert ON `rehearsals` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_rehearsals_update` AFTER update ON `rehearsals` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_rehearsals_delete` AFTER delete ON `rehearsals` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_endpoints_insert` AFTER insert ON `endpoints` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_endpoints_update` AFTER update ON `endpoints`
WHEN new.proven_at IS NOT old.proven_at OR new.retired_at IS NOT old.retired_at OR new.registration IS NOT old.registration OR new.registrations IS NOT old.registrations OR new.secret IS NOT old.secret OR (new.heard_at IS NOT old.heard_at AND (old.heard_at IS NULL OR EXISTS (SELECT 1 FROM key_sets k WHERE k.connection_id = new.connection_id AND k.created_at > old.heard_at)))
BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_api_keys_used` AFTER update OF used_at ON `api_keys` WHEN old.used_at IS NULL BEGIN UPDATE standing_version SET proven = proven + 1; END;