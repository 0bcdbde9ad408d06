CREATE TABLE "record_links" (
	"from_kind" text NOT NULL,
	"from_id" integer NOT NULL,
	"to_kind" text NOT NULL,
	"to_id" integer NOT NULL,
	CONSTRAINT "record_links_from_kind_from_id_to_kind_to_id_pk" PRIMARY KEY("from_kind","from_id","to_kind","to_id")
);
--> statement-breakpoint
CREATE TABLE "records" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "records_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"kind" text NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "tax_rates" DROP CONSTRAINT "tax_rates_class_day";--> statement-breakpoint
ALTER TABLE "price_lists" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "break_tables" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "floors" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "customers" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "tax_rates" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "workspace_settings" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
CREATE INDEX "record_links_to" ON "record_links" USING btree ("to_kind","to_id");--> statement-breakpoint
CREATE INDEX "records_kind" ON "records" USING btree ("kind","id");--> statement-breakpoint
CREATE UNIQUE INDEX "tax_rates_class_region_day" ON "tax_rates" USING btree ("tax_class","valid_from",(coalesce("more" ->> 'region', '')));