import { inArray, sql } from 'drizzle-orm';
import { priceLists } from '../lists/tables.ts';
import type { Queries } from '../platform/database.ts';

export interface Placed {
  readonly list: string;
  /** The list whose prices its own are made from. */
  readonly parent: string | null;
}

/** Lists in the order in which they are made: those that others are made from first. */
export async function parentsFirst(db: Queries, lists: readonly string[]): Promise<Placed[]> {
  const rows = await db
    .select({
      list: sql<string>`${priceLists.id}::text`,
      parent: sql<
        string | null
      >`(select r.basis_list_id::text from recipes r where r.id = ${priceLists.recipeId} and r.basis_kind = 'list')`,
    })
    .from(priceLists)
    .where(inArray(priceLists.id, lists.map(Number)));
  const known = new Map(rows.map((r) => [r.list, r]));
  const placed = new Map<string, Placed>();
  const place = (list: string, above: readonly string[]): void => {
    const row = known.get(list);
    // a circle of lists is told by the check, and ends here
    if (!row || placed.has(list) || above.includes(list)) return;
    if (row.parent) place(row.parent, [...above, list]);
    placed.set(list, row);
  };
  for (const list of [...lists].sort((a, b) => Number(a) - Number(b))) place(list, []);
  return [...placed.values()];
}
