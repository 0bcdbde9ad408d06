import type { CostChange, ListMoves, SheetEffect } from '#contract/costs.ts';
import { type PriceMove, costMoves } from '#core/bulk/cost-moves.ts';
import type { Cost } from '#core/workspace/index.ts';
import type { Db } from '../platform/database.ts';
import { workspaceOn } from '../workspace/state.ts';
import { examine, findSheet } from './arrivals.ts';

/** Counts moves, and how wide they are. */
class Tally {
  prices = 0;
  rises = 0;
  falls = 0;
  private least = Infinity;
  private most = -Infinity;
  readonly lists = new Set<string>();

  take({ list, percent }: PriceMove): void {
    this.prices++;
    this.lists.add(list);
    if (percent > 0) this.rises++;
    else this.falls++;
    if (!Number.isFinite(percent)) return;
    this.least = Math.min(this.least, percent);
    this.most = Math.max(this.most, percent);
  }

  get range(): { least: string | null; most: string | null } {
    const text = (n: number) => (Number.isFinite(n) ? n.toFixed(2) : null);
    return { least: text(this.least), most: text(this.most) };
  }
}

const asCost = (c: CostChange, supplier: number, entry: number): Cost => ({
  id: `row ${c.row}`,
  item: c.item!,
  supplier: String(supplier),
  cost: { amount: c.after.amount, currency: c.after.currency },
  reduced: c.after.reduced ? { amount: c.after.reduced, currency: c.after.currency } : null,
  packUnits: c.after.packUnits,
  from: c.after.from,
  origin: 'file',
  // known after everything that is
  entry: Number.MAX_SAFE_INTEGER - 1_000_000 + entry,
});

/** What the open rows of a sheet, those that are held too, would make of computed prices once the last of its costs counts. */
export async function sheetEffect(db: Db, id: number, today: string): Promise<SheetEffect> {
  const sheet = await findSheet(db, id);
  const { changes } = await examine(db, sheet, today);
  const open = changes.filter((c) => c.item !== null && !c.taken && c.kind !== 'unchanged' && c.kind !== 'unknown');
  const day = open.reduce((last, c) => (c.after.from > last ? c.after.from : last), today);
  const { ws } = await workspaceOn(db, day);
  const rowOf = new Map(open.map((c) => [c.item!, c.row]));
  const byList = new Map<string, Tally>();
  const byRow = new Map<number, Tally>();
  const into = <K>(of: Map<K, Tally>, key: K): Tally => {
    const tally = of.get(key) ?? new Tally();
    of.set(key, tally);
    return tally;
  };
  const costs = open.map((c, i) => asCost(c, sheet.supplierId, i));
  let prices = 0;
  for (const move of costMoves(ws, costs, day)) {
    prices++;
    into(byList, move.list).take(move);
    const row = rowOf.get(move.of) ?? rowOf.get(move.item);
    if (row !== undefined) into(byRow, row).take(move);
  }
  return {
    day,
    prices,
    lists: [...byList].map(([list, t]): ListMoves => ({
      list,
      name: ws.lists.get(list)!.name,
      prices: t.prices,
      rises: t.rises,
      falls: t.falls,
      ...t.range,
    })),
    rows: Object.fromEntries(
      [...byRow].map(([row, t]) => [row, { prices: t.prices, lists: t.lists.size, ...t.range }]),
    ),
  };
}
