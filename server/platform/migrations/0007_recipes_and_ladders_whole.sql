ALTER TABLE "recipes" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD COLUMN "lockstep_id" integer;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD COLUMN "channel" text;--> statement-breakpoint
ALTER TABLE "ladders" ADD COLUMN "by_default" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "rungs" ADD COLUMN "offset" numeric;