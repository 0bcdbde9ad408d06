import type { ListPrice, TakenFrom } from '../lists/list-price.ts';
import { type ShownTerms, toNet, toShown, withoutDeposit } from '../lists/terms.ts';
import { dec, plain, settle } from '../numbers/decimal.ts';
import { type BreakBuyer, type BreakRow, type BreakTable, type BreaksView, breakTableFor } from './breaks.ts';

/** The table that counts for a line, its rows in the terms of the line's list. */
export interface FoundBreaks {
  readonly table: BreakTable;
  /** The list it belongs to, where the price is taken from another; null: the line's own. */
  readonly of: TakenFrom | null;
}

/**
 * The breaks of what a list asks: its own, else those of the list its price is taken from. Prices and amounts of those are
 * brought to this list's terms as the price itself is. docs/arithmetic.md, "Quantity breaks".
 */
export function breaksFor(
  ws: BreaksView,
  { list, item, terms, takenFrom }: Pick<ListPrice, 'list' | 'item' | 'terms' | 'takenFrom'>,
  pack: string,
  buyer: BreakBuyer | null,
): FoundBreaks | null {
  const own = breakTableFor(ws, list.id, item, pack, buyer);
  if (own) return { table: own, of: null };
  for (const of of takenFrom) {
    const table = breakTableFor(ws, of.list.id, item, pack, buyer);
    if (table) return { table: { ...table, rows: table.rows.map((r) => inTermsOf(r, of, terms)) }, of };
  }
  return null;
}

function inTermsOf(row: BreakRow, of: TakenFrom, terms: ShownTerms): BreakRow {
  const { factor } = of;
  if (factor === null || row.kind === 'percent_off') return row;
  const [from, to] = row.kind === 'price' ? [of.terms, terms] : [withoutDeposit(of.terms), withoutDeposit(terms)];
  return { ...row, value: plain(settle(toShown(to, toNet(from, dec(row.value)).times(factor)))) };
}
