ALTER TABLE "posting_lines" ADD COLUMN "made_by" integer;--> statement-breakpoint
ALTER TABLE "postings" ADD COLUMN "as_of" integer;--> statement-breakpoint
ALTER TABLE "postings" ADD COLUMN "worksheet_id" integer;--> statement-breakpoint
ALTER TABLE "worksheets" ADD COLUMN "order" jsonb;--> statement-breakpoint
CREATE INDEX "postings_worksheet" ON "postings" USING btree ("worksheet_id");