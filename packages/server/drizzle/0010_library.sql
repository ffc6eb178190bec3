CREATE TABLE "activity" (
	"id" bigserial PRIMARY KEY NOT NULL,
	"at" timestamp with time zone DEFAULT now() NOT NULL,
	"user_name" text NOT NULL,
	"act" text NOT NULL,
	"thing_id" text,
	"name" text NOT NULL,
	"data" jsonb NOT NULL
);
--> statement-breakpoint
CREATE TABLE "first_page" (
	"report_id" text NOT NULL,
	"seen_by" text NOT NULL,
	"revision" integer NOT NULL,
	"picture" "bytea",
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	CONSTRAINT "first_page_report_id_seen_by_pk" PRIMARY KEY("report_id","seen_by")
);
--> statement-breakpoint
CREATE TABLE "folder" (
	"id" text PRIMARY KEY NOT NULL,
	"parent_id" text,
	"name" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"owner" text,
	"is_personal" boolean DEFAULT false NOT NULL,
	"inherits" boolean DEFAULT true NOT NULL,
	"publishing" text,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_by" text NOT NULL,
	"deleted_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "grants" (
	"id" serial PRIMARY KEY NOT NULL,
	"folder_id" text,
	"report_id" text,
	"principal" text NOT NULL,
	"level" smallint NOT NULL,
	"granted_at" timestamp with time zone DEFAULT now() NOT NULL,
	"granted_by" text NOT NULL,
	CONSTRAINT "grants_of_one" CHECK (("grants"."folder_id" is null) <> ("grants"."report_id" is null))
);
--> statement-breakpoint
CREATE TABLE "link" (
	"id" text PRIMARY KEY NOT NULL,
	"report_id" text NOT NULL,
	"label" text NOT NULL,
	"shared_by" text NOT NULL,
	"groups" text[] NOT NULL,
	"manages_all" boolean NOT NULL,
	"claims" jsonb NOT NULL,
	"host_parameters" jsonb NOT NULL,
	"values" jsonb NOT NULL,
	"made_at" timestamp with time zone DEFAULT now() NOT NULL,
	"ends_at" timestamp with time zone NOT NULL,
	"revoked_at" timestamp with time zone,
	"opened" integer DEFAULT 0 NOT NULL,
	"opened_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "mark" (
	"user_name" text NOT NULL,
	"report_id" text NOT NULL,
	"is_starred" boolean DEFAULT false NOT NULL,
	"opened_at" timestamp with time zone,
	CONSTRAINT "mark_user_name_report_id_pk" PRIMARY KEY("user_name","report_id")
);
--> statement-breakpoint
CREATE TABLE "person" (
	"principal" text PRIMARY KEY NOT NULL,
	"seen_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "publication" (
	"id" serial PRIMARY KEY NOT NULL,
	"report_id" text NOT NULL,
	"revision" integer,
	"published_by" text NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"published_at" timestamp with time zone DEFAULT now() NOT NULL
);
--> statement-breakpoint
CREATE TABLE "run_day" (
	"report_id" text NOT NULL,
	"day" date NOT NULL,
	"runs" integer NOT NULL,
	"milliseconds" bigint NOT NULL,
	CONSTRAINT "run_day_report_id_day_pk" PRIMARY KEY("report_id","day")
);
--> statement-breakpoint
ALTER TABLE "report" ALTER COLUMN "folder" SET DEFAULT 'root';--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "tags" text[] DEFAULT '{}' NOT NULL;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "owner" text;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "inherits" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "published" integer;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "asked" integer;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "asked_by" text;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "asked_note" text;--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "search" "tsvector";--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "name_search" "tsvector";--> statement-breakpoint
ALTER TABLE "report" ADD COLUMN "published_search" "tsvector";--> statement-breakpoint
ALTER TABLE "first_page" ADD CONSTRAINT "first_page_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
INSERT INTO "folder" ("id", "name", "publishing", "changed_by") VALUES ('root', '', 'each-save', '');--> statement-breakpoint
INSERT INTO "grants" ("folder_id", "principal", "level", "granted_by") VALUES ('root', 'everybody', 3, '');--> statement-breakpoint
UPDATE "report" SET "folder" = 'root', "published" = "revision";--> statement-breakpoint
ALTER TABLE "folder" ADD CONSTRAINT "folder_parent_id_folder_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."folder"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_folder_id_folder_id_fk" FOREIGN KEY ("folder_id") REFERENCES "public"."folder"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "grants" ADD CONSTRAINT "grants_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "link" ADD CONSTRAINT "link_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "mark" ADD CONSTRAINT "mark_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "publication" ADD CONSTRAINT "publication_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "run_day" ADD CONSTRAINT "run_day_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "activity_at" ON "activity" USING btree ("at");--> statement-breakpoint
CREATE INDEX "activity_thing" ON "activity" USING btree ("thing_id","id");--> statement-breakpoint
CREATE INDEX "first_page_made" ON "first_page" USING btree ("made_at");--> statement-breakpoint
CREATE INDEX "folder_parent" ON "folder" USING btree ("parent_id");--> statement-breakpoint
CREATE UNIQUE INDEX "folder_of_person" ON "folder" USING btree ("owner") WHERE "folder"."is_personal";--> statement-breakpoint
CREATE UNIQUE INDEX "grants_of_folder" ON "grants" USING btree ("folder_id","principal");--> statement-breakpoint
CREATE UNIQUE INDEX "grants_of_report" ON "grants" USING btree ("report_id","principal");--> statement-breakpoint
CREATE INDEX "grants_of_principal" ON "grants" USING btree ("principal");--> statement-breakpoint
CREATE INDEX "link_report" ON "link" USING btree ("report_id");--> statement-breakpoint
CREATE INDEX "mark_report" ON "mark" USING btree ("report_id");--> statement-breakpoint
CREATE INDEX "publication_report" ON "publication" USING btree ("report_id","id");--> statement-breakpoint
ALTER TABLE "report" ADD CONSTRAINT "report_folder_folder_id_fk" FOREIGN KEY ("folder") REFERENCES "public"."folder"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "report_folder" ON "report" USING btree ("folder");--> statement-breakpoint
CREATE INDEX "report_name" ON "report" USING btree (lower("name"),"id");--> statement-breakpoint
CREATE INDEX "report_changed" ON "report" USING btree ("changed_at");--> statement-breakpoint
CREATE INDEX "report_search" ON "report" USING gin ("search");--> statement-breakpoint
CREATE INDEX "report_name_search" ON "report" USING gin ("name_search");--> statement-breakpoint
CREATE INDEX "report_published_search" ON "report" USING gin ("published_search");