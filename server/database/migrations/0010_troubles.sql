CREATE TABLE `connection_troubles` (
	`connection_id` text NOT NULL,
	`mode` text NOT NULL,
	`since` integer NOT NULL,
	PRIMARY KEY(`connection_id`, `mode`),
	FOREIGN KEY (`connection_id`) REFERENCES `connections`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "connection_troubles_mode" CHECK("connection_troubles"."mode" in ('test', 'live'))
);--> statement-breakpoint
CREATE TRIGGER `standing_connection_troubles_insert` AFTER insert ON `connection_troubles` BEGIN UPDATE standing_version SET version = version + 1; END;--> statement-breakpoint
CREATE TRIGGER `standing_connection_troubles_delete` AFTER delete ON `connection_troubles` BEGIN UPDATE standing_version SET version = version + 1; END;
