PRAGMA foreign_keys=OFF;--> statement-breakpoint
CREATE TABLE `__new_payment_operations` (
	`id` text PRIMARY KEY NOT NULL,
	`payment_id` text NOT NULL,
	`kind` text NOT NULL,
	`amount` integer NOT NULL,
	`final` integer DEFAULT false NOT NULL,
	`once` text NOT NULL,
	`idempotency_key` text NOT NULL,
	`person` text NOT NULL,
	`reason` text,
	`by_lines` text,
	`state` text NOT NULL,
	`before` text NOT NULL,
	`asks` integer DEFAULT 0 NOT NULL,
	`asked` text,
	`looks` integer DEFAULT 0 NOT NULL,
	`looked` text,
	`retry_after` integer,
	`code` text,
	`says` text,
	`at` integer NOT NULL,
	`ended_at` integer,
	FOREIGN KEY (`payment_id`) REFERENCES `payments`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "payment_operations_kind" CHECK("__new_payment_operations"."kind" in ('create', 'confirm', 'capture', 'release', 'void', 'refund')),
	CONSTRAINT "payment_operations_state" CHECK("__new_payment_operations"."state" in ('asked', 'unknown', 'done', 'refused', 'nothing', 'question')),
	CONSTRAINT "payment_operations_asked" CHECK("__new_payment_operations"."asked" in ('answered', 'refused', 'busy', 'silence')),
	CONSTRAINT "payment_operations_looked" CHECK("__new_payment_operations"."looked" in ('there', 'absent', 'silence')),
	CONSTRAINT "payment_operations_counts" CHECK("__new_payment_operations"."amount" >= 0 and "__new_payment_operations"."asks" >= 0 and "__new_payment_operations"."looks" >= 0),
	CONSTRAINT "payment_operations_flags" CHECK("__new_payment_operations"."final" in (0, 1))
);
--> statement-breakpoint
INSERT INTO `__new_payment_operations`("id", "payment_id", "kind", "amount", "final", "once", "idempotency_key", "person", "reason", "by_lines", "state", "before", "asks", "asked", "looks", "looked", "retry_after", "code", "says", "at", "ended_at") SELECT "id", "payment_id", "kind", "amount", "final", "once", "idempotency_key", "person", "reason", "by_lines", "state", "before", "asks", "asked", "looks", "looked", "retry_after", "code", "says", "at", "ended_at" FROM `payment_operations`;--> statement-breakpoint
DROP TABLE `payment_operations`;--> statement-breakpoint
ALTER TABLE `__new_payment_operations` RENAME TO `payment_operations`;--> statement-breakpoint
PRAGMA foreign_keys=ON;--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_idempotencyKey_unique` ON `payment_operations` (`idempotency_key`);--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_once` ON `payment_operations` (`payment_id`,`once`);--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_one_under_way` ON `payment_operations` (`payment_id`) WHERE state in ('asked', 'unknown', 'question');--> statement-breakpoint
CREATE INDEX `payment_operations_unknown` ON `payment_operations` (`at`) WHERE state in ('unknown', 'question');