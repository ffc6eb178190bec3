CREATE TABLE "connection" (
	"name" text PRIMARY KEY NOT NULL,
	"label" text NOT NULL,
	"settings" jsonb NOT NULL,
	"secret" text,
	"data" "bytea",
	"model" jsonb NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_by" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "recipe" (
	"id" text PRIMARY KEY NOT NULL,
	"name" text NOT NULL,
	"steps" jsonb NOT NULL,
	"parameters" jsonb NOT NULL,
	"revision" integer NOT NULL,
	"changed_at" timestamp with time zone DEFAULT now() NOT NULL,
	"changed_by" text NOT NULL
);
