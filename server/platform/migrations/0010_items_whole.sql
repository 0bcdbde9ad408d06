ALTER TABLE "items" ADD COLUMN "order_for" jsonb DEFAULT '[]'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "items" ADD COLUMN "retired_from" date;--> statement-breakpoint
ALTER TABLE "packs" ADD COLUMN "unit_deposit_amount" numeric;--> statement-breakpoint
ALTER TABLE "packs" ADD COLUMN "unit_deposit_currency" text;--> statement-breakpoint
ALTER TABLE "packs" ADD COLUMN "unit_deposit_tax_class" text;--> statement-breakpoint
ALTER TABLE "packs" ADD COLUMN "barcode" text;--> statement-breakpoint
ALTER TABLE "packs" ADD CONSTRAINT "packs_barcode_unique" UNIQUE("barcode");