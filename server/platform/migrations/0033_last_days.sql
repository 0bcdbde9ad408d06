ALTER TABLE "posting_lines" RENAME COLUMN "hand_set_last_day" TO "last_day";--> statement-breakpoint
ALTER TABLE "posting_lines" DROP CONSTRAINT "posting_lines_once";--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_once" UNIQUE("posting_id","item_id","pack_id","effective");
