CREATE UNLOGGED TABLE "kept_standing" (
	"name" text PRIMARY KEY NOT NULL,
	"state" text NOT NULL,
	"at" timestamp with time zone NOT NULL,
	"body" "bytea" NOT NULL
);
