import { type SQL, and, asc, count, eq, ilike, inArray, isNotNull, or, sql } from 'drizzle-orm';
import { type ItemValue, type ItemWords, type NamedItem } from '#contract/items.ts';
import type { Queries } from '../platform/database.ts';
import { suppliers } from '../setup/tables.ts';
import { items, packs } from './tables.ts';

/** So many are found at most: whoever looks for one types on. */
const MOST_FOUND = 12;

/** The first items whose code and name hold every word of a text, or one of whose packs has it as its barcode; the nearest by code first. */
export async function foundItems(db: Queries, text: string, day: string | null): Promise<NamedItem[]> {
  const asked = text.trim().slice(0, 80);
  if (asked === '') return [];
  const escaped = (word: string) => word.replace(/[\\%_]/g, '\\$&');
  const within = sql`${items.sku} || ' ' || ${items.name}`;
  const words = asked.split(/\s+/).map((word) => ilike(within, `%${escaped(word)}%`));
  const scanned = db
    .select({ id: packs.itemId })
    .from(packs)
    .where(eq(packs.barcode, asked.replace(/[\s-]/g, '')));
  // null: those that were retired too
  const sold = day === null ? undefined : sql`(${items.retiredFrom} is null or ${items.retiredFrom} > ${day})`;
  return named(db, and(sold, or(and(...words), inArray(items.id, scanned))), [
    sql`${inArray(items.id, scanned)} desc`,
    sql`lower(${items.sku}) = ${asked.toLowerCase()} desc`,
    sql`${ilike(items.sku, `${escaped(asked)}%`)} desc`,
    asc(items.sku),
  ]);
}

export const namedItems = (db: Queries, ids: readonly number[]): Promise<NamedItem[]> =>
  ids.length === 0 ? Promise.resolve([]) : named(db, inArray(items.id, [...new Set(ids)]), null);

async function named(db: Queries, which: SQL | undefined, nearest: SQL[] | null): Promise<NamedItem[]> {
  const query = db
    .select({
      id: items.id,
      sku: items.sku,
      name: items.name,
      unit: items.unit,
      supplier: items.supplierId,
      supplierName: suppliers.name,
    })
    .from(items)
    .leftJoin(suppliers, eq(suppliers.id, items.supplierId))
    .where(which);
  const found = await (nearest ? query.orderBy(...nearest).limit(MOST_FOUND) : query.orderBy(asc(items.id)));
  if (found.length === 0) return [];
  const theirs = new Map<number, NamedItem['packs']>(found.map((i) => [i.id, []]));
  for (const p of await db
    .select({ id: packs.id, item: packs.itemId, name: packs.name, units: packs.units, barcode: packs.barcode })
    .from(packs)
    .where(
      inArray(
        packs.itemId,
        found.map((i) => i.id),
      ),
    )
    .orderBy(asc(packs.id)))
    theirs.get(p.item)!.push({ id: String(p.id), name: p.name, units: p.units, barcode: p.barcode });
  return found.map((i) => ({
    ...i,
    id: String(i.id),
    supplier: i.supplier === null ? null : String(i.supplier),
    packs: theirs.get(i.id)!,
  }));
}

/** What items say of their brand or of an attribute, each value as it is written, in the order of the first to say it. */
export async function itemValues(db: Queries, of: string): Promise<ItemValue[]> {
  const value = of === 'brand' ? items.brand : sql<string>`${items.attributes} ->> ${of}`;
  const said = sql<string>`${value}`.as('value');
  const found = await db
    .select({ value: said, items: count(), sku: sql<string>`(array_agg(${items.sku} order by ${items.id}))[1]` })
    .from(items)
    .where(sql`coalesce(${value}, '') <> ''`)
    .groupBy(sql`1`)
    .orderBy(sql`min(${items.id})`);
  return found;
}

/** Texts that are in use, each once. */
export async function itemWords(db: Queries, of: ItemWords): Promise<string[]> {
  if (of === 'packs') return (await db.selectDistinct({ text: packs.name }).from(packs)).map((r) => r.text).sort();
  const column = of === 'brands' ? items.brand : items.model;
  const rows = await db.selectDistinct({ text: column }).from(items).where(isNotNull(column));
  return rows.flatMap((r) => r.text ?? []).sort();
}
