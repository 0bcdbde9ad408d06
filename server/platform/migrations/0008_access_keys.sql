CREATE TABLE "access_keys" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "access_keys_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"person_id" integer NOT NULL,
	"name" text NOT NULL,
	"rights" text[] NOT NULL,
	"hash" text NOT NULL,
	"last_day" date NOT NULL,
	"made_at" timestamp with time zone NOT NULL,
	"last_used" timestamp with time zone,
	CONSTRAINT "access_keys_hash_unique" UNIQUE("hash")
);
--> statement-breakpoint
ALTER TABLE "access_keys" ADD CONSTRAINT "access_keys_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "access_keys_person" ON "access_keys" USING btree ("person_id");