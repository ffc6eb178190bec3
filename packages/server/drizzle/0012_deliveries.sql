CREATE TABLE "delivery" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"report_id" text NOT NULL,
	"definition" json NOT NULL,
	"revision" integer NOT NULL,
	"owner" text NOT NULL,
	"groups" text[] NOT NULL,
	"rights" text[] NOT NULL,
	"claims" jsonb NOT NULL,
	"host_parameters" jsonb NOT NULL,
	"state" text DEFAULT 'on' NOT NULL,
	"said" jsonb,
	"next_at" timestamp with time zone,
	"found" jsonb,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_by" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "delivery_content" (
	"id" text PRIMARY KEY NOT NULL,
	"run_id" text NOT NULL,
	"place" integer NOT NULL,
	"label" text NOT NULL,
	"row" json,
	"person" text,
	"values" jsonb NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"said" jsonb,
	"pages" integer,
	"rows" integer,
	"tries" integer DEFAULT 0 NOT NULL,
	"next_try" timestamp with time zone,
	"held_until" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "delivery_file" (
	"content_id" text NOT NULL,
	"place" integer NOT NULL,
	"name" text NOT NULL,
	"mime" text NOT NULL,
	"size" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "delivery_file_content_id_place_pk" PRIMARY KEY("content_id","place")
);
--> statement-breakpoint
CREATE TABLE "delivery_part" (
	"id" text PRIMARY KEY NOT NULL,
	"run_id" text NOT NULL,
	"content_id" text NOT NULL,
	"target" integer NOT NULL,
	"kind" text NOT NULL,
	"sent_to" text NOT NULL,
	"message" json,
	"state" text DEFAULT 'waiting' NOT NULL,
	"said" jsonb,
	"receipt" text,
	"sent_at" timestamp with time zone,
	"tries" integer DEFAULT 0 NOT NULL,
	"next_try" timestamp with time zone,
	"held_until" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "delivery_run" (
	"id" text PRIMARY KEY NOT NULL,
	"delivery_id" text NOT NULL,
	"key" text NOT NULL,
	"why" text NOT NULL,
	"due_at" timestamp with time zone NOT NULL,
	"definition" json NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"said" jsonb,
	"tries" integer DEFAULT 0 NOT NULL,
	"next_try" timestamp with time zone,
	"held_until" timestamp with time zone,
	"begun_at" timestamp with time zone,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "kept_file" (
	"result_id" text NOT NULL,
	"place" integer NOT NULL,
	"name" text NOT NULL,
	"mime" text NOT NULL,
	"size" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "kept_file_result_id_place_pk" PRIMARY KEY("result_id","place")
);
--> statement-breakpoint
CREATE TABLE "kept_page" (
	"result_id" text NOT NULL,
	"first" integer NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "kept_page_result_id_first_pk" PRIMARY KEY("result_id","first")
);
--> statement-breakpoint
CREATE TABLE "kept_picture" (
	"result_id" text NOT NULL,
	"hash" text NOT NULL,
	"bytes" "bytea" NOT NULL,
	CONSTRAINT "kept_picture_result_id_hash_pk" PRIMARY KEY("result_id","hash")
);
--> statement-breakpoint
CREATE TABLE "kept_result" (
	"id" text PRIMARY KEY NOT NULL,
	"delivery_id" text,
	"report_id" text NOT NULL,
	"name" text NOT NULL,
	"owner" text NOT NULL,
	"principals" text[] NOT NULL,
	"values" jsonb NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"pages" integer NOT NULL,
	"rows" integer NOT NULL,
	"run" json NOT NULL
);
--> statement-breakpoint
ALTER TABLE "delivery_content" ADD CONSTRAINT "delivery_content_run_id_delivery_run_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."delivery_run"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery_file" ADD CONSTRAINT "delivery_file_content_id_delivery_content_id_fk" FOREIGN KEY ("content_id") REFERENCES "public"."delivery_content"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery_part" ADD CONSTRAINT "delivery_part_run_id_delivery_run_id_fk" FOREIGN KEY ("run_id") REFERENCES "public"."delivery_run"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery_part" ADD CONSTRAINT "delivery_part_content_id_delivery_content_id_fk" FOREIGN KEY ("content_id") REFERENCES "public"."delivery_content"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "delivery_run" ADD CONSTRAINT "delivery_run_delivery_id_delivery_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."delivery"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_file" ADD CONSTRAINT "kept_file_result_id_kept_result_id_fk" FOREIGN KEY ("result_id") REFERENCES "public"."kept_result"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_page" ADD CONSTRAINT "kept_page_result_id_kept_result_id_fk" FOREIGN KEY ("result_id") REFERENCES "public"."kept_result"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_picture" ADD CONSTRAINT "kept_picture_result_id_kept_result_id_fk" FOREIGN KEY ("result_id") REFERENCES "public"."kept_result"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "kept_result" ADD CONSTRAINT "kept_result_delivery_id_delivery_id_fk" FOREIGN KEY ("delivery_id") REFERENCES "public"."delivery"("id") ON DELETE set null ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "delivery_next" ON "delivery" USING btree ("next_at");--> statement-breakpoint
CREATE INDEX "delivery_report" ON "delivery" USING btree ("report_id");--> statement-breakpoint
CREATE INDEX "delivery_owner" ON "delivery" USING btree ("owner");--> statement-breakpoint
CREATE UNIQUE INDEX "delivery_content_place" ON "delivery_content" USING btree ("run_id","place");--> statement-breakpoint
CREATE INDEX "delivery_content_try" ON "delivery_content" USING btree ("next_try");--> statement-breakpoint
CREATE INDEX "delivery_part_run" ON "delivery_part" USING btree ("run_id");--> statement-breakpoint
CREATE INDEX "delivery_part_content" ON "delivery_part" USING btree ("content_id");--> statement-breakpoint
CREATE INDEX "delivery_part_try" ON "delivery_part" USING btree ("next_try");--> statement-breakpoint
CREATE UNIQUE INDEX "delivery_run_key" ON "delivery_run" USING btree ("delivery_id","key");--> statement-breakpoint
CREATE INDEX "delivery_run_due" ON "delivery_run" USING btree ("delivery_id","due_at");--> statement-breakpoint
CREATE INDEX "delivery_run_try" ON "delivery_run" USING btree ("next_try");--> statement-breakpoint
CREATE INDEX "kept_picture_hash" ON "kept_picture" USING btree ("hash");--> statement-breakpoint
CREATE INDEX "kept_result_report" ON "kept_result" USING btree ("report_id","made_at");--> statement-breakpoint
CREATE INDEX "kept_result_made" ON "kept_result" USING btree ("made_at");