CREATE TABLE "changes_to_come" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "changes_to_come_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"register" text NOT NULL,
	"record_id" integer NOT NULL,
	"day" date NOT NULL,
	"reason" text NOT NULL,
	"fields" jsonb,
	"moves" text NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"trouble" text,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "changes_to_come" ADD CONSTRAINT "changes_to_come_made_by_people_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "changes_to_come_state" ON "changes_to_come" USING btree ("state","day");--> statement-breakpoint
CREATE INDEX "changes_to_come_record" ON "changes_to_come" USING btree ("register","record_id");