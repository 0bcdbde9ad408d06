ALTER TABLE "postings" DROP CONSTRAINT "postings_reversesId_unique";--> statement-breakpoint
CREATE INDEX "postings_reverses" ON "postings" USING btree ("reverses_id");