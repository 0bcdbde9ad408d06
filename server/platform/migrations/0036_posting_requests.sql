CREATE TABLE "posting_requests" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "posting_requests_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"reason" text NOT NULL,
	"effective" date NOT NULL,
	"last_day" date,
	"asked_by" integer NOT NULL,
	"asked_at" timestamp with time zone NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"decided_by" integer,
	"decided_at" timestamp with time zone,
	"why" text,
	"worksheet_id" integer,
	"prices" jsonb,
	"worksheet" jsonb,
	"margins" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"lists" jsonb NOT NULL,
	"postings" integer[] DEFAULT '{}' NOT NULL
);
--> statement-breakpoint
ALTER TABLE "postings" ADD COLUMN "agreed_by" integer;--> statement-breakpoint
ALTER TABLE "posting_requests" ADD CONSTRAINT "posting_requests_asked_by_people_id_fk" FOREIGN KEY ("asked_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "posting_requests" ADD CONSTRAINT "posting_requests_decided_by_people_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "posting_requests_state" ON "posting_requests" USING btree ("state");--> statement-breakpoint
ALTER TABLE "postings" ADD CONSTRAINT "postings_agreed_by_people_id_fk" FOREIGN KEY ("agreed_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;