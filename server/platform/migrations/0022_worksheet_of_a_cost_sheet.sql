ALTER TABLE "worksheets" ADD COLUMN "cost_sheet_id" integer;--> statement-breakpoint
ALTER TABLE "worksheets" ADD COLUMN "only_items" integer[];--> statement-breakpoint
ALTER TABLE "worksheets" ADD CONSTRAINT "worksheets_cost_sheet_id_cost_sheets_id_fk" FOREIGN KEY ("cost_sheet_id") REFERENCES "public"."cost_sheets"("id") ON DELETE no action ON UPDATE no action;