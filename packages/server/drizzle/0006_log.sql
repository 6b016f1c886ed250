CREATE TABLE `__new_versions` (
	`id` text PRIMARY KEY NOT NULL,
	`frame_id` text NOT NULL,
	`name` text NOT NULL,
	`position` integer DEFAULT 0 NOT NULL,
	`revision` integer NOT NULL,
	`begun` text,
	`begun_as` text DEFAULT 'As taken' NOT NULL,
	`head` text,
	`tip` text,
	`development` text,
	`edited` integer DEFAULT false NOT NULL,
	`view` text,
	`state` text,
	`changed` text NOT NULL,
	`deleted` text,
	FOREIGN KEY (`frame_id`) REFERENCES `frames`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
INSERT INTO `__new_versions`("id", "frame_id", "name", "position", "revision", "edited", "state", "changed") SELECT v."id", v."frame_id", v."name", row_number() OVER (PARTITION BY v."frame_id" ORDER BY v.rowid) - 1, v."revision", f."edited", v."state", v."changed" FROM `versions` v JOIN `frames` f ON f."id" = v."frame_id" ORDER BY v.rowid;--> statement-breakpoint
DROP TABLE `versions`;--> statement-breakpoint
ALTER TABLE `__new_versions` RENAME TO `versions`;--> statement-breakpoint
CREATE INDEX `versions_by_frame` ON `versions` (`frame_id`);--> statement-breakpoint
CREATE TABLE `log` (
	`id` text PRIMARY KEY NOT NULL,
	`version_id` text NOT NULL,
	`number` integer NOT NULL,
	`kind` text NOT NULL,
	`parent` text,
	`label` text NOT NULL,
	`changes` text,
	`time` text NOT NULL,
	`gesture` text,
	`name` text,
	`depth` integer DEFAULT 0 NOT NULL,
	`snapshot` text,
	FOREIGN KEY (`version_id`) REFERENCES `versions`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `log_by_number` ON `log` (`version_id`,`number`);--> statement-breakpoint
CREATE TABLE `counters` (
	`name` text PRIMARY KEY NOT NULL,
	`value` integer NOT NULL
);
--> statement-breakpoint
INSERT INTO `counters` ("name", "value") SELECT 'news', coalesce(max(`changed`), 0) FROM `frames`;--> statement-breakpoint
ALTER TABLE `frames` ADD `shown` text;--> statement-breakpoint
ALTER TABLE `frames` ADD `stack` text;
