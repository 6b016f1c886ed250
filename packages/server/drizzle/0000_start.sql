CREATE TABLE `frames` (
	`id` text PRIMARY KEY NOT NULL,
	`shoot_id` text NOT NULL,
	`original` text NOT NULL,
	`file_name` text NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`preview_offset` integer,
	`preview_length` integer,
	`metadata` text NOT NULL,
	`taken` text,
	FOREIGN KEY (`shoot_id`) REFERENCES `shoots`(`id`) ON UPDATE no action ON DELETE no action,
	FOREIGN KEY (`original`) REFERENCES `originals`(`hash`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE UNIQUE INDEX `frames_content` ON `frames` (`shoot_id`,`original`);--> statement-breakpoint
CREATE INDEX `frames_by_time` ON `frames` (`shoot_id`,`taken`);--> statement-breakpoint
CREATE TABLE `jobs` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`state` text NOT NULL,
	`title` text NOT NULL,
	`progress` real NOT NULL,
	`message` text NOT NULL,
	`problems` text NOT NULL,
	`request` text NOT NULL,
	`file_name` text,
	`created` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `originals` (
	`hash` text PRIMARY KEY NOT NULL,
	`size` integer NOT NULL
);
--> statement-breakpoint
CREATE TABLE `shoots` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`created` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `versions` (
	`id` text PRIMARY KEY NOT NULL,
	`frame_id` text NOT NULL,
	`name` text NOT NULL,
	`revision` integer NOT NULL,
	`state` text NOT NULL,
	`changed` text NOT NULL,
	FOREIGN KEY (`frame_id`) REFERENCES `frames`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE INDEX `versions_by_frame` ON `versions` (`frame_id`);