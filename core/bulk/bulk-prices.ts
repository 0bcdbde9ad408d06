import { computePrice } from '../lists/list-price.ts';
import { type Dec, plain, roundHalfUp } from '../numbers/decimal.ts';
import type { Reason } from '../reasons.ts';
import { GUARD_KINDS, type GuardKind } from '../recipes/recipe.ts';
import { GUARD_NAMES } from '../guards/guards.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import { type ItemColumns, itemColumns } from './columns.ts';
import { type PostedColumns, TAKEN_OFF, amountsOf, postedColumns } from './posted-columns.ts';
import { type BulkList, eachRow, prepareBulk, ratesOf, scaleOf } from './prepare-list.ts';
import { type BulkPrices, FLAGS, type MetOnTheWay, PERCENT_PLACES, emptyPrices, priceRows } from './price-rows.ts';
import { type ShownBasis, depositShown, hasDeposit, shownTax } from './shown-basis.ts';

/** The columns of a workspace on a day, and its lists made ready as they are asked for. */
export class BulkWorkspace {
  readonly columns: ItemColumns;
  private readonly currencies: string[];
  private readonly readPosted: (list: PriceList) => PostedColumns;
  /** Where the rows of each item begin; made when it is asked for first. */
  private firstRows: ReadonlyMap<string, number> | null = null;

  /** `posted`: where the workspace itself holds no postings, for they are too many. `items`: of a workspace, or columns of one. */
  constructor(
    readonly ws: Prepared,
    readonly day: Day,
    posted?: (list: PriceList) => PostedColumns,
    items: readonly Item[] | BulkWorkspace = ws.workspace.items,
  ) {
    const known = items instanceof BulkWorkspace ? items : null;
    this.currencies = known?.currencies ?? [];
    this.columns = known?.columns ?? itemColumns(ws, day, items as readonly Item[], this.currencies);
    this.readPosted = posted ?? ((list) => postedColumns(ws, list, this.columns));
  }

  /** The row of an item's pack; undefined: it has none. */
  rowOf(item: string, pack: string): number | undefined {
    const { rows } = this.columns;
    this.firstRows ??= firstRows(rows);
    for (let i = this.firstRows.get(item); i !== undefined && rows[i]?.item === item; i++)
      if (rows[i]!.pack === pack) return i;
    return undefined;
  }

  /** The same items under other rules: `ws` may differ in recipes, ladders and lists. */
  under(ws: Prepared): BulkWorkspace {
    return new BulkWorkspace(ws, this.day, this.readPosted, this);
  }

  posted(list: PriceList): PostedColumns {
    return this.readPosted(list);
  }

  /** Null: the list's recipes are left to the explained way altogether. `above`: lists that wait for this one. */
  list(list: PriceList, posted = this.posted(list), above: readonly string[] = []): BulkList | null {
    const { ws, columns } = this;
    const known = new Map<string, ShownBasis | null>();
    const fromList = (id: string): ShownBasis | null => {
      const from = ws.lists.get(id);
      // entries and circles are for the explained way
      if (!from || from.entries?.length || [...above, list.id].includes(from.id)) return null;
      return this.shownBasis(list, from, this.asked(from, [...above, list.id]));
    };
    return prepareBulk(ws, list, columns, this.currencies, posted, ({ basis: { kind, list: other } }) => {
      if (kind !== 'current' && kind !== 'list') return 'none';
      const id = kind === 'list' ? (other ?? '') : '';
      if (!known.has(id)) known.set(id, id ? fromList(id) : this.shownBasis(list, list, amountsOf(posted)));
      return known.get(id)!;
    });
  }

  private shownBasis(list: PriceList, from: PriceList, amount: Float64Array): ShownBasis {
    const { ws, columns, day } = this;
    const deposit = new Float64Array(amount.length);
    const rateFrom = ratesOf(ws, from, day);
    eachRow(ws, columns, (i, of) => {
      if (hasDeposit(of.pack)) deposit[i] = depositShown(ws, from, of, day, rateFrom);
    });
    return { amount, deposit, taxFactor: shownTax(ws, from, columns), rate: ratesOf(ws, list, day)(from.currency) };
  }

