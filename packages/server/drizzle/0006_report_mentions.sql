INSERT INTO "mention"
SELECT DISTINCT newest."report_id", 'report', found #>> '{}'
FROM "report"
JOIN "revision" newest ON newest."report_id" = "report"."id" AND newest."number" = "report"."revision"
CROSS JOIN LATERAL jsonb_path_query(newest."definition"::jsonb, 'strict $.**.report ? (@.type() == "string")', silent => true) found;
