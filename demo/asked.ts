import { eq } from 'drizzle-orm';
import { items, packs } from '#server/items/tables.ts';
import { postPrices } from '#server/ledger/post-prices.ts';
import { priceLists } from '#server/lists/tables.ts';
import type { Db } from '#server/platform/database.ts';
import { atNoon, daysBefore } from './days.ts';

const PRICES = [
  ['BO-TEL-18', '14.90'],
  ['BO-TEL-24', '16.90'],
] as const;

/** Prices for the boat fair that wait for a second person. */
export async function askedPrices(
  db: Db,
  today: string,
  person: Readonly<{ [signIn: string]: number }>,
): Promise<void> {
  const [fair] = await db.select({ id: priceLists.id }).from(priceLists).where(eq(priceLists.name, 'Boat fair'));
  const lines = [];
  for (const [sku, after] of PRICES) {
    const [found] = await db
      .select({ item: items.id, pack: packs.id })
      .from(items)
      .innerJoin(packs, eq(packs.itemId, items.id))
      .where(eq(items.sku, sku))
      .orderBy(packs.id);
    lines.push({
      item: String(found!.item),
      pack: String(found!.pack),
      before: null,
      after,
      release: false,
      fall: false,
      handSet: { reason: 'shown on the stand', lastDay: null },
    });
  }
  const order = {
    effective: today,
    lastDay: daysBefore(today, -5),
    reason: 'Stand prices for the boat fair',
    lists: [{ list: fair!.id, lines }],
  };
  await postPrices({ db, now: () => atNoon(daysBefore(today, 1)) }, person['oskar']!, order, today);
}
