ALTER TABLE `frames` ADD `file_date` text;--> statement-breakpoint
ALTER TABLE `frames` ADD `format` text DEFAULT 'dng' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `rating` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `mark` text DEFAULT 'none' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `title` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `caption` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `creator` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `copyright` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `keywords` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `edited` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `delivered` text;--> statement-breakpoint
ALTER TABLE `frames` ADD `thumb` text;--> statement-breakpoint
ALTER TABLE `frames` ADD `changed` integer DEFAULT 0 NOT NULL;--> statement-breakpoint
CREATE INDEX `frames_by_change` ON `frames` (`shoot_id`,`changed`);--> statement-breakpoint
CREATE INDEX `frames_by_original` ON `frames` (`original`);--> statement-breakpoint
ALTER TABLE `originals` ADD `in_place` text;--> statement-breakpoint
ALTER TABLE `originals` ADD `ending` text DEFAULT '.dng' NOT NULL;--> statement-breakpoint
ALTER TABLE `shoots` ADD `at_import` text DEFAULT '{}' NOT NULL;