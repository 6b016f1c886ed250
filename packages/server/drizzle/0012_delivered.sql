ALTER TABLE `frames` ADD `delivered_by` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `frames` ADD `delivered_as` text;