CREATE TABLE "worksheet_lists" (
	"worksheet_id" integer NOT NULL,
	"list_id" integer NOT NULL,
	"rises" integer DEFAULT 0 NOT NULL,
	"falls" integer DEFAULT 0 NOT NULL,
	"unchanged" integer DEFAULT 0 NOT NULL,
	"first" integer DEFAULT 0 NOT NULL,
	"without" integer DEFAULT 0 NOT NULL,
	"guarded" integer DEFAULT 0 NOT NULL,
	"held" integer DEFAULT 0 NOT NULL,
	"explained" integer DEFAULT 0 NOT NULL,
	CONSTRAINT "worksheet_lists_worksheet_id_list_id_pk" PRIMARY KEY("worksheet_id","list_id")
);
--> statement-breakpoint
CREATE TABLE "worksheet_prices" (
	"worksheet_id" integer NOT NULL,
	"list_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"pack_id" integer NOT NULL,
	"before" numeric,
	"after" numeric,
	"markup" numeric,
	"margin" numeric,
	"flag" smallint NOT NULL,
	"guards" smallint NOT NULL,
	"uplift_row" smallint NOT NULL,
	"would_fall_to" numeric,
	"reason" text,
	CONSTRAINT "worksheet_prices_worksheet_id_list_id_item_id_pack_id_pk" PRIMARY KEY("worksheet_id","list_id","item_id","pack_id")
);
--> statement-breakpoint
CREATE TABLE "worksheets" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "worksheets_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"reason" text NOT NULL,
	"day" date NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"cancel_asked" boolean DEFAULT false NOT NULL,
	"revision" text,
	"total" integer DEFAULT 0 NOT NULL,
	"done" integer DEFAULT 0 NOT NULL,
	"trouble" text,
	"made_by" integer NOT NULL,
	"made_at" timestamp with time zone NOT NULL,
	"ended_at" timestamp with time zone
);
--> statement-breakpoint
ALTER TABLE "worksheet_lists" ADD CONSTRAINT "worksheet_lists_worksheet_id_worksheets_id_fk" FOREIGN KEY ("worksheet_id") REFERENCES "public"."worksheets"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "worksheet_lists" ADD CONSTRAINT "worksheet_lists_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "worksheets" ADD CONSTRAINT "worksheets_made_by_people_id_fk" FOREIGN KEY ("made_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;