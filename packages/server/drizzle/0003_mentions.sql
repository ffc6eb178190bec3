CREATE TABLE "mention" (
	"report_id" text NOT NULL,
	"kind" text NOT NULL,
	"value" text NOT NULL,
	CONSTRAINT "mention_report_id_kind_value_pk" PRIMARY KEY("report_id","kind","value")
);
--> statement-breakpoint
ALTER TABLE "mention" ADD CONSTRAINT "mention_report_id_report_id_fk" FOREIGN KEY ("report_id") REFERENCES "public"."report"("id") ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "mention_value" ON "mention" USING btree ("kind","value");--> statement-breakpoint
INSERT INTO "mention"
SELECT DISTINCT newest."report_id", named.kind, named.value
FROM "report"
JOIN "revision" newest ON newest."report_id" = "report"."id" AND newest."number" = "report"."revision"
CROSS JOIN LATERAL (
  SELECT 'recipe' AS kind, found #>> '{}' AS value
  FROM jsonb_path_query(newest."definition", 'strict $.**.recipe ? (@.type() == "string")', silent => true) found
  UNION ALL
  SELECT 'model', found #>> '{}'
  FROM jsonb_path_query(newest."definition", 'strict $.**.model ? (@.type() == "string")', silent => true) found
  UNION ALL
  SELECT 'statement', encode(sha256(convert_to(found ->> 'text', 'UTF8')), 'hex')
  FROM jsonb_path_query(newest."definition", 'strict $.** ? (@.type() == "object" && @.step == "sql")', silent => true) found
  WHERE found ? 'text'
) named;
