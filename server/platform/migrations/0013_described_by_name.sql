-- What items say already is declared, so that it may stay as it is.
INSERT INTO "records" ("kind", "version", "body")
SELECT 'brands', 1, jsonb_build_object('name', b) FROM (SELECT DISTINCT "brand" AS b FROM "items" WHERE "brand" IS NOT NULL ORDER BY 1) AS x;--> statement-breakpoint
INSERT INTO "records" ("kind", "version", "body")
SELECT 'taxClasses', 1, jsonb_build_object('name', c) FROM (
  SELECT "tax_class" AS c FROM "tax_rates" UNION SELECT "tax_class" FROM "items" ORDER BY 1
) AS x;--> statement-breakpoint
INSERT INTO "records" ("kind", "version", "body")
SELECT 'attributes', 1, jsonb_build_object('name', a, 'kind', 'text', 'values', '[]'::jsonb)
FROM (SELECT DISTINCT jsonb_object_keys("attributes") AS a FROM "items" ORDER BY 1) AS x;
