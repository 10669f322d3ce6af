CREATE TABLE `downloads` (
	`job_id` text PRIMARY KEY NOT NULL,
	`saved_at` integer NOT NULL,
	`facts` text NOT NULL,
	`files` blob NOT NULL,
	FOREIGN KEY (`job_id`) REFERENCES `jobs`(`id`) ON UPDATE no action ON DELETE cascade
);
