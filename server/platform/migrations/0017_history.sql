-- What a row was before it changed, by the change that ended it. A change is a transaction; the record of changes says which
-- entry stands for it. Rows that were there before anything was recorded, and those of a load, carry 0.
CREATE SCHEMA history;
--> statement-breakpoint
CREATE SEQUENCE history.change_numbers AS bigint;
--> statement-breakpoint
CREATE TABLE history.versions (
	"table_name" text NOT NULL,
	"from_change" bigint NOT NULL,
	"until_change" bigint NOT NULL,
	"body" jsonb NOT NULL
);
--> statement-breakpoint
CREATE INDEX versions_until ON history.versions (table_name, until_change);
--> statement-breakpoint
CREATE FUNCTION history.own_change() RETURNS bigint LANGUAGE plpgsql VOLATILE SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE mine text := current_setting('hard_ledger.change', true);
BEGIN
  IF mine IS NULL OR mine = '' THEN
    mine := nextval('history.change_numbers')::text;
    PERFORM set_config('hard_ledger.change', mine, true);
  END IF;
  RETURN mine::bigint;
END
$$;
--> statement-breakpoint
CREATE FUNCTION history.keep_version() RETURNS trigger LANGUAGE plpgsql SECURITY DEFINER SET search_path = pg_catalog AS $$
DECLARE mine bigint := history.own_change();
BEGIN
  IF OLD.change <> mine THEN
    INSERT INTO history.versions (table_name, from_change, until_change, body)
    VALUES (TG_TABLE_NAME, OLD.change, mine, to_jsonb(OLD));
  END IF;
  IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
  NEW.change := mine;
  RETURN NEW;
END
$$;
--> statement-breakpoint
CREATE TRIGGER versions_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON history.versions FOR EACH STATEMENT EXECUTE FUNCTION refuse_ledger_change();
--> statement-breakpoint
ALTER TABLE "audit_entries" ADD COLUMN "change" bigint DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "audit_entries" ALTER COLUMN "change" SET DEFAULT history.own_change();
--> statement-breakpoint
ALTER TABLE "postings" ADD COLUMN "change" bigint DEFAULT 0 NOT NULL;
--> statement-breakpoint
ALTER TABLE "postings" ALTER COLUMN "change" SET DEFAULT history.own_change();
--> statement-breakpoint
CREATE INDEX audit_entries_at ON "audit_entries" (at);
--> statement-breakpoint
CREATE FUNCTION history.as_of() RETURNS bigint LANGUAGE sql STABLE AS $$
  SELECT nullif(current_setting('hard_ledger.as_of', true), '')::bigint
$$;
--> statement-breakpoint
-- changes that had not been made yet when the entry was written that "as of" names
CREATE VIEW history.later AS
  SELECT change FROM audit_entries WHERE change <> 0 GROUP BY change HAVING min(id) > history.as_of();
--> statement-breakpoint
CREATE SCHEMA past;
