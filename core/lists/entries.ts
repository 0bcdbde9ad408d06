import type { Operation } from '../buildup/steps.ts';
import { type Dec, dec, plain } from '../numbers/decimal.ts';
import { type Scope, ScopeIndex, type Tie, compareSpecificity, fits, specificityOf } from '../items/scope.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, OrderLimits, Pack } from '../items/item.ts';
import type { ItemsView } from '../items/view.ts';
import type { CustomerGroup } from './customer.ts';
import { exactPriceOf, exactPriceReaches } from './exact-price.ts';

export const ENTRY_KINDS = ['price', 'percent_off', 'amount_off', 'percent_more', 'amount_more'] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

/** What an entry or a reduction does to the price of the goods as the list shows it. */
export interface PriceChange {
  readonly kind: EntryKind;
  /** A price or an amount per pack as the list shows prices, in its currency; or per cent. */
  readonly value: string;
  /** An exact price is that of a unit: a pack costs it times its units. Without it, and without a named pack, it is for the base pack. */
  readonly perUnit?: boolean;
  /** Comes on what stands, instead of standing itself. Not with a price. */
  readonly onTop?: boolean;
  /** First and last day, both whole. */
  readonly from?: Day | null;
  readonly to?: Day | null;
  /** What leaves nothing to pay for the goods (a price of 0, 100 % off) must be confirmed. */
  readonly zeroConfirmed?: boolean;
}

/** A limit of an entry: an amount per pack as the list shows prices, or per cent of the price the entry starts from. */
export interface EntryLimit {
  readonly amount?: string | null;
  readonly percent?: string | null;
}

/** A row of a price list: a typed price, or a change of the price the list has under its entries; a short recipe of its own. */
export interface ListEntry extends PriceChange {
  readonly id: string;
  readonly scope: Scope;
  /** Rounds what the change makes, instead of the list's decimals. */
  readonly ladder?: string | null;
  /** After rounding, as guards are. */
  readonly least?: EntryLimit | null;
  readonly most?: EntryLimit | null;
  /** Counts from this quantity of a line on, in packs. */
  readonly leastQuantity?: string | null;
  /** Order limits where this entry stands, instead of the item's. */
  readonly order?: OrderLimits | null;
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
const ORDER: readonly Tie[] = [
  'item',
  'model',
  'lockstep',
  'attributes',
  'category',
  'brand',
  'supplier',
  'pack',
  'channel',
];

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

/** Below 0: `a` is the more specific; 0: equally specific, whatever their days. */
export function compareScopes(ws: ItemsView, a: { readonly scope: Scope }, b: { readonly scope: Scope }): number {
  return compareSpecificity(specificityOf(ws, a.scope, ORDER), specificityOf(ws, b.scope, ORDER));
}

type Ranked = PriceChange & { readonly scope: Scope; readonly leastQuantity?: string | null };

/** Below 0: `a` wins; 0: they tie. Of equally specific ones the one from the larger quantity, then the dated, then the later start. */
export function compareEntries(ws: ItemsView, a: Ranked, b: Ranked): number {
  return compareScopes(ws, a, b) || dec(b.leastQuantity ?? '0').cmp(a.leastQuantity ?? '0') || compareDates(a, b);
}

/** What is looked up to find the entries and reductions that hold. */
export interface EntriesView extends ItemsView {
  readonly groups: ReadonlyMap<string, CustomerGroup>;
  readonly reductions: ScopeIndex<Reduction>;
  entries(list: string): ScopeIndex<ListEntry>;
}

/** What an entry is held against besides the item. */
export interface EntryContext {
  readonly day: Day;
  readonly pack: Pack;
  readonly channels: readonly string[];
  /** Of the line, in packs. */
  readonly quantity: Dec;
}

/** Whether a change counts for a pack: an exact price is not for every one. */
const exactFits = (ws: ItemsView, change: PriceChange & { readonly scope: Scope }, item: Item, pack: Pack): boolean =>
  change.kind !== 'price' ||
  exactPriceReaches({ perUnit: change.perUnit, pack: change.scope.pack }, ws.followed(item), pack);

/** The entries of a list that hold an item's pack on a day, the winner first. */
export function entriesFor(ws: EntriesView, list: string, item: Item, c: EntryContext): readonly ListEntry[] {
  const found = ws.entries(list).candidates(item.id);
  if (found.length === 0) return found;
  return found
    .filter(
      (e) =>
        onDay(e, c.day) &&
        (!e.leastQuantity || c.quantity.gte(e.leastQuantity)) &&
        fits(ws, e.scope, item, c.pack.name, c.channels) &&
        exactFits(ws, e, item, c.pack),
    )
    .sort((a, b) => compareEntries(ws, a, b) || (a.id < b.id ? -1 : 1));
}

export function indexEntries(entries: readonly ListEntry[]): ScopeIndex<ListEntry> {
  return new ScopeIndex(entries, (e) => e.scope);
}

/** Who buys, and through which channel. */
export interface ReductionBuyer {
  readonly customer: string | null;
  readonly groups: readonly string[];
  readonly channel: string | null;
}

/**
 * The reductions that reach a buyer for an item's pack: `standing` those of which the lowest counts (a customer's own
 * before a group's, of these the most specific), `onTop` from the general to the special, `replaced` the rest.
 */
export function reductionsFor(
  ws: EntriesView,
  who: ReductionBuyer,
  list: string,
  item: Item,
  pack: Pack,
  day: Day,
): { standing: readonly Reduction[]; onTop: readonly Reduction[]; replaced: readonly Reduction[] } {
  const all = ws.reductions.candidates(item.id);
  if (all.length === 0) return { standing: all, onTop: all, replaced: all };
  const channels = who.channel ? [who.channel] : [];
  const rank = (r: Reduction) => (r.customer ? -1 : (ws.groups.get(r.group ?? '')?.rank ?? 0));
  const own = (a: Reduction, b: Reduction) => Number(Boolean(b.customer)) - Number(Boolean(a.customer));
  const alike = (a: Reduction, b: Reduction) => own(a, b) || compareScopes(ws, a, b);
  const found = all
    .filter(
      (r) =>
        (r.customer ? r.customer === who.customer : r.group && who.groups.includes(r.group)) &&
        (!r.lists || r.lists.length === 0 || r.lists.includes(list)) &&
        onDay(r, day) &&
        fits(ws, r.scope, item, pack.name, channels) &&
        exactFits(ws, r, item, pack),
    )
    .sort((a, b) => alike(a, b) || compareDates(a, b) || rank(a) - rank(b) || (a.id < b.id ? -1 : 1));
  const competing = found.filter((r) => !r.onTop);
  const first = competing[0];
  return {
    standing: first ? competing.filter((r) => alike(first, r) === 0) : [],
    onTop: found.filter((r) => r.onTop).reverse(),
    replaced: first ? competing.filter((r) => alike(first, r) !== 0) : [],
  };
}

/** A change as an operation on the price of a pack with the deposit in it. */
export function changeOperation(
  change: Pick<PriceChange, 'kind' | 'value' | 'perUnit'>,
  deposit: Dec,
  pack: Pack,
): Operation {
  return change.kind === 'price'
    ? { op: 'set', value: plain(exactPriceOf(change.value, change.perUnit, pack)) }
    : { op: 'goods', change: change.kind, value: change.value, deposit: plain(deposit) };
}

const CHANGE_WORDS: Record<EntryKind, (value: string) => string> = {
  price: (v) => `price ${v}`,
  percent_off: (v) => `${v} % off`,
  amount_off: (v) => `${v} off`,
  percent_more: (v) => `${v} % more`,
  amount_more: (v) => `${v} more`,
};

export const describeChange = (change: Pick<PriceChange, 'kind' | 'value' | 'perUnit'>): string =>
  `${CHANGE_WORDS[change.kind](change.value)}${change.perUnit ? ' per unit' : ''}`;
