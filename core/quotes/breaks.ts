import type { CustomerGroup } from '../lists/customer.ts';
import { type Dec, ZERO, dec, max, min, plain } from '../numbers/decimal.ts';
import type { Item } from '../items/item.ts';
import type { ItemsView } from '../items/view.ts';
import { type Scope, fits } from '../items/scope.ts';

export const BREAK_WAYS = ['whole', 'sliced'] as const;
export type BreakWay = (typeof BREAK_WAYS)[number];
export const BREAK_COUNTS = ['line', 'item', 'pool', 'section'] as const;
export type BreakCount = (typeof BREAK_COUNTS)[number];
/** What is counted: packs as ordered, kilograms, or money (before breaks, net of tax and deposit, in the list's currency). */
export const BREAK_MEASURES = ['units', 'weight', 'value'] as const;
export type BreakMeasure = (typeof BREAK_MEASURES)[number];
export const BREAK_KINDS = ['price', 'percent_off', 'amount_off'] as const;
export type BreakKind = (typeof BREAK_KINDS)[number];

export interface BreakRow {
  /** In what the table measures. */
  readonly from: string;
  readonly kind: BreakKind;
  /** A price or an amount in the list's currency, as the list shows it; or per cent of the list price. */
  readonly value: string;
  /** Goods for nothing from here on are meant. */
  readonly zeroConfirmed?: boolean;
}

export interface BreakTable {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly list: string;
  /** What it is for: one item, or a category with everything below it. */
  readonly item?: string | null;
  readonly category?: string | null;
  /** Only for packs of this name. */
  readonly pack?: string | null;
  /** Only for this customer, for buyers of this group, in this region, or through this sales channel. */
  readonly customer?: string | null;
  readonly group?: string | null;
  readonly region?: string | null;
  readonly channel?: string | null;
  readonly way: BreakWay;
  readonly count: BreakCount;
  /** Absent: units. */
  readonly measure?: BreakMeasure;
  /** Whose quantities count together, where counted by pool. */
  readonly pool?: string | null;
  /** Applied on top of a dated or a group's reduction, instead of competing with it. */
  readonly onTop?: boolean;
  /** Whole breaks: a total is never more than that of the next break. */
  readonly neverMoreThanNext?: boolean;
  readonly rows: readonly BreakRow[];
}

/** Items whose quantities count together, in their packs as ordered. */
export interface Pool {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** An item that any of these holds belongs to the pool. */
  readonly items: readonly Scope[];
}

/** What is looked up to find the table of an item's pack. */
export interface BreaksView extends ItemsView {
  readonly groups: ReadonlyMap<string, CustomerGroup>;
  breaks(list: string): readonly BreakTable[];
}

export function inPool(ws: ItemsView, pool: Pool, item: Item, pack: string, channels: readonly string[]): boolean {
  return pool.items.some((scope) => fits(ws, scope, item, pack, channels));
}

/** The rows of a table, ascending by "from". */
export function ascending(rows: readonly BreakRow[]): BreakRow[] {
  return [...rows].sort((a, b) => dec(a.from).cmp(b.from));
}

/** What a break makes of the list price, before rounding; a fall below 0 is cut at 0. */
export function priceAtBreak(row: BreakRow, listPrice: Dec): Dec {
  switch (row.kind) {
    case 'price':
      return dec(row.value);
    case 'percent_off':
      return listPrice.times(dec(100).minus(row.value)).times('0.01');
    case 'amount_off':
      return max(listPrice.minus(row.value), ZERO);
  }
}

/** Whole breaks: the break reached at the counted quantity ("from" inclusive), or null before the first. */
export function reachedBreak(rows: readonly BreakRow[], counted: Dec): BreakRow | null {
  let best: BreakRow | null = null;
  for (const row of ascending(rows)) if (counted.gte(row.from)) best = row;
  return best;
}

export interface Slice {
  readonly from: Dec;
  readonly quantity: Dec;
  /** Null: the list price. */
  readonly row: BreakRow | null;
}

/**
 * Sliced breaks: how a quantity that comes after `before` counted units falls into the slices. What lies up to a
 * "from" costs the earlier price, what lies beyond it the later.
 */
export function slicesOf(rows: readonly BreakRow[], before: Dec, quantity: Dec): Slice[] {
  const edges = ascending(rows);
  const out: Slice[] = [];
  const end = before.plus(quantity);
  for (let i = 0; i <= edges.length; i++) {
    const start = i === 0 ? ZERO : dec(edges[i - 1]!.from);
    const stop = i < edges.length ? dec(edges[i]!.from) : end;
    const part = min(end, max(stop, start)).minus(max(before, start));
    if (part.gt(0)) out.push({ from: max(before, start), quantity: part, row: i === 0 ? null : edges[i - 1]! });
  }
  return out;
}

