CREATE TABLE "supplier_codes" (
	"supplier_id" integer NOT NULL,
	"code" text NOT NULL,
	"item_id" integer NOT NULL,
	"said_by" integer NOT NULL,
	"said_at" timestamp with time zone NOT NULL,
	CONSTRAINT "supplier_codes_supplier_id_code_pk" PRIMARY KEY("supplier_id","code")
);
--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "pages" "bytea";--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "header" jsonb;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "layout" jsonb;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "counts" jsonb;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "by_itself" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "reason" text;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "costs_follow" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "supplier_codes" ADD CONSTRAINT "supplier_codes_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_codes" ADD CONSTRAINT "supplier_codes_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "supplier_codes" ADD CONSTRAINT "supplier_codes_said_by_people_id_fk" FOREIGN KEY ("said_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
UPDATE "cost_sheets" SET "match" = ("match" - 'header') || jsonb_build_object('page', null, 'skip', 0, 'headerRows', CASE WHEN ("match" ->> 'header')::boolean THEN 1 ELSE 0 END, 'known', 'leave');--> statement-breakpoint
UPDATE "cost_sheets" SET "corrections" = (
  SELECT coalesce(jsonb_object_agg(key, CASE WHEN value ->> 'leaveOut' = 'true' THEN '{"decision":"left_out"}'::jsonb ELSE value - 'leaveOut' END), '{}')
  FROM jsonb_each("corrections")
) WHERE "corrections" <> '{}';--> statement-breakpoint
UPDATE "cost_sheets" SET "outcome" = jsonb_set("outcome", '{changes}', (
  SELECT coalesce(jsonb_agg(c || CASE WHEN c ->> 'kind' IN ('up', 'down', 'new') THEN '{"taken":true}'::jsonb ELSE '{}' END), '[]')
  FROM jsonb_array_elements("outcome" -> 'changes') c
)) WHERE "outcome" IS NOT NULL AND "state" = 'taken_in';
