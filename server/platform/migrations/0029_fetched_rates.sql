CREATE TABLE "fetched_rates" (
	"from_currency" text NOT NULL,
	"to_currency" text NOT NULL,
	"day" date NOT NULL,
	"rate" numeric NOT NULL,
	CONSTRAINT "fetched_rates_from_currency_to_currency_day_pk" PRIMARY KEY("from_currency","to_currency","day")
);
--> statement-breakpoint
CREATE TABLE "rate_service" (
	"id" integer PRIMARY KEY DEFAULT 1 NOT NULL,
	"version" integer DEFAULT 1 NOT NULL,
	"follow" boolean DEFAULT false NOT NULL,
	"last_try" timestamp with time zone,
	"last_answer" timestamp with time zone,
	"trouble" text
);
