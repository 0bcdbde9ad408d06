CREATE TABLE "cost_sheets" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "cost_sheets_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"supplier_id" integer NOT NULL,
	"file_name" text NOT NULL,
	"content" "bytea" NOT NULL,
	"state" text DEFAULT 'waiting' NOT NULL,
	"match" jsonb NOT NULL,
	"arrived_at" timestamp with time zone NOT NULL,
	"brought_by" integer NOT NULL,
	"taken_in_at" timestamp with time zone
);
--> statement-breakpoint
CREATE TABLE "costs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "costs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"supplier_id" integer NOT NULL,
	"amount" numeric NOT NULL,
	"currency" text NOT NULL,
	"pack_units" numeric NOT NULL,
	"valid_from" date NOT NULL,
	"origin" text NOT NULL,
	"released" boolean DEFAULT false NOT NULL,
	"sheet_id" integer,
	"entered_by" integer NOT NULL,
	"entered_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "items" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "items_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"sku" text NOT NULL,
	"name" text NOT NULL,
	"unit" text NOT NULL,
	"category_id" integer NOT NULL,
	"brand" text,
	"model" text,
	"supplier_id" integer,
	"supplier_code" text,
	"weight_kg" numeric,
	"tax_class" text NOT NULL,
	"rrp_amount" numeric,
	"rrp_currency" text,
	"rrp_tax_in" boolean DEFAULT true NOT NULL,
	"map_amount" numeric,
	"map_currency" text,
	"map_tax_in" boolean DEFAULT true NOT NULL,
	"attributes" jsonb DEFAULT '{}'::jsonb NOT NULL,
	"order_least" numeric,
	"order_most" numeric,
	"order_step" numeric,
	CONSTRAINT "items_sku_unique" UNIQUE("sku")
);
--> statement-breakpoint
CREATE TABLE "packs" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "packs_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"item_id" integer NOT NULL,
	"name" text NOT NULL,
	"units" numeric NOT NULL,
	"deposit_amount" numeric,
	"deposit_currency" text,
	"deposit_tax_class" text
);
--> statement-breakpoint
CREATE TABLE "audit_entries" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "audit_entries_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"at" timestamp with time zone NOT NULL,
	"person_id" integer,
	"action" text NOT NULL,
	"subject" text NOT NULL,
	"subject_id" text NOT NULL,
	"before" jsonb,
	"after" jsonb
);
--> statement-breakpoint
CREATE TABLE "posting_lines" (
	"id" bigint PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "posting_lines_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 9223372036854775807 START WITH 1 CACHE 1),
	"posting_id" integer NOT NULL,
	"list_id" integer NOT NULL,
	"item_id" integer NOT NULL,
	"pack_id" integer NOT NULL,
	"effective" date NOT NULL,
	"before" numeric,
	"after" numeric,
	"cost" numeric,
	"margin" numeric,
	"steps" jsonb,
	"hand_set_reason" text,
	"hand_set_last_day" date
);
--> statement-breakpoint
CREATE TABLE "postings" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "postings_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"list_id" integer NOT NULL,
	"kind" text NOT NULL,
	"reverses_id" integer,
	"reason" text NOT NULL,
	"effective" date NOT NULL,
	"posted_by" integer NOT NULL,
	"posted_at" timestamp with time zone NOT NULL,
	CONSTRAINT "postings_reversesId_unique" UNIQUE("reverses_id")
);
--> statement-breakpoint
CREATE TABLE "price_list_groups" (
	"list_id" integer NOT NULL,
	"group_id" integer NOT NULL,
	CONSTRAINT "price_list_groups_list_id_group_id_pk" PRIMARY KEY("list_id","group_id")
);
--> statement-breakpoint
CREATE TABLE "price_lists" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "price_lists_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"currency" text NOT NULL,
	"tax_in" boolean NOT NULL,
	"decimals" integer,
	"advertised" boolean DEFAULT false NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	"valid_from" date,
	"valid_to" date,
	"rank" integer NOT NULL,
	"recipe_id" integer,
	CONSTRAINT "price_lists_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "people" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "people_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"sign_in" text NOT NULL,
	"password_hash" text NOT NULL,
	"role" text NOT NULL,
	"sees_cost" boolean DEFAULT false NOT NULL,
	"active" boolean DEFAULT true NOT NULL,
	CONSTRAINT "people_signIn_unique" UNIQUE("sign_in")
);
--> statement-breakpoint
CREATE TABLE "session" (
	"sid" varchar PRIMARY KEY NOT NULL,
	"sess" json NOT NULL,
	"expire" timestamp (6) NOT NULL
);
--> statement-breakpoint
CREATE TABLE "break_rows" (
	"table_id" integer NOT NULL,
	"from_quantity" numeric NOT NULL,
	"kind" text NOT NULL,
	"value" numeric NOT NULL,
	CONSTRAINT "break_rows_table_id_from_quantity_pk" PRIMARY KEY("table_id","from_quantity")
);
--> statement-breakpoint
CREATE TABLE "break_tables" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "break_tables_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"list_id" integer NOT NULL,
	"item_id" integer,
	"category_id" integer,
	"way" text NOT NULL,
	"count" text NOT NULL
);
--> statement-breakpoint
CREATE TABLE "floors" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "floors_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"kind" text NOT NULL,
	"value" numeric NOT NULL,
	"currency" text,
	"item_id" integer,
	"category_id" integer,
	"brand" text,
	"group_id" integer,
	"outcome" text NOT NULL,
	"active" boolean DEFAULT true NOT NULL
);
--> statement-breakpoint
CREATE TABLE "quote_decisions" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quote_decisions_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"quote_id" integer NOT NULL,
	"quote_version" integer NOT NULL,
	"decision" text NOT NULL,
	"note" text NOT NULL,
	"decided_by" integer NOT NULL,
	"decided_at" timestamp with time zone NOT NULL
);
--> statement-breakpoint
CREATE TABLE "quote_lines" (
	"quote_id" integer NOT NULL,
	"position" integer NOT NULL,
	"item_id" integer NOT NULL,
	"pack_id" integer NOT NULL,
	"quantity" numeric NOT NULL,
	"reduction_kind" text,
	"reduction_value" numeric,
	CONSTRAINT "quote_lines_quote_id_position_pk" PRIMARY KEY("quote_id","position")
);
--> statement-breakpoint
CREATE TABLE "quotes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "quotes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"number" text NOT NULL,
	"customer_id" integer NOT NULL,
	"list_id" integer NOT NULL,
	"list_reason" text,
	"day" date NOT NULL,
	"valid_until" date,
	"state" text DEFAULT 'draft' NOT NULL,
	"note" text DEFAULT '' NOT NULL,
	"written_by" integer NOT NULL,
	"written_at" timestamp with time zone NOT NULL,
	"asked" jsonb,
	"issued" jsonb,
	"issued_at" timestamp with time zone,
	CONSTRAINT "quotes_number_unique" UNIQUE("number")
);
--> statement-breakpoint
CREATE TABLE "recipe_guards" (
	"recipe_id" integer NOT NULL,
	"position" integer NOT NULL,
	"kind" text NOT NULL,
	"percent" numeric,
	"amount" numeric,
	"currency" text,
	CONSTRAINT "recipe_guards_recipe_id_position_pk" PRIMARY KEY("recipe_id","position")
);
--> statement-breakpoint
CREATE TABLE "recipes" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "recipes_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"basis_kind" text NOT NULL,
	"basis_list_id" integer,
	"ladder_id" integer,
	CONSTRAINT "recipes_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "uplift_rows" (
	"recipe_id" integer NOT NULL,
	"position" integer NOT NULL,
	"item_id" integer,
	"model" text,
	"attributes" jsonb,
	"brand" text,
	"supplier_id" integer,
	"category_id" integer,
	"pack_name" text,
	"band_from" numeric,
	"band_to" numeric,
	"method" text NOT NULL,
	"value" numeric NOT NULL,
	"currency" text,
	CONSTRAINT "uplift_rows_recipe_id_position_pk" PRIMARY KEY("recipe_id","position")
);
--> statement-breakpoint
CREATE TABLE "ladders" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "ladders_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"currency" text NOT NULL,
	CONSTRAINT "ladders_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "rungs" (
	"ladder_id" integer NOT NULL,
	"position" integer NOT NULL,
	"band_from" numeric NOT NULL,
	"band_to" numeric,
	"step" numeric NOT NULL,
	"endings" numeric[] NOT NULL,
	"direction" text NOT NULL,
	"down_until" numeric,
	"up_from" numeric,
	CONSTRAINT "rungs_ladder_id_position_pk" PRIMARY KEY("ladder_id","position")
);
--> statement-breakpoint
CREATE TABLE "categories" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "categories_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"parent_id" integer
);
--> statement-breakpoint
CREATE TABLE "customer_groups" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "customer_groups_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"rank" integer NOT NULL,
	CONSTRAINT "customer_groups_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "customers" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "customers_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"group_id" integer,
	"active" boolean DEFAULT true NOT NULL
);
--> statement-breakpoint
CREATE TABLE "exchange_rates" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "exchange_rates_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"from_currency" text NOT NULL,
	"to_currency" text NOT NULL,
	"day" date NOT NULL,
	"rate" numeric NOT NULL,
	CONSTRAINT "exchange_rates_pair_day" UNIQUE("from_currency","to_currency","day")
);
--> statement-breakpoint
CREATE TABLE "suppliers" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "suppliers_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"currency" text NOT NULL,
	"freight_per" text,
	"freight_amount" numeric,
	"freight_currency" text,
	"duty_percent" numeric,
	"handling_amount" numeric,
	"handling_currency" text,
	"overhead_percent" numeric,
	CONSTRAINT "suppliers_name_unique" UNIQUE("name")
);
--> statement-breakpoint
CREATE TABLE "tax_rates" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "tax_rates_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"tax_class" text NOT NULL,
	"percent" numeric NOT NULL,
	"valid_from" date NOT NULL,
	CONSTRAINT "tax_rates_class_day" UNIQUE("tax_class","valid_from")
);
--> statement-breakpoint
CREATE TABLE "workspace_settings" (
	"id" integer PRIMARY KEY GENERATED ALWAYS AS IDENTITY (sequence name "workspace_settings_id_seq" INCREMENT BY 1 MINVALUE 1 MAXVALUE 2147483647 START WITH 1 CACHE 1),
	"version" integer DEFAULT 1 NOT NULL,
	"name" text NOT NULL,
	"currency" text NOT NULL,
	"time_zone" text NOT NULL,
	"supplier_choice" text NOT NULL
);
--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD CONSTRAINT "cost_sheets_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "cost_sheets" ADD CONSTRAINT "cost_sheets_brought_by_people_id_fk" FOREIGN KEY ("brought_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_sheet_id_cost_sheets_id_fk" FOREIGN KEY ("sheet_id") REFERENCES "public"."cost_sheets"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "costs" ADD CONSTRAINT "costs_entered_by_people_id_fk" FOREIGN KEY ("entered_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_category_id_categories_id_fk" FOREIGN KEY ("category_id") REFERENCES "public"."categories"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "items" ADD CONSTRAINT "items_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "packs" ADD CONSTRAINT "packs_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "audit_entries" ADD CONSTRAINT "audit_entries_person_id_people_id_fk" FOREIGN KEY ("person_id") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_posting_id_postings_id_fk" FOREIGN KEY ("posting_id") REFERENCES "public"."postings"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "posting_lines" ADD CONSTRAINT "posting_lines_pack_id_packs_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."packs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "postings" ADD CONSTRAINT "postings_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "postings" ADD CONSTRAINT "postings_posted_by_people_id_fk" FOREIGN KEY ("posted_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "price_list_groups" ADD CONSTRAINT "price_list_groups_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "price_list_groups" ADD CONSTRAINT "price_list_groups_group_id_customer_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."customer_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "price_lists" ADD CONSTRAINT "price_lists_recipe_id_recipes_id_fk" FOREIGN KEY ("recipe_id") REFERENCES "public"."recipes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_rows" ADD CONSTRAINT "break_rows_table_id_break_tables_id_fk" FOREIGN KEY ("table_id") REFERENCES "public"."break_tables"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_tables" ADD CONSTRAINT "break_tables_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_tables" ADD CONSTRAINT "break_tables_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "break_tables" ADD CONSTRAINT "break_tables_category_id_categories_id_fk" FOREIGN KEY ("category_id") REFERENCES "public"."categories"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "floors" ADD CONSTRAINT "floors_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "floors" ADD CONSTRAINT "floors_category_id_categories_id_fk" FOREIGN KEY ("category_id") REFERENCES "public"."categories"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "floors" ADD CONSTRAINT "floors_group_id_customer_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."customer_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_decisions" ADD CONSTRAINT "quote_decisions_quote_id_quotes_id_fk" FOREIGN KEY ("quote_id") REFERENCES "public"."quotes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_decisions" ADD CONSTRAINT "quote_decisions_decided_by_people_id_fk" FOREIGN KEY ("decided_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_lines" ADD CONSTRAINT "quote_lines_quote_id_quotes_id_fk" FOREIGN KEY ("quote_id") REFERENCES "public"."quotes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_lines" ADD CONSTRAINT "quote_lines_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quote_lines" ADD CONSTRAINT "quote_lines_pack_id_packs_id_fk" FOREIGN KEY ("pack_id") REFERENCES "public"."packs"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotes" ADD CONSTRAINT "quotes_customer_id_customers_id_fk" FOREIGN KEY ("customer_id") REFERENCES "public"."customers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotes" ADD CONSTRAINT "quotes_list_id_price_lists_id_fk" FOREIGN KEY ("list_id") REFERENCES "public"."price_lists"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "quotes" ADD CONSTRAINT "quotes_written_by_people_id_fk" FOREIGN KEY ("written_by") REFERENCES "public"."people"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipe_guards" ADD CONSTRAINT "recipe_guards_recipe_id_recipes_id_fk" FOREIGN KEY ("recipe_id") REFERENCES "public"."recipes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "recipes" ADD CONSTRAINT "recipes_ladder_id_ladders_id_fk" FOREIGN KEY ("ladder_id") REFERENCES "public"."ladders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD CONSTRAINT "uplift_rows_recipe_id_recipes_id_fk" FOREIGN KEY ("recipe_id") REFERENCES "public"."recipes"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD CONSTRAINT "uplift_rows_item_id_items_id_fk" FOREIGN KEY ("item_id") REFERENCES "public"."items"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD CONSTRAINT "uplift_rows_supplier_id_suppliers_id_fk" FOREIGN KEY ("supplier_id") REFERENCES "public"."suppliers"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "uplift_rows" ADD CONSTRAINT "uplift_rows_category_id_categories_id_fk" FOREIGN KEY ("category_id") REFERENCES "public"."categories"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "rungs" ADD CONSTRAINT "rungs_ladder_id_ladders_id_fk" FOREIGN KEY ("ladder_id") REFERENCES "public"."ladders"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
ALTER TABLE "customers" ADD CONSTRAINT "customers_group_id_customer_groups_id_fk" FOREIGN KEY ("group_id") REFERENCES "public"."customer_groups"("id") ON DELETE no action ON UPDATE no action;--> statement-breakpoint
CREATE INDEX "costs_item" ON "costs" USING btree ("item_id","supplier_id","valid_from");--> statement-breakpoint
CREATE INDEX "items_supplier_code" ON "items" USING btree ("supplier_id","supplier_code");--> statement-breakpoint
CREATE INDEX "packs_item" ON "packs" USING btree ("item_id");--> statement-breakpoint
CREATE INDEX "posting_lines_price" ON "posting_lines" USING btree ("list_id","item_id","pack_id","effective","id");--> statement-breakpoint
CREATE INDEX "posting_lines_posting" ON "posting_lines" USING btree ("posting_id");--> statement-breakpoint
CREATE INDEX "session_expire" ON "session" USING btree ("expire");--> statement-breakpoint
CREATE INDEX "quote_decisions_quote" ON "quote_decisions" USING btree ("quote_id");