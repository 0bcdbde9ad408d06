DROP VIEW IF EXISTS "past"."suppliers";--> statement-breakpoint
CREATE TABLE "followed_suppliers" (
	"supplier_id" integer PRIMARY KEY NOT NULL,
	"said_by" integer NOT NULL,
	"said_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
ALTER TABLE "followed_suppliers" ADD CONSTRAINT "followed_suppliers_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "followed_suppliers" ADD CONSTRAINT "followed_suppliers_said_by_people_id_fk" FOREIGN KEY ("said_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "suppliers" DROP COLUMN "costs_follow";