CREATE TABLE "kept_rules" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "kept_rules_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"hash" text NOT NULL,
	"rules" jsonb NOT NULL,
	CONSTRAINT "kept_rules_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
CREATE TABLE "quote_changes" (
	"quote_id" integer NOT NULL,
	"number" integer NOT NULL,
	"state" text NOT NULL,
	"day" date NOT NULL,
	"body" jsonb NOT NULL,
	"written_by" integer NOT NULL,
	"written_at" timestamp with time zone NOT NULL,
	"issued_by" integer,
	"issued_at" timestamp with time zone,
	"issued" jsonb,
	"kept" jsonb,
	CONSTRAINT "quote_changes_quote_id_number_pk" PRIMARY KEY("quote_id","number")
);
--> statement-breakpoint
ALTER TABLE "quote_lines" ADD COLUMN "section" text;--> statement-breakpoint
ALTER TABLE "quote_lines" ADD COLUMN "zero_confirmed" boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "terms" jsonb DEFAULT '{}'::jsonb NOT NULL;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "kept" jsonb;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "issued_on" date;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "accepted_on" date;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "accepted_note" text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "credits" boolean DEFAULT true NOT NULL;--> statement-breakpoint
ALTER TABLE "quote_changes" ADD CONSTRAINT "quote_changes_quote_id_quotes_id_fk" FOREIGN KEY ("quote_id") REFERENCES "public"."quotes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_changes" ADD CONSTRAINT "quote_changes_written_by_people_id_fk" FOREIGN KEY ("written_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_changes" ADD CONSTRAINT "quote_changes_issued_by_people_id_fk" FOREIGN KEY ("issued_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;