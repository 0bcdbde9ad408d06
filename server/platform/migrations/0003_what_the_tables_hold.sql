CREATE TABLE "sign_in_tries" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "sign_in_tries_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"at" timestamp with time zone NOT NULL,
	"account" text NOT NULL,
	"address" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "changed_by" integer;--> statement-breakpoint
ALTER TABLE "quotes" ADD COLUMN "asked_by" integer;--> statement-breakpoint
ALTER TABLE "workspace_settings" ADD COLUMN "shows_cost_floors" boolean DEFAULT false NOT NULL;--> statement-breakpoint
CREATE INDEX "sign_in_tries_account" ON "sign_in_tries" USING btree ("account","at");--> statement-breakpoint
CREATE INDEX "sign_in_tries_address" ON "sign_in_tries" USING btree ("address","at");--> statement-breakpoint
ALTER TABLE "quotes" ADD CONSTRAINT "quotes_changed_by_people_id_fk" FOREIGN KEY ("changed_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotes" ADD CONSTRAINT "quotes_asked_by_people_id_fk" FOREIGN KEY ("asked_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "categories" ADD CONSTRAINT "categories_parent_id_categories_id_fk" FOREIGN KEY ("parent_id") REFERENCES "public"."categories"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "posting_lines_by_hand" ON "posting_lines" USING btree ("list_id","item_id","pack_id","id") WHERE "posting_lines"."hand_set_reason" is not null;--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_once" UNIQUE("posting_id","item_id","pack_id");--> statement-breakpoint
ALTER TABLE "customers" ADD CONSTRAINT "customers_name_unique" UNIQUE("name");--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_basis_list_id_price_lists_id_fk" FOREIGN KEY ("basis_list_id") REFERENCES "public"."price_lists"("id");
--> statement-breakpoint
CREATE UNIQUE INDEX "workspace_settings_single" ON "workspace_settings" ((true));
--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_price" CHECK ("after" >= 0) NOT VALID;
--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_figures" CHECK ("rrp_amount" > 0 AND "map_amount" > 0 AND "weight_kg" >= 0 AND "order_least" > 0 AND "order_most" > 0 AND "order_step" > 0) NOT VALID;
--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_amounts_have_currencies" CHECK (("rrp_amount" IS NULL OR "rrp_currency" IS NOT NULL) AND ("map_amount" IS NULL OR "map_currency" IS NOT NULL)) NOT VALID;
--> statement-breakpoint
ALTER TABLE "packs" ADD CONSTRAINT "packs_figures" CHECK ("units" > 0 AND "deposit_amount" >= 0 AND ("deposit_amount" IS NULL OR "deposit_currency" IS NOT NULL)) NOT VALID;
--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_figures" CHECK ("amount" >= 0 AND "pack_units" > 0) NOT VALID;
--> statement-breakpoint
ALTER TABLE "floors" ADD CONSTRAINT "floors_amount_has_currency" CHECK ("kind" <> 'amount' OR "currency" IS NOT NULL) NOT VALID;
--> statement-breakpoint
ALTER TABLE "break_rows" ADD CONSTRAINT "break_rows_figures" CHECK ("from_quantity" > 0 AND "value" >= 0) NOT VALID;
--> statement-breakpoint
ALTER TABLE "exchange_rates" ADD CONSTRAINT "exchange_rates_figures" CHECK ("rate" > 0) NOT VALID;
--> statement-breakpoint
ALTER TABLE "tax_rates" ADD CONSTRAINT "tax_rates_figures" CHECK ("percent" >= 0) NOT VALID;
