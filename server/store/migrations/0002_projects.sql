CREATE TABLE "projects" (
	"id" text PRIMARY KEY NOT NULL,
	"example" boolean DEFAULT false NOT NULL,
	"document" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "drives" ALTER COLUMN "details" SET DEFAULT '{"className":"","ratedWriteBytesPerSecond":null,"ratedReadBytesPerSecond":null,"price":null,"currency":"","enduranceBytes":null,"powerOnHours":null,"firmware":"","loudnessDecibels":null,"loudnessMetres":null,"note":"","hops":null}'::jsonb;