import { eq } from 'drizzle-orm';
import { dec, roundHalfUp } from '#core/numbers/decimal.ts';
import { RIGHTS } from '#contract/people.ts';
import { makeFinal, writeBill } from '#server/costs/bills.ts';
import { costs } from '#server/costs/tables.ts';
import { items } from '#server/items/tables.ts';
import type { Db } from '#server/platform/database.ts';
import { suppliers } from '#server/setup/tables.ts';
import { atNoon, daysBefore } from './days.ts';

/** Two bills of the fitter's: one is final, the other waits, with a line sent back and a price that was corrected. */
export async function demoBills(db: Db, today: string, people: Record<string, number>): Promise<number> {
  const marit = { id: people['marit']!, name: 'Marit', role: 'administrator' as const, rights: new Set(RIGHTS) };
  const [supplier] = await db.select().from(suppliers).where(eq(suppliers.name, 'Aldermere Fittings'));
  const line = async (
    sku: string,
    quantity: string,
    share: string,
    kind: 'goods' | 'return' | 'correction' = 'goods',
  ) => {
    const [item] = await db.select().from(items).where(eq(items.sku, sku));
    const known = await db.select().from(costs).where(eq(costs.itemId, item!.id)).orderBy(costs.validFrom);
    const { amount, packUnits } = known.at(-1)!;
    return {
      item: String(item!.id),
      kind,
      quantity,
      packUnits,
      price: roundHalfUp(dec(amount).times(share), 2).toFixed(2),
    };
  };
  const bill = async (number: string, back: number, lines: Awaited<ReturnType<typeof line>>[], final: boolean) => {
    const day = daysBefore(today, back);
    const here = { db, now: () => atNoon(day), jobs: { enqueue: () => Promise.resolve() } };
    const head = { supplier: String(supplier!.id), number, day, currency: 'SEK', note: null };
    const id = await writeBill(here, marit, { ...head, lines }, null);
    if (final) await makeFinal(here, marit, id, { version: 1, looked: true }, day);
  };
  const first = [
    await line('SH-BO-08', '6', '1'),
    await line('SH-BO-10', '4', '1.021'),
    await line('CL-HO-150-S', '12', '1'),
  ];
  await bill('AF-20417', 19, first, true);
  const second = [
    await line('SH-ST-12', '5', '1.034'),
    await line('BK-DO-57', '8', '0.985'),
    await line('CL-HO-150-S', '2', '1', 'return'),
    await line('SH-BO-10', '4', '1.008', 'correction'),
  ];
  await bill('AF-20533', 1, second, false);
  return 2;
}
