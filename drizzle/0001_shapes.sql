CREATE TABLE `shapes` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`triangles` integer NOT NULL,
	`bytes` blob NOT NULL,
	`added_at` integer NOT NULL
);
