CREATE TABLE "value_set" (
	"id" text PRIMARY KEY NOT NULL,
	"report_id" text NOT NULL,
	"owner" text NOT NULL,
	"by" text NOT NULL,
	"name" text NOT NULL,
	"values" jsonb NOT NULL,
	"is_shared" boolean NOT NULL,
	"saved_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
ALTER TABLE "value_set" ADD CONSTRAINT "value_set_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE UNIQUE INDEX "value_set_name" ON "value_set" USING btree ("report_id","owner","name");