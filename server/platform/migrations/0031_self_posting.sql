CREATE TABLE "self_postings" (
	"supplier_id" integer NOT NULL,
	"list_id" integer NOT NULL,
	"most" numeric NOT NULL,
	"said_by" integer NOT NULL,
	"said_at" timestamp with time zone NOT NULL,
	CONSTRAINT "self_postings_supplier_id_list_id_pk" PRIMARY KEY("supplier_id","list_id")
);
--> statement-breakpoint
ALTER TABLE "worksheets" ADD COLUMN "bill_id" integer;--> statement-breakpoint
ALTER TABLE "worksheets" ADD COLUMN "by_itself" jsonb;--> statement-breakpoint
ALTER TABLE "self_postings" ADD CONSTRAINT "self_postings_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "self_postings" ADD CONSTRAINT "self_postings_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "self_postings" ADD CONSTRAINT "self_postings_said_by_people_id_fk" FOREIGN KEY ("said_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "worksheets" ADD CONSTRAINT "worksheets_bill_id_bills_id_fk" FOREIGN KEY ("bill_id") REFERENCES "public"."bills"("id") ON DELETE no action ON UPDATE no action;