  /** What a list asks: the posted price, else what its recipe makes; NaN where only the explained way can say. */
  private asked(list: PriceList, above: readonly string[]): Float64Array {
    const posted = this.posted(list);
    const amounts = amountsOf(posted);
    const ready = amounts.some(Number.isNaN) ? this.list(list, posted, above) : null;
    if (!ready) return amounts;
    const computed = emptyPrices(amounts.length, ready.ladder.scale);
    priceRows(this.columns, ready, computed, 0, amounts.length);
    const open = FLAGS.indexOf('open');
    return amounts.map((amount, i) =>
      Number.isNaN(amount) && posted.places[i] !== TAKEN_OFF && computed.flag[i] !== open
        ? computed.price[i]! / computed.scale
        : amount,
    );
  }
}

function firstRows(rows: ItemColumns['rows']): ReadonlyMap<string, number> {
  const first = new Map<string, number>();
  rows.forEach(({ item }, i) => {
    if (rows[i - 1]?.item !== item) first.set(item, i);
  });
  return first;
}

/** Results whose open rows the explained way has decided. */
export interface DecidedPrices extends BulkPrices {
  /** Why a row has no price. */
  readonly reasons: ReadonlyMap<number, Reason>;
  /** How many rows the explained way decided. */
  readonly explained: number;
}

/** The same, with what each was made from on its way. */
export function bulkPricesMet(bulk: BulkWorkspace, list: PriceList): DecidedPrices {
  const none = () => new Float64Array(bulk.columns.rows.length).fill(NaN);
  return bulkPrices(bulk, list, { basis: none(), before: none(), after: none() });
}

/** The prices of every item and pack on a list by its recipe: the same as the explained way gives, without build-up. */
export function bulkPrices(bulk: BulkWorkspace, list: PriceList, met?: MetOnTheWay): DecidedPrices {
  const posted = bulk.posted(list);
  const ready = bulk.list(list, posted);
  const rows = bulk.columns.rows.length;
  const empty = emptyPrices(rows, ready?.ladder.scale ?? scaleOf(bulk.ws, list, bulk.columns, posted));
  const out = met ? { met, ...empty } : empty;
  if (ready) priceRows(bulk.columns, ready, out, 0, rows);
  else out.flag.fill(FLAGS.indexOf('open'));
  return decide(bulk, list, out);
}

/** Has the explained way decide the open rows. */
export function decide(bulk: BulkWorkspace, list: PriceList, out: BulkPrices): DecidedPrices {
  const reasons = new Map<number, Reason>();
  let explained = 0;
  const open = FLAGS.indexOf('open');
  for (let i = 0; i < out.flag.length; i++) {
    if (out.flag[i] !== open) continue;
    explained += 1;
    const { item, pack } = bulk.columns.rows[i]!;
    const found = computePrice(bulk.ws, { item, pack, list: list.id, day: bulk.day });
    if (!found.ok) {
      reasons.set(i, found.reason);
      out.flag[i] = FLAGS.indexOf('refused');
      continue;
    }
    const { price, markup, margin, flag, bit, wouldFallTo, row, recipe } = found.value;
    out.price[i] = inUnits(price, out.scale);
    out.markup[i] = percentUnits(markup);
    out.margin[i] = percentUnits(margin);
    out.flag[i] = FLAGS.indexOf(flag ?? 'none');
    out.row[i] = bulk.ws.recipes.get(recipe.id)!.uplift.findIndex((r) => r.id === row);
    out.guards[i] = guardBits(bit);
    out.wouldFallTo[i] = wouldFallTo ? inUnits(wouldFallTo, out.scale) : NaN;
  }
  return { reasons, explained, ...out };
}

/** A whole number of units; what a double cannot count exactly is infinite: too large to be a price anybody asks. */
function units(figure: Dec): number {
  const value = Number(plain(figure));
  return Number.isSafeInteger(value) ? value : value < 0 ? -Infinity : Infinity;
}

const inUnits = (price: Dec, scale: number): number => units(price.times(scale));

const percentUnits = (figure: Dec | null): number =>
  figure ? units(roundHalfUp(figure, PERCENT_PLACES).times(10 ** PERCENT_PLACES)) : NaN;

function guardBits(names: readonly string[]): number {
  return GUARD_KINDS.reduce(
    (bits, kind: GuardKind, i) => (names.includes(GUARD_NAMES[kind]) ? bits | (1 << i) : bits),
    0,
  );
}
