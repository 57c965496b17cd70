ALTER TABLE "drives" ADD COLUMN "changed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "projects" ADD COLUMN "changed_at" timestamp with time zone;--> statement-breakpoint
ALTER TABLE "workloads" ADD COLUMN "changed_at" timestamp with time zone;