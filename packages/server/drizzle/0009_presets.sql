CREATE TABLE `presets` (
	`id` text PRIMARY KEY NOT NULL,
	`file` text NOT NULL,
	`removed` integer DEFAULT false NOT NULL,
	`created` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `log` ADD `preset` text;