import { type SQL, sql } from 'drizzle-orm';
import { KINDS } from '#contract/records/kinds.ts';
import { placeOf } from '#contract/places.ts';
import type { FoundRecord } from '#contract/records/found.ts';
import type { Right } from '#contract/people.ts';
import type { Queries } from '../platform/database.ts';

/** Records that are found by their names, wherever they are kept. */
export interface Findable {
  readonly register: string;
  /** In words, one of them. */
  readonly one: string;
  readonly right: Right;
  /** Where one is looked at. */
  readonly to: (id: string) => string;
  /** Rows of id, name and what tells one from others of its name. */
  readonly rows: SQL;
  /** Which of the rows may still be chosen. */
  readonly choosable: SQL;
}

const kept = (register: string, one: string, right: Right, rows: SQL, choosable = sql`true`): Findable => ({
  register,
  one,
  right,
  to: (id) => placeOf(register, id),
  rows,
  choosable,
});

/** In the order in which the one search tells them. */
export const FINDABLE: readonly Findable[] = [
  kept('lists', 'list', 'read', sql`select id, name, currency as detail from price_lists`),
  kept('recipes', 'recipe', 'see_cost', sql`select id, name, null as detail from recipes`),
  kept('ladders', 'ladder', 'see_cost', sql`select id, name, null as detail from ladders`),
  kept(
    'customers',
    'customer',
    'read',
    sql`select c.id, c.name, nullif(concat_ws(', ', g.name, c.more ->> 'country'), '') as detail, c.active
      from customers c left join customer_groups g on g.id = c.group_id`,
    sql`r.active`,
  ),
  kept('customer-groups', 'customer group', 'read', sql`select id, name, null as detail from customer_groups`),
  kept('suppliers', 'supplier', 'see_cost', sql`select id, name, currency as detail from suppliers`),
  kept(
    'categories',
    'category',
    'read',
    sql`select c.id, c.name, p.name as detail from categories c left join categories p on p.id = c.parent_id`,
  ),
  kept('breaks', 'quantity breaks', 'read', sql`select id, name, null as detail from break_tables`),
  kept('floors', 'floor', 'see_cost', sql`select id, name, null as detail from floors`),
  ...KINDS.filter((k) => 'name' in k.fields).map((k) =>
    kept(
      k.name,
      k.one,
      k.readRight,
      sql`select id, body ->> 'name' as name, null as detail from records where kind = ${k.name}`,
    ),
  ),
];

const escaped = (word: string) => word.replace(/[\\%_]/g, '\\$&');

/** Records of a register in whose names all words stand; those that begin with them come first. An empty text finds the first. */
export async function foundRecords(
  db: Queries,
  of: Pick<Findable, 'rows' | 'choosable'>,
  text: string,
  most: number,
): Promise<FoundRecord[]> {
  const words = text.trim().split(/\s+/).filter(Boolean);
  const fits = words.map((w) => sql`and r.name ilike ${`%${escaped(w)}%`}`);
  const { rows } = await db.execute<FoundRecord & Record<string, unknown>>(sql`
    select r.id::text as id, r.name, r.detail from (${of.rows}) r where ${of.choosable} ${sql.join(fits, sql` `)}
    order by (r.name ilike ${`${escaped(text.trim())}%`}) desc, lower(r.name), r.id limit ${most}`);
  return rows;
}

/** Records of a register by their ids, also those that can no longer be chosen. */
export async function namedRecords(
  db: Queries,
  of: Pick<Findable, 'rows'>,
  ids: readonly string[],
): Promise<FoundRecord[]> {
  if (ids.length === 0) return [];
  const { rows } = await db.execute<FoundRecord & Record<string, unknown>>(sql`
    select r.id::text as id, r.name, r.detail from (${of.rows}) r where r.id in ${ids.map(Number)} order by r.id`);
  return rows;
}

const byRegister = new Map(FINDABLE.map((f) => [f.register, f]));
export const findable = (register: string): Findable | undefined => byRegister.get(register);
