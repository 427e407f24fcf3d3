ALTER TABLE `payments` ADD `fee` integer;--> statement-breakpoint
UPDATE payments SET fee = (
  SELECT sum(amount) FROM (
    SELECT max(json_extract(p.value, '$.amount')) AS amount
    FROM facts f, json_each(f.statement, '$.parts') p
    WHERE f.payment_id = payments.id AND json_extract(p.value, '$.object') = 'fee'
      AND json_extract(p.value, '$.currency') = payments.currency
    GROUP BY json_extract(p.value, '$.id')
  )
);
