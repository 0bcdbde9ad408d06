ALTER TABLE "bills" ADD COLUMN "fee" numeric;--> statement-breakpoint
ALTER TABLE "costs" ADD COLUMN "fee_amount" numeric;--> statement-breakpoint
ALTER TABLE "costs" ADD COLUMN "fee_of" numeric;--> statement-breakpoint
ALTER TABLE "suppliers" ADD COLUMN "more" jsonb DEFAULT '{}'::jsonb NOT NULL;