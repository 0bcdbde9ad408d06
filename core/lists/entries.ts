import { type Dec, ZERO, dec, max, share } from '../numbers/decimal.ts';
import { type Tie, type Scope, ScopeIndex, compareSpecificity, fits, specificityOf } from '../workspace/scope.ts';
import type { Day, Item, Prepared } from '../workspace/index.ts';

export const ENTRY_KINDS = ['price', 'percent_off', 'amount_off'] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

/** What an entry or a reduction does to the price of the goods as the list shows it. */
export interface PriceChange {
  readonly kind: EntryKind;
  /** A price or an amount per pack as the list shows prices, in its currency; or per cent. */
  readonly value: string;
  /** Applied to what the next, less specific one makes, instead of replacing it. Not with a price. */
  readonly onTop?: boolean;
  /** First and last day, both whole. */
  readonly from?: Day | null;
  readonly to?: Day | null;
}

/** A row of a price list: a typed price, or a reduction on the price the list has otherwise. */
export interface ListEntry extends PriceChange {
  readonly id: string;
  readonly scope: Scope;
  /** A price of 0 is a price of nothing: it must be confirmed. */
  readonly zeroConfirmed?: boolean;
}

/** A reduction for a customer, or for the members of a group, on what the list asks. */
export interface Reduction extends PriceChange {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Exactly one of the two. */
  readonly customer?: string | null;
  readonly group?: string | null;
  readonly scope: Scope;
  /** Only on these lists; empty: on all. */
  readonly lists?: readonly string[];
}

/** Inside a list and among reductions; source: docs/arithmetic.md, "Which entry". A pack alone breaks ties last. */
const ORDER: readonly Tie[] = ['item', 'model', 'lockstep', 'attributes', 'category', 'brand', 'supplier', 'pack'];

export function onDay(dated: { readonly from?: Day | null; readonly to?: Day | null }, day: Day): boolean {
  return (!dated.from || dated.from <= day) && (!dated.to || day <= dated.to);
}

export const isDated = (row: { readonly from?: Day | null; readonly to?: Day | null }): boolean =>
  Boolean(row.from ?? row.to);

/** Dated before undated, the later start before the earlier. */
function compareDates(a: PriceChange, b: PriceChange): number {
  if (isDated(a) !== isDated(b)) return isDated(a) ? -1 : 1;
  const [x, y] = [a.from ?? '', b.from ?? ''];
  return x === y ? 0 : x < y ? 1 : -1;
}

/** Below 0: `a` wins; 0: they tie. */
export function compareEntries(
  ws: Prepared,
  a: PriceChange & { scope: Scope },
  b: PriceChange & { scope: Scope },
): number {
  return compareSpecificity(specificityOf(ws, a.scope, ORDER), specificityOf(ws, b.scope, ORDER)) || compareDates(a, b);
}

/** The entries of a list that hold an item's pack on a day, the winner first. */
export function entriesFor(ws: Prepared, list: string, item: Item, pack: string, day: Day): readonly ListEntry[] {
  const found = ws.entries(list).candidates(item.id);
  if (found.length === 0) return found;
  return found
    .filter((e) => onDay(e, day) && fits(ws, e.scope, item, pack))
    .sort((a, b) => compareEntries(ws, a, b) || (a.id < b.id ? -1 : 1));
}

export function indexEntries(entries: readonly ListEntry[]): ScopeIndex<ListEntry> {
  return new ScopeIndex(entries, (e) => e.scope);
}

/** The reductions that reach a buyer for an item's pack: a customer's own before a group's, then the most specific. */
export function reductionsFor(
  ws: Prepared,
  who: { customer: string | null; groups: readonly string[] },
  list: string,
  item: Item,
  pack: string,
  day: Day,
): readonly Reduction[] {
  const found = ws.reductions.candidates(item.id);
  if (found.length === 0) return found;
  const rank = (r: Reduction) => (r.customer ? -1 : (ws.groups.get(r.group ?? '')?.rank ?? 0));
  return found
    .filter(
      (r) =>
        (r.customer ? r.customer === who.customer : r.group && who.groups.includes(r.group)) &&
        (!r.lists || r.lists.length === 0 || r.lists.includes(list)) &&
        onDay(r, day) &&
        fits(ws, r.scope, item, pack),
    )
    .sort(
      (a, b) =>
        Number(Boolean(b.customer)) - Number(Boolean(a.customer)) ||
        compareEntries(ws, a, b) ||
        rank(a) - rank(b) ||
        (a.id < b.id ? -1 : 1),
    );
}

/** What a change makes of the price of the goods (deposit left aside); a fall below 0 is cut at 0. */
export function changed(change: Pick<PriceChange, 'kind' | 'value'>, goods: Dec, deposit: Dec): Dec {
  switch (change.kind) {
    case 'price':
      return dec(change.value).minus(deposit);
    case 'percent_off':
      return goods.minus(goods.times(share(dec(change.value))));
    case 'amount_off':
      return max(goods.minus(change.value), ZERO);
  }
}

export function describeChange(change: Pick<PriceChange, 'kind' | 'value'>): string {
  return { price: `price ${change.value}`, percent_off: `${change.value} % off`, amount_off: `${change.value} off` }[
    change.kind
  ];
}
