import type { Buyer } from '../lists/choose-list.ts';
import { toNet } from '../lists/terms.ts';
import { type Dec, ONE, ZERO, dec, divide, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { QuotesView } from './view.ts';
import { type BreakCount, type BreakTable, inPool } from './breaks.ts';
import { type FoundBreaks, breaksFor } from './list-breaks.ts';
import type { BreakCounting } from './lowest-price.ts';
import type { ResolvedLine } from './resolved-line.ts';

/** A line whose list price is found, before anything counts together. */
export type FoundLine = Omit<ResolvedLine, 'breaks'>;

/**
 * The break table of every line, with what counts for it and what came before on the quote. Only lines that the same
 * table prices count together. docs/arithmetic.md, "Quantity breaks".
 */
export function countTogether(
  ws: QuotesView,
  buyer: Buyer,
  found: readonly Outcome<FoundLine>[],
): Outcome<BreakCounting | null>[] {
  const sums = new Map<string, Dec>();
  const lines = found.map((f, i) => {
    if (!f.ok) return figure(null);
    const { pack, quantity, price, line } = f.value;
    const { listPrice } = price;
    const breaks = breaksFor(ws, listPrice, pack.name, buyer);
    if (!breaks) return figure(null);
    const { table, of } = breaks;
    const per = measureOf(breaks, f.value);
    if (!per.ok) return per;
    const { key, counts } = keyOf(ws, table, f.value, buyer, i, line.section);
    const before = sums.get(key) ?? ZERO;
    sums.set(key, before.plus(quantity.times(per.value)));
    return figure({ table, of, key, counts, before, per: per.value });
  });
  return lines.map((l) => {
    if (!l.ok) return l;
    if (!l.value) return figure(null);
    const { key, ...counting } = l.value;
    return figure({ ...counting, counted: settle(sums.get(key)!) });
  });
}

/** What one pack of a line measures: 1, its weight in kg, or its net price before breaks in the currency of the table's list. */
function measureOf({ table, of }: FoundBreaks, { item, pack, price }: FoundLine): Outcome<Dec> {
  switch (table.measure ?? 'units') {
    case 'units':
      return figure(ONE);
    case 'weight':
      return item.weightKg === null || item.weightKg === undefined || dec(item.weightKg).isZero()
        ? refusal('no_weight_for_break', `breaks/${table.id}`, { table: table.name, item: item.sku })
        : figure(dec(item.weightKg).times(pack.units));
    case 'value': {
      const net = toNet(price.listPrice.terms, price.listPrice.base.price);
      if (net.gt(0)) return figure(of?.factor ? divide(net, of.factor) : net);
      return refusal('price_not_positive', `breaks/${table.id}`, { price: net.toFixed() });
    }
  }
}

/** What a line counts with. An item outside of the pool, or a line in no section, counts as the same item over the quote. */
function keyOf(
  ws: QuotesView,
  table: BreakTable,
  { item, pack }: FoundLine,
  buyer: Buyer,
  at: number,
  section: string | null | undefined,
): { readonly key: string; readonly counts: BreakCount } {
  const byItem = { key: `${table.id}\u0000item ${item.id}\u0000${pack.id}`, counts: 'item' } as const;
  switch (table.count) {
    case 'line':
      return { key: `line ${at}`, counts: 'line' };
    case 'item':
      return byItem;
    case 'section':
      return section ? { key: `${table.id}\u0000section ${section}`, counts: 'section' } : byItem;
    case 'pool': {
      const pool = ws.pools.get(table.pool ?? '');
      const channels = buyer.channel ? [buyer.channel] : [];
      const inside = pool && inPool(ws, pool, item, pack.name, channels);
      return inside ? { key: `${table.id}\u0000pool`, counts: 'pool' } : byItem;
    }
  }
}
