ALTER TABLE "worksheet_lists" ADD COLUMN "computed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "worksheets" ADD COLUMN "snapshot" text;