import { and, asc, eq, ilike, sql } from 'drizzle-orm';
import type { AnyPgColumn, PgTable } from 'drizzle-orm/pg-core';
import type { Right } from '#contract/people.ts';
import { KINDS } from '#contract/records/kinds.ts';
import type { Found } from '#contract/today.ts';
import type { Queries } from '../platform/database.ts';
import { breakTables, floors } from '../quotes/tables.ts';
import { records } from '../records/tables.ts';
import { categories, customerGroups, customers, suppliers } from '../setup/tables.ts';

const MOST = 6;

/** Registers with a name of their own, besides the declared ones. */
const NAMED: readonly [string, string, Right, PgTable & { id: AnyPgColumn; name: AnyPgColumn }][] = [
  ['customers', 'customer', 'read', customers],
  ['customer-groups', 'customer group', 'read', customerGroups],
  ['suppliers', 'supplier', 'see_cost', suppliers],
  ['categories', 'category', 'read', categories],
  ['breaks', 'quantity breaks', 'read', breakTables],
  ['floors', 'floor', 'see_cost', floors],
];

/** Records of every register whose name holds a text, where the person may read them. */
export async function findRecords(db: Queries, rights: ReadonlySet<Right>, like: string): Promise<Found[]> {
  const found: Found[] = [];
  const add = (register: string, detail: string, id: number, title: string) =>
    found.push({ kind: 'record', id: `${register}/${id}`, title, detail, to: `/setup/${register}?open=${id}` });
  for (const [register, detail, right, table] of NAMED) {
    if (!rights.has(right)) continue;
    const rows = await db
      .select({ id: table.id, name: table.name })
      .from(table as PgTable)
      .where(ilike(table.name, like))
      .orderBy(asc(table.id))
      .limit(MOST);
    for (const r of rows) add(register, detail, r.id as number, r.name as string);
  }
  for (const kind of KINDS) {
    if (!rights.has(kind.readRight)) continue;
    const name = sql<string>`${records.body} ->> 'name'`;
    const rows = await db
      .select({ id: records.id, name })
      .from(records)
      .where(and(eq(records.kind, kind.name), ilike(name, like)))
      .orderBy(asc(records.id))
      .limit(MOST);
    for (const r of rows) add(kind.name, kind.one, r.id, r.name);
  }
  return found;
}
