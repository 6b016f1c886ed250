ALTER TABLE `versions` ADD `saved_by` text;
