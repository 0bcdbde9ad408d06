import { sql } from 'drizzle-orm';
import type { NodePgDatabase } from 'drizzle-orm/node-postgres';
import type pg from 'pg';

/** Tables whose rows prices are made from: of each row every version is kept. */
const VERSIONED = [
  'workspace_settings',
  'categories',
  'suppliers',
  'exchange_rates',
  'tax_rates',
  'customer_groups',
  'customers',
  'ladders',
  'rungs',
  'recipes',
  'uplift_rows',
  'recipe_guards',
  'price_lists',
  'price_list_groups',
  'break_tables',
  'break_rows',
  'floors',
  'records',
  'changes_to_come',
  'items',
  'packs',
  'costs',
] as const;

/**
 * Has every version of the rows kept that prices are made from, and makes the views by which they are read as they were:
 * in the schema "past", under the names of the tables. The numbers stand in a column that no reader asks for.
 */
export async function keepHistory(client: pg.Client): Promise<void> {
  const known = await client.query<{ name: string }>(
    `select table_name as name from information_schema.columns where table_schema = 'public' and column_name = 'change'`,
  );
  const begun = new Set(known.rows.map((r) => r.name));
  // a lock on a table that is in use is only asked for once
  for (const table of VERSIONED)
    if (!begun.has(table))
      await client.query(`
        alter table public.${table} add column change bigint not null default 0;
        alter table public.${table} alter column change set default history.own_change();
        create trigger versions before update or delete on public.${table} for each row execute function history.keep_version()`);
  // who looks for what was changed lately finds it
  for (const table of ['items', 'packs', 'costs'])
    await client.query(`create index if not exists ${table}_change on public.${table} (change) where change > 0`);
  const late = 'select change from history.later';
  for (const table of VERSIONED)
    await client.query(`
      drop view if exists past.${table};
      create view past.${table} as
        select t.* from public.${table} t where t.change not in (${late})
        union all
        select was.* from history.versions v cross join lateral jsonb_populate_record(null::public.${table}, v.body) was
        where v.table_name = '${table}' and v.until_change in (${late}) and v.from_change not in (${late})`);
  await client.query(`
    drop view if exists past.postings, past.posting_lines;
    create view past.postings as select * from public.postings where change not in (${late});
    create view past.posting_lines as
      select l.* from public.posting_lines l
      where l.posting_id not in (select id from public.postings where change in (${late}))`);
}

/** Drops the views by which tables are read as they were, until `keepHistory` makes them anew. */
export async function dropPast(client: pg.Client): Promise<void> {
  const { rows } = await client.query<{ name: string }>(
    `select viewname as name from pg_views where schemaname = 'past'`,
  );
  for (const { name } of rows) await client.query(`drop view past.${client.escapeIdentifier(name)}`);
}

/** Lets a role read what was; it is written by the database alone. */
export const letReadHistory = (role: string): string => `
  grant usage on schema history, past to ${role};
  grant select on all tables in schema past to ${role};
  grant select on history.versions to ${role};
  grant execute on function history.own_change(), history.as_of() to ${role}`;

/** What the transaction writes from here on counts as known from the beginning: a load of what was there before. */
export async function fromTheBeginning(tx: Pick<NodePgDatabase, 'execute'>): Promise<void> {
  await tx.execute(sql`select set_config('hard_ledger.change', '0', true)`);
}

/**
 * From here to its end the transaction reads the tables as they were once the entry of the record of changes was written
 * that is named. Only of the tables that prices are made from; the others are read as they are.
 */
export async function readAsOf(client: pg.PoolClient, entry: number): Promise<void> {
  await client.query(
    `select set_config('search_path', 'past, public', true), set_config('hard_ledger.as_of', $1, true)`,
    [String(entry)],
  );
}
