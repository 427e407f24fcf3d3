DROP INDEX `jobs_due`;--> statement-breakpoint
CREATE INDEX `jobs_of_lane` ON `jobs` (`kind`,`lane`,`run_at`) WHERE run_at is not null;