ALTER TABLE "draft" ALTER COLUMN "definition" SET DATA TYPE json;--> statement-breakpoint
ALTER TABLE "revision" ALTER COLUMN "definition" SET DATA TYPE json;