CREATE TABLE "run_profiles" (
	"run_id" text PRIMARY KEY NOT NULL,
	"analysis_version" integer NOT NULL,
	"connection" jsonb NOT NULL,
	"adds" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "run_profiles" ADD CONSTRAINT "run_profiles_run_id_runs_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."runs"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "runs_started" ON "runs" USING btree ("started_at");