CREATE TABLE "draft" (
	"author" text NOT NULL,
	"key" text NOT NULL,
	"report_id" text,
	"base" integer NOT NULL,
	"definition" jsonb NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "draft_author_key_pk" PRIMARY KEY("author","key")
);
--> statement-breakpoint
ALTER TABLE "draft" ADD CONSTRAINT "draft_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;