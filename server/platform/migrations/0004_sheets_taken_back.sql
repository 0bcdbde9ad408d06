ALTER TABLE "cost_sheets" ADD COLUMN "corrections" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "outcome" jsonb;--> statement-breakpoint
ALTER TABLE "costs" ADD COLUMN "taken_back" boolean DEFAULT false NOT NULL;--> statement-breakpoint
UPDATE "cost_sheets" SET "match" = "match" || '{"header": true}'::jsonb WHERE NOT ("match" ? 'header');
