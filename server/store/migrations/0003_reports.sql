CREATE TABLE "report_documents" (
	"report_id" text NOT NULL,
	"kind" text NOT NULL,
	"document_id" text NOT NULL,
	"document" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "reports" (
	"id" text PRIMARY KEY NOT NULL,
	"example" boolean DEFAULT false NOT NULL,
	"outline" jsonb NOT NULL,
	"revision" text NOT NULL,
	"changed_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "report_documents" ADD CONSTRAINT "report_documents_report_id_reports_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."reports"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "report_documents_one" ON "report_documents" USING btree ("report_id","kind","document_id");