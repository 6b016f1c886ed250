CREATE TABLE `hand_overs` (
	`id` text PRIMARY KEY NOT NULL,
	`job_id` text NOT NULL,
	`number` integer NOT NULL,
	`frame_id` text NOT NULL,
	`delivery` text NOT NULL,
	`program` text,
	`folder` text NOT NULL,
	`file_name` text NOT NULL,
	`given` text NOT NULL,
	`seen` text NOT NULL,
	`back` integer DEFAULT 0 NOT NULL,
	`problem` text,
	`ended` text
);
--> statement-breakpoint
CREATE UNIQUE INDEX `hand_overs_by_part` ON `hand_overs` (`job_id`,`number`);