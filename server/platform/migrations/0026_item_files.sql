CREATE TABLE "item_files" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "item_files_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"file_name" text NOT NULL,
	"content" "bytea" NOT NULL,
	"taken_at" timestamp with time zone NOT NULL,
	"taken_by" integer NOT NULL,
	"new_count" integer NOT NULL,
	"changed_count" integer NOT NULL,
	"taken_back" boolean DEFAULT false NOT NULL,
	"outcome" jsonb NOT NULL
);
--> statement-breakpoint
ALTER TABLE "item_files" ADD CONSTRAINT "item_files_taken_by_people_id_fk" FOREIGN KEY ("taken_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;