CREATE FUNCTION refuse_ledger_change() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'rows of % are only added, never changed or deleted', TG_TABLE_NAME USING ERRCODE = 'restrict_violation';
END
$$;
--> statement-breakpoint
CREATE TRIGGER postings_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON "postings" FOR EACH STATEMENT EXECUTE FUNCTION refuse_ledger_change();
--> statement-breakpoint
CREATE TRIGGER posting_lines_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON "posting_lines" FOR EACH STATEMENT EXECUTE FUNCTION refuse_ledger_change();
--> statement-breakpoint
CREATE TRIGGER audit_entries_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON "audit_entries" FOR EACH STATEMENT EXECUTE FUNCTION refuse_ledger_change();
--> statement-breakpoint
CREATE TRIGGER quote_decisions_only_added_to BEFORE UPDATE OR DELETE OR TRUNCATE ON "quote_decisions" FOR EACH STATEMENT EXECUTE FUNCTION refuse_ledger_change();
