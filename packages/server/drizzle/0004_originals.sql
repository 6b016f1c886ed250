CREATE TABLE `removals` (
	`hash` text PRIMARY KEY NOT NULL,
	`ending` text NOT NULL
);
--> statement-breakpoint
ALTER TABLE `originals` ADD `stamp` text;