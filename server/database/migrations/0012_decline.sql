ALTER TABLE `payments` ADD `decline` text;--> statement-breakpoint
UPDATE payments SET decline = (
  SELECT json_extract(f.statement, '$.reason') FROM facts f
  WHERE f.payment_id = payments.id AND json_extract(f.statement, '$.reason') IS NOT NULL
  ORDER BY json_extract(f.statement, '$.reason') = 'unspecified', f.number DESC LIMIT 1
) WHERE state IN ('declined', 'failed', 'cancelled', 'expired', 'voided');
