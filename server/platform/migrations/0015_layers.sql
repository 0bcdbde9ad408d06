CREATE TABLE "layers" (
	"name" text PRIMARY KEY NOT NULL,
	"revision" integer NOT NULL
);
--> statement-breakpoint
INSERT INTO "layers" ("name", "revision")
SELECT name, (SELECT coalesce(max("id"), 0) FROM "audit_entries") FROM (VALUES ('catalogue'), ('rules'), ('posted')) AS x (name);
