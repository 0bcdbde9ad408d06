CREATE TABLE "cost_intakes" (
	"sheet_id" integer PRIMARY KEY NOT NULL,
	"order" jsonb NOT NULL,
	"ordered_by" integer NOT NULL,
	"ordered_at" timestamp with time zone NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"of" integer,
	"cancelled" boolean DEFAULT false NOT NULL,
	"trouble" text
);
--> statement-breakpoint
ALTER TABLE "cost_intakes" ADD CONSTRAINT "cost_intakes_sheet_id_cost_sheets_id_fk" FOREIGN KEY ("sheet_id") REFERENCES "public"."cost_sheets"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cost_intakes" ADD CONSTRAINT "cost_intakes_ordered_by_people_id_fk" FOREIGN KEY ("ordered_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;