import type { Buyer } from '../lists/choose-list.ts';
import { toNet } from '../lists/terms.ts';
import { type Dec, ONE, ZERO, dec, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { QuotesView } from './view.ts';
import { type BreakTable, breakTableFor, inPool } from './breaks.ts';
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
    const { item, pack, quantity, price, line } = f.value;
    const { listPrice } = price;
    const table = breakTableFor(ws, listPrice.list.id, listPrice.item, pack.name, buyer);
    if (!table) return figure(null);
    const per = measureOf(table, f.value);
    if (!per.ok) return per;
    const key = keyOf(ws, table, f.value, buyer, i, line.section);
    const before = sums.get(key) ?? ZERO;
    sums.set(key, before.plus(quantity.times(per.value)));
    return figure({ table, key, before, per: per.value, item });
  });
  return lines.map((l) => {
    if (!l.ok) return l;
    if (!l.value) return figure(null);
    const { table, key, before, per } = l.value;
    return figure({ table, counted: settle(sums.get(key)!), before, per });
  });
}

/** What one pack of a line measures: 1, its weight in kg, or its net price before breaks. */
function measureOf(table: BreakTable, { item, pack, price }: FoundLine): Outcome<Dec> {
  switch (table.measure ?? 'units') {
    case 'units':
      return figure(ONE);
    case 'weight':
      return item.weightKg === null || item.weightKg === undefined || dec(item.weightKg).isZero()
        ? refusal('no_weight_for_break', `breaks/${table.id}`, { table: table.name, item: item.sku })
        : figure(dec(item.weightKg).times(pack.units));
    case 'value': {
      const net = toNet(price.listPrice.terms, price.listPrice.base.price);
      return net.gt(0) ? figure(net) : refusal('price_not_positive', `breaks/${table.id}`, { price: net.toFixed() });
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
): string {
  const byItem = `${table.id}\u0000item ${item.id}\u0000${pack.id}`;
  switch (table.count) {
    case 'line':
      return `line ${at}`;
    case 'item':
      return byItem;
    case 'section':
      return section ? `${table.id}\u0000section ${section}` : byItem;
    case 'pool': {
      const pool = ws.pools.get(table.pool ?? '');
      const channels = buyer.channel ? [buyer.channel] : [];
      return pool && inPool(ws, pool, item, pack.name, channels) ? `${table.id}\u0000pool` : byItem;
    }
  }
}
