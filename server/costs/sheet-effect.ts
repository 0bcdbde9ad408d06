import { type CostChange, canBeTaken } from '#contract/costs.ts';
import { costMoves } from '#core/bulk/price-moves.ts';
import type { Cost } from '#core/costs/cost.ts';
import type { Db } from '../platform/database.ts';
import { workspaceOn } from '../workspace/state.ts';
import { type MoveTally, movesByList, tallyOf } from '../lists/move-tally.ts';
import { findSheet } from './arrivals.ts';
import { examineAgain } from './look-at-sheet.ts';
import { packedEffect } from './sheet-table.ts';
import type { SheetEffectTable } from './cost-work.ts';

const asCost = (c: CostChange, supplier: number, entry: number): Cost => ({
  id: `row ${c.row}`,
  item: c.item!,
  supplier: String(supplier),
  cost: { amount: c.after.amount, currency: c.after.currency },
  quantityPrices: c.after.quantityPrices ?? null,
  reduced: c.after.reduced ? { amount: c.after.reduced, currency: c.after.currency } : null,
  packUnits: c.after.packUnits,
  from: c.after.from,
  to: c.after.to ?? null,
  origin: 'file',
  // known after everything that is
  entry: Number.MAX_SAFE_INTEGER - 1_000_000 + entry,
});

/** What the open rows of a sheet, those that are held too, would make of computed prices once the last of its costs counts. */
export async function sheetEffect(db: Db, id: number, today: string, state: string): Promise<SheetEffectTable> {
  const sheet = await findSheet(db, id);
  const { changes } = await examineAgain(db, sheet, today);
  const open = changes.filter((c) => c.item !== null && canBeTaken(c));
  const day = open.reduce((last, c) => (c.after.from > last ? c.after.from : last), today);
  const { ws } = await workspaceOn(db, day);
  const rowOf = new Map(open.map((c) => [c.item!, c.row]));
  const byList = new Map<string, MoveTally>();
  const byRow = new Map<number, MoveTally>();
  const costs = open.map((c, i) => asCost(c, sheet.supplierId, i));
  let prices = 0;
  for (const move of costMoves(ws, costs, day)) {
    prices++;
    tallyOf(byList, move.list).take(move);
    const row = rowOf.get(move.of) ?? rowOf.get(move.item);
    if (row !== undefined) tallyOf(byRow, row).take(move);
  }
  return packedEffect({ state, day, prices, lists: movesByList(ws, byList) }, changes, (row) => {
    const tally = byRow.get(row);
    return tally && { prices: tally.prices, lists: tally.lists.size, ...tally.range };
  });
}
