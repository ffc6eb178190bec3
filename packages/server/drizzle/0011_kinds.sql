ALTER TABLE "report" ADD COLUMN "is_template" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "report_owner" ON "report" USING btree ("owner");--> statement-breakpoint
INSERT INTO "report" ("id", "kind", "name", "revision", "published", "changed_at", "changed_by")
SELECT 'recipe:' || "id", 'recipe', "name", "revision", "revision", "changed_at", "changed_by" FROM "recipe";--> statement-breakpoint
INSERT INTO "report" ("id", "kind", "name", "revision", "published", "changed_at", "changed_by")
SELECT 'connection:' || "name", 'connection', "label", 1, 1, "changed_at", "changed_by" FROM "connection";--> statement-breakpoint
INSERT INTO "mention" ("report_id", "kind", "value")
SELECT v."report_id", 'theme', v."definition"->>'theme' FROM "revision" v JOIN "report" r ON r."id" = v."report_id" AND r."revision" = v."number"
WHERE v."definition"->>'theme' IS NOT NULL ON CONFLICT DO NOTHING;
