CREATE TABLE "settings" (
	"id" text PRIMARY KEY NOT NULL,
	"document" jsonb NOT NULL,
	"changed_at" timestamp with time zone NOT NULL
);
