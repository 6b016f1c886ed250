CREATE TABLE `deliveries` (
	`id` text PRIMARY KEY NOT NULL,
	`position` integer NOT NULL,
	`delivery` text NOT NULL,
	`removed` integer DEFAULT false NOT NULL
);
--> statement-breakpoint
CREATE TABLE `job_parts` (
	`job_id` text NOT NULL,
	`number` integer NOT NULL,
	`frame_id` text NOT NULL,
	`frame_name` text NOT NULL,
	`version_id` text NOT NULL,
	`delivery` integer NOT NULL,
	`delivery_name` text NOT NULL,
	`state` text NOT NULL,
	`partial` text,
	`file` text,
	`inode` integer,
	`bytes` integer,
	`width` integer,
	`height` integer,
	`message` text,
	`made` text,
	PRIMARY KEY(`job_id`, `number`),
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `job_parts_by_frame` ON `job_parts` (`frame_id`);--> statement-breakpoint
ALTER TABLE `jobs` ADD `lease` text;--> statement-breakpoint
ALTER TABLE `jobs` ADD `retries` integer DEFAULT false NOT NULL;--> statement-breakpoint
UPDATE `jobs` SET `kind` = 'deliver' WHERE `kind` = 'export';
