CREATE TABLE "connections" (
	"supplier_id" integer PRIMARY KEY NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"state" text NOT NULL,
	"address" text DEFAULT '' NOT NULL,
	"account" text DEFAULT '' NOT NULL,
	"brands" text[] DEFAULT '{}' NOT NULL,
	"every_hours" integer DEFAULT 24 NOT NULL,
	"connected_by" integer,
	"asked_by" integer,
	"asked_note" text,
	"last_try" timestamp with time zone,
	"last_answer" timestamp with time zone,
	"trouble" text,
	"tries" integer DEFAULT 0 NOT NULL,
	"next_try" timestamp with time zone,
	"last_content" text,
	"last_sheet_id" integer
);
--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD COLUMN "origin" text DEFAULT 'file' NOT NULL;--> statement-breakpoint
ALTER TABLE "connections" ADD CONSTRAINT "connections_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connections" ADD CONSTRAINT "connections_connected_by_people_id_fk" FOREIGN KEY ("connected_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connections" ADD CONSTRAINT "connections_asked_by_people_id_fk" FOREIGN KEY ("asked_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "connections" ADD CONSTRAINT "connections_last_sheet_id_cost_sheets_id_fk" FOREIGN KEY ("last_sheet_id") REFERENCES "public"."cost_sheets"("id") ON DELETE no action ON UPDATE no action;