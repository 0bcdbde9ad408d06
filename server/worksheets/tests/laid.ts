import { TODAY, type Workshop } from '../../platform/tests/workshop.ts';
import { worksheetLists, worksheets } from '../tables.ts';

/** A worksheet over the list at the counter and the one that is made from it, written down by hand; its number. */
export async function laidWorksheet(
  { context: { db, now }, shop }: Workshop,
  head: Partial<typeof worksheets.$inferInsert> = {},
): Promise<number> {
  const usual = { reason: 'laid by hand', day: TODAY, madeBy: shop.people['administrator']!, madeAt: now() };
  const [made] = await db
    .insert(worksheets)
    .values({ ...usual, ...head })
    .returning();
  const worksheetId = made!.id;
  await db
    .insert(worksheetLists)
    .values([shop.counter, shop.yards].map((list) => ({ worksheetId, listId: Number(list) })));
  return worksheetId;
}