/** Bands as screens show them: "6 to 10", "11 and more" for whole units; otherwise "from 6". */
export function bandsOf(rows: readonly BreakRow[]): { from: string; to: string | null }[] {
  const edges = ascending(rows);
  return edges.map((row, i) => {
    const next = edges[i + 1];
    const whole = dec(row.from).isInteger() && next !== undefined && dec(next.from).isInteger();
    return { from: row.from, to: whole ? plain(dec(next.from).minus(1)) : null };
  });
}

/** Just below a break more units may cost less in all (whole way): the fewest, and what they would save, by the table alone. */
export function cheaperByBuyingMore(
  rows: readonly BreakRow[],
  listPrice: Dec,
  counted: Dec,
): { buy: Dec; saves: Dec } | null {
  const priceAt = (quantity: Dec) => {
    const row = reachedBreak(rows, quantity);
    return row ? priceAtBreak(row, listPrice) : listPrice;
  };
  const now = priceAt(counted).times(counted);
  for (const row of ascending(rows)) {
    if (counted.gte(row.from)) continue;
    const total = priceAt(dec(row.from)).times(row.from);
    if (total.lt(now)) return { buy: dec(row.from).minus(counted), saves: now.minus(total) };
  }
  return null;
}

export interface BreakFault {
  readonly row: number;
  readonly code: 'from_not_above_zero' | 'not_a_number' | 'negative' | 'twice' | 'percent_above_100';
}

export function breakFaults(rows: readonly BreakRow[]): BreakFault[] {
  const out: BreakFault[] = [];
  const seen = new Set<string>();
  rows.forEach((r, row) => {
    const numbers = [r.from, r.value].every((t) => /^-?\d+(\.\d+)?$/.test(t));
    if (!numbers) return void out.push({ row, code: 'not_a_number' });
    if (dec(r.from).lte(0)) out.push({ row, code: 'from_not_above_zero' });
    if (dec(r.value).lt(0)) out.push({ row, code: 'negative' });
    if (r.kind === 'percent_off' && dec(r.value).gt(100)) out.push({ row, code: 'percent_above_100' });
    const key = plain(dec(r.from));
    if (seen.has(key)) out.push({ row, code: 'twice' });
    seen.add(key);
  });
  return out;
}

/** What a table is for, field by field: two of a list that agree in all of it are equally specific. */
export const breakScope = (t: BreakTable) => [
  ...[t.item, t.category, t.pack],
  ...[t.customer, t.group, t.region, t.channel],
];

/** Whom a break table may be tied to. */
export interface BreakBuyer {
  readonly customer?: string | null;
  readonly groups: readonly string[];
  readonly region: string | null;
  readonly channel?: string | null;
}

/**
 * The break table of a list that is most specific for an item's pack: the item's own, then the deepest category's, then
 * the list's; within that, one for the customer, the buyer's group, the region, the pack, the sales channel.
 */
export function breakTableFor(
  ws: BreaksView,
  list: string,
  item: Item,
  pack: string,
  buyer: BreakBuyer | null = null,
): BreakTable | null {
  const tables = ws.breaks(list);
  if (tables.length === 0) return null;
  const lineage = ws.lineage(item.category);
  const rank = (t: BreakTable): number[] => [
    t.item ? -1 : t.category ? lineage.indexOf(t.category) : lineage.length,
    t.customer ? 0 : 1,
    t.group ? 0 : 1,
    // of tables for several of the buyer's groups that of the best-ranked one
    t.group ? (ws.groups.get(t.group)?.rank ?? 0) : 0,
    t.region ? 0 : 1,
    t.pack ? 0 : 1,
    t.channel ? 0 : 1,
  ];
  const fitting = tables.filter(
    (t) =>
      (!t.item || t.item === item.id) &&
      (!t.category || lineage.includes(t.category)) &&
      (!t.pack || t.pack === pack) &&
      (!t.customer || t.customer === buyer?.customer) &&
      (!t.group || buyer?.groups.includes(t.group)) &&
      (!t.region || t.region === buyer?.region) &&
      (!t.channel || t.channel === buyer?.channel),
  );
  const first = (a: BreakTable, b: BreakTable): number => {
    const [x, y] = [rank(a), rank(b)];
    const at = x.findIndex((n, i) => n !== y[i]);
    return at < 0 ? (a.id < b.id ? -1 : 1) : x[at]! - y[at]!;
  };
  return [...fitting].sort(first)[0] ?? null;
}
