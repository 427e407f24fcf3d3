CREATE TABLE `look_revisions` (
	`storefront_id` text NOT NULL,
	`number` integer NOT NULL,
	`look` text NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`storefront_id`, `number`),
	FOREIGN KEY (`storefront_id`) REFERENCES `storefronts`(`id`) ON UPDATE no action ON DELETE no action,
	CONSTRAINT "look_revisions_counts" CHECK("look_revisions"."number" >= 0)
);
--> statement-breakpoint
CREATE TABLE `zone_revisions` (
	`zone_id` text NOT NULL,
	`number` integer NOT NULL,
	`name` text NOT NULL,
	`countries` text NOT NULL,
	`regions` text NOT NULL,
	`postcodes` text NOT NULL,
	`removed` integer NOT NULL,
	`person` text NOT NULL,
	`created_at` integer NOT NULL,
	PRIMARY KEY(`zone_id`, `number`),
	CONSTRAINT "zone_revisions_removed" CHECK("zone_revisions"."removed" in (0, 1)),
	CONSTRAINT "zone_revisions_counts" CHECK("zone_revisions"."number" >= 0)
);
--> statement-breakpoint
CREATE INDEX `zone_revisions_last` ON `zone_revisions` (`created_at`) WHERE removed = 1;--> statement-breakpoint
-- The trail holds every look whole, as it was kept.
INSERT INTO `look_revisions` (`storefront_id`, `number`, `look`, `person`, `created_at`)
SELECT `subject`, row_number() OVER (PARTITION BY `subject` ORDER BY `number`), `detail`, `person`, `at`
FROM `audit`
WHERE `action` IN ('look saved', 'logo set', 'logo removed', 'look taken back')
	AND `subject` IN (SELECT `storefront_id` FROM `looks`);
--> statement-breakpoint
-- The newest is what is worked on, also where the trail tells otherwise.
INSERT INTO `look_revisions` (`storefront_id`, `number`, `look`, `person`, `created_at`)
SELECT `storefront_id`,
	coalesce((SELECT max(`number`) FROM `look_revisions` r WHERE r.`storefront_id` = `looks`.`storefront_id`), 0) + 1,
	`working`, '', `updated_at`
FROM `looks`
WHERE `working` IS NOT (
	SELECT `look` FROM `look_revisions` r
	WHERE r.`storefront_id` = `looks`.`storefront_id` ORDER BY `number` DESC LIMIT 1
);
--> statement-breakpoint
INSERT INTO `zone_revisions` (`zone_id`, `number`, `name`, `countries`, `regions`, `postcodes`, `removed`, `person`, `created_at`)
SELECT `id`, 1, `name`, `countries`, `regions`, `postcodes`, 0,
	coalesce((SELECT `person` FROM `audit` WHERE `subject` = `zones`.`id` ORDER BY `number` DESC LIMIT 1), ''),
	coalesce((SELECT `at` FROM `audit` WHERE `subject` = `zones`.`id` ORDER BY `number` DESC LIMIT 1), 0)
FROM `zones`;
