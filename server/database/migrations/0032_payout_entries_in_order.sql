CREATE INDEX `payout_entries_order` ON `payout_entries` (`payout_id`,coalesce(at, 0),`id`);
