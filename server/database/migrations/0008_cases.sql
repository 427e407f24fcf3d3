PRAGMA foreign_keys=OFF;--> statement-breakpoint
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
	CONSTRAINT "proofs_case" CHECK("__new_proofs"."case_id" <> ''),
	CONSTRAINT "proofs_how" CHECK("__new_proofs"."how" in ('rehearsed', 'walked')),
	CONSTRAINT "proofs_state" CHECK("__new_proofs"."state" in ('running', 'passed', 'failed', 'stopped'))
);
--> statement-breakpoint
INSERT INTO `__new_proofs`("id", "connection_id", "offer_id", "case_id", "how", "rehearsal_id", "state", "started_at", "ended_at", "verdicts", "error", "payment_id", "parts") SELECT "id", "connection_id", "offer_id", "case_id", "how", "rehearsal_id", "state", "started_at", "ended_at", "verdicts", "error", "payment_id", "parts" FROM `proofs`;--> statement-breakpoint
DROP TABLE `proofs`;--> statement-breakpoint
ALTER TABLE `__new_proofs` RENAME TO `proofs`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE INDEX `proofs_case` ON `proofs` (`offer_id`,`case_id`,`started_at`);--> statement-breakpoint
CREATE UNIQUE INDEX `proofs_walked` ON `proofs` (`payment_id`,`how`);--> statement-breakpoint
CREATE INDEX `proofs_rehearsal` ON `proofs` (`rehearsal_id`);--> statement-breakpoint
CREATE TABLE `__new_rim_faults` (
	`reference` text PRIMARY KEY NOT NULL,
	`connection_id` text NOT NULL,
	`kind` text NOT NULL,
	`until` integer NOT NULL,
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "rim_faults_kind" CHECK("__new_rim_faults"."kind" in ('lose-webhook', 'double-webhook', 'reorder-webhooks', 'delay-webhooks'))
);
--> statement-breakpoint
INSERT INTO `__new_rim_faults`("reference", "connection_id", "kind", "until") SELECT "reference", "connection_id", "kind", "until" FROM `rim_faults`;--> statement-breakpoint
DROP TABLE `rim_faults`;--> statement-breakpoint
ALTER TABLE `__new_rim_faults` RENAME TO `rim_faults`;--> statement-breakpoint
CREATE INDEX `rim_faults_connection` ON `rim_faults` (`connection_id`);--> statement-breakpoint
CREATE TRIGGER `proven_proofs_insert` AFTER insert ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_proofs_update` AFTER update ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;--> statement-breakpoint
CREATE TRIGGER `proven_proofs_delete` AFTER delete ON `proofs` BEGIN UPDATE standing_version SET proven = proven + 1; END;
