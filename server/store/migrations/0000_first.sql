CREATE TABLE "drives" (
	"id" text PRIMARY KEY NOT NULL,
	"label" text NOT NULL,
	"medium" text NOT NULL,
	"identity_kind" text NOT NULL,
	"identity_value" text NOT NULL,
	"capacity_bytes" bigint NOT NULL,
	"example" boolean DEFAULT false NOT NULL,
	"created_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_chunks" (
	"run_id" text NOT NULL,
	"sequence" integer NOT NULL,
	"at_seconds" double precision[] NOT NULL,
	"cumulative_bytes" double precision[] NOT NULL,
	"direction" smallint[] NOT NULL,
	"pass" integer[] NOT NULL,
	"file" integer[] NOT NULL,
	"operations" integer[] NOT NULL,
	"latency_max_seconds" double precision[] NOT NULL,
	"events" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "runs" (
	"id" text PRIMARY KEY NOT NULL,
	"drive_id" text NOT NULL,
	"state" text NOT NULL,
	"started_at" timestamp with time zone NOT NULL,
	"example" boolean DEFAULT false NOT NULL,
	"opening" jsonb NOT NULL,
	"summary" jsonb,
	"analysis_version" integer
);
--> statement-breakpoint
CREATE TABLE "workloads" (
	"id" text PRIMARY KEY NOT NULL,
	"position" integer NOT NULL,
	"example" boolean DEFAULT false NOT NULL,
	"document" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "run_chunks" ADD CONSTRAINT "run_chunks_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "runs" ADD CONSTRAINT "runs_drive_id_drives_id_fk" FOREIGN KEY ("drive_id") REFERENCES "public"."drives"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "drives_identity" ON "drives" USING btree ("identity_kind","identity_value");--> statement-breakpoint
CREATE UNIQUE INDEX "run_chunks_order" ON "run_chunks" USING btree ("run_id","sequence");--> statement-breakpoint
CREATE INDEX "runs_drive" ON "runs" USING btree ("drive_id","started_at");