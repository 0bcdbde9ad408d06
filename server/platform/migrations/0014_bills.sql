CREATE TABLE "bills" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "bills_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"supplier_id" integer NOT NULL,
	"number" text NOT NULL,
	"day" date NOT NULL,
	"currency" text NOT NULL,
	"note" text,
	"lines" jsonb NOT NULL,
	"state" text DEFAULT 'draft' NOT NULL,
	"written_by" integer NOT NULL,
	"written_at" timestamp with time zone NOT NULL,
	"final_by" integer,
	"outcome" jsonb,
	CONSTRAINT "bills_number" UNIQUE("supplier_id","number")
);
--> statement-breakpoint
ALTER TABLE "costs" ADD COLUMN "bill_id" integer;--> statement-breakpoint
ALTER TABLE "bills" ADD CONSTRAINT "bills_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bills" ADD CONSTRAINT "bills_written_by_people_id_fk" FOREIGN KEY ("written_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "bills" ADD CONSTRAINT "bills_final_by_people_id_fk" FOREIGN KEY ("final_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_bill_id_bills_id_fk" FOREIGN KEY ("bill_id") REFERENCES "public"."bills"("id") ON DELETE no action ON UPDATE no action;