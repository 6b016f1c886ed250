CREATE TABLE `cameras` (
	`maker` text NOT NULL,
	`model` text NOT NULL,
	`mount` text NOT NULL,
	`crop` real NOT NULL,
	PRIMARY KEY(`maker`, `model`)
);
--> statement-breakpoint
CREATE TABLE `lenses` (
	`id` text PRIMARY KEY NOT NULL,
	`origin` text NOT NULL,
	`maker` text NOT NULL,
	`model` text NOT NULL,
	`mounts` text NOT NULL,
	`crop` real NOT NULL,
	`focal_from` real NOT NULL,
	`focal_to` real NOT NULL,
	`profile` text NOT NULL
);
