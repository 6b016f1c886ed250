CREATE TABLE `bulk` (
	`name` text PRIMARY KEY NOT NULL,
	`bytes` blob NOT NULL,
	`created` text NOT NULL
);
