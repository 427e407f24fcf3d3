CREATE TABLE `payment_operations` (
	`id` text PRIMARY KEY NOT NULL,
	`payment_id` text NOT NULL,
	`kind` text NOT NULL,
	`amount` integer NOT NULL,
	`final` integer DEFAULT false NOT NULL,
	`once` text NOT NULL,
	`idempotency_key` text NOT NULL,
	`person` text NOT NULL,
	`reason` text,
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
	CONSTRAINT "payment_operations_kind" CHECK("payment_operations"."kind" in ('create', 'capture', 'release', 'void', 'refund', 'charge')),
	CONSTRAINT "payment_operations_state" CHECK("payment_operations"."state" in ('asked', 'unknown', 'done', 'refused', 'nothing', 'question')),
	CONSTRAINT "payment_operations_asked" CHECK("payment_operations"."asked" in ('answered', 'refused', 'busy', 'silence')),
	CONSTRAINT "payment_operations_looked" CHECK("payment_operations"."looked" in ('there', 'absent', 'silence')),
	CONSTRAINT "payment_operations_counts" CHECK("payment_operations"."amount" >= 0 and "payment_operations"."asks" >= 0 and "payment_operations"."looks" >= 0),
	CONSTRAINT "payment_operations_flags" CHECK("payment_operations"."final" in (0, 1))
);
--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_idempotencyKey_unique` ON `payment_operations` (`idempotency_key`);
--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_once` ON `payment_operations` (`payment_id`,`once`);
--> statement-breakpoint
CREATE UNIQUE INDEX `payment_operations_one_under_way` ON `payment_operations` (`payment_id`) WHERE state in ('asked', 'unknown', 'question');
--> statement-breakpoint
CREATE INDEX `payment_operations_unknown` ON `payment_operations` (`at`) WHERE state in ('unknown', 'question');
--> statement-breakpoint
-- A press that was done is done. What became of another was never known: it counts as refused, and its payment is looked up.
INSERT INTO payment_operations (id, payment_id, kind, amount, once, idempotency_key, person, state, before, asks, asked, at, ended_at)
SELECT 'op_' || payment_id || '_' || once, payment_id, kind, amount, once, substr(payment_id || '-' || kind || '-' || once, 1, 100), person,
  CASE WHEN done THEN 'done' ELSE 'refused' END, '{"captured":0,"released":0,"returned":0}', 1,
  CASE WHEN done THEN 'answered' ELSE 'silence' END, at, at
FROM payment_acts WHERE true ON CONFLICT DO NOTHING;
--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at)
SELECT 'job_look_' || p.id, 'look-up', p.id, p.connection_id, 0, max(a.at)
FROM payment_acts a JOIN payments p ON p.id = a.payment_id WHERE NOT a.done GROUP BY p.id ON CONFLICT DO NOTHING;
--> statement-breakpoint
DROP TABLE payment_acts;
--> statement-breakpoint
-- Whether the provider ever heard of a payment is looked up by its operation.
INSERT INTO payment_operations (id, payment_id, kind, amount, once, idempotency_key, person, state, before, asks, asked, at)
SELECT 'op_' || id || '_create', id, 'create', amount, 'create', id, 'shopper', 'unknown', '{"captured":0,"released":0,"returned":0}', 1, 'silence', created_at
FROM payments WHERE state IN ('created', 'pending') AND provider_ref IS NULL;
--> statement-breakpoint
INSERT INTO jobs (id, kind, key, lane, run_at, created_at)
SELECT 'job_' || o.id, 'operation', o.id, p.connection_id, 0, o.at
FROM payment_operations o JOIN payments p ON p.id = o.payment_id WHERE o.state = 'unknown' ON CONFLICT DO NOTHING;
--> statement-breakpoint
ALTER TABLE payments ADD released integer DEFAULT 0 NOT NULL CHECK (released >= 0);
--> statement-breakpoint
ALTER TABLE payments ADD held integer DEFAULT 0 NOT NULL CHECK (held >= 0);
--> statement-breakpoint
ALTER TABLE payments ADD held_until integer;
--> statement-breakpoint
ALTER TABLE payments ADD refunding integer DEFAULT 0 NOT NULL CHECK (refunding >= 0);
--> statement-breakpoint
ALTER TABLE payments ADD in_dispute integer DEFAULT 0 NOT NULL CHECK (in_dispute >= 0);
--> statement-breakpoint
ALTER TABLE payments ADD lost integer DEFAULT 0 NOT NULL CHECK (lost >= 0);
--> statement-breakpoint
ALTER TABLE payments ADD dispute text CHECK (dispute in ('open', 'answered', 'lost', 'won'));
--> statement-breakpoint
ALTER TABLE payments ADD dispute_due integer;
--> statement-breakpoint
ALTER TABLE payments ADD review text CHECK (review in ('open', 'passed', 'refused'));
--> statement-breakpoint
-- What was told as one total each becomes a report of that total.
UPDATE facts SET statement = json_set(json_remove(statement, '$.kind', '$.amount'), '$.object', 'report',
  '$.status', json_extract(statement, '$.kind'), '$.' || json_extract(statement, '$.kind'), json_extract(statement, '$.amount'))
WHERE json_extract(statement, '$.kind') IN ('authorised', 'captured', 'refunded');
--> statement-breakpoint
-- What Zahlung knew of its own asking is an attempt.
UPDATE facts SET statement = json_set(json_remove(statement, '$.kind'), '$.object', 'attempt', '$.state',
  CASE json_extract(statement, '$.kind') WHEN 'pending' THEN 'unanswered' ELSE json_extract(statement, '$.kind') END)
WHERE json_extract(statement, '$.kind') IS NOT NULL
  AND (source = 'zahlung' OR key LIKE 'answer:failed:%' OR key LIKE 'look-up:failed:%');
--> statement-breakpoint
-- What a phone scans has a name of its own now.
UPDATE facts SET statement = json_set(json_remove(statement, '$.code'), '$.scan', json_extract(statement, '$.code'))
WHERE json_extract(statement, '$.kind') = 'pending' AND json_extract(statement, '$.code') IS NOT NULL;
--> statement-breakpoint
UPDATE facts SET statement = json_set(json_remove(statement, '$.kind'), '$.object', 'report', '$.status', json_extract(statement, '$.kind'))
WHERE json_extract(statement, '$.kind') IS NOT NULL;
--> statement-breakpoint
-- A refusal no longer hides what is held: what was declined, failed or given up while money is held is that again.
UPDATE payments SET state = 'authorised' WHERE state IN ('declined', 'failed', 'expired') AND authorised > 0 AND captured = 0
  AND NOT EXISTS (SELECT 1 FROM facts f WHERE f.payment_id = payments.id AND json_extract(f.statement, '$.object') = 'report'
    AND json_extract(f.statement, '$.status') IN ('voided', 'expired', 'cancelled'));
--> statement-breakpoint
UPDATE payments SET released = authorised - captured WHERE authorised > captured AND EXISTS (SELECT 1 FROM facts f WHERE f.payment_id = payments.id AND json_extract(f.statement, '$.object') = 'report'
    AND json_extract(f.statement, '$.status') IN ('voided', 'expired', 'cancelled'));
--> statement-breakpoint
UPDATE payments SET held = max(0, authorised - captured - released),
  in_dispute = CASE state WHEN 'disputed' THEN max(0, captured - refunded) ELSE 0 END;
--> statement-breakpoint
CREATE INDEX `payments_held` ON `payments` (`storefront_id`,`mode`,`held_until`,`id`) WHERE held > 0;
