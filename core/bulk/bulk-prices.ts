import { computePrice } from '../lists/list-price.ts';
import { type Dec, plain, roundHalfUp } from '../numbers/decimal.ts';
import type { Reason } from '../reasons.ts';
import { GUARD_KINDS, type GuardKind } from '../recipes/recipe.ts';
import { GUARD_NAMES } from '../guards/guards.ts';
import type { Day, Prepared, PriceList } from '../workspace/index.ts';
import { type ItemColumns, itemColumns } from './columns.ts';
import { type PostedColumns, postedColumns } from './posted-columns.ts';
import { type BulkList, prepareBulk, scaleOf } from './prepare-list.ts';
import { type BulkPrices, FLAGS, PERCENT_PLACES, emptyPrices, priceRows } from './price-rows.ts';

/** The columns of a workspace on a day, and its lists made ready as they are asked for. */
export class BulkWorkspace {
  readonly columns: ItemColumns;
  private readonly currencies: string[] = [];

  constructor(
    readonly ws: Prepared,
    readonly day: Day,
  ) {
    this.columns = itemColumns(ws, day, this.currencies);
  }

  /** Null: the list's recipe is left to the explained way altogether. `posted`: where the workspace holds none. */
  list(list: PriceList, posted: PostedColumns = this.posted(list)): BulkList | null {
    return prepareBulk(this.ws, list, this.columns, this.currencies, posted);
  }

  posted(list: PriceList): PostedColumns {
    return postedColumns(this.ws, list, this.columns);
  }
}

/** Results whose open rows the explained way has decided. */
export interface DecidedPrices extends BulkPrices {
  /** Why a row has no price. */
  readonly reasons: ReadonlyMap<number, Reason>;
  /** How many rows the explained way decided. */
  readonly explained: number;
}

/** The prices of every item and pack on a list by its recipe: the same as the explained way gives, without build-up. */
export function bulkPrices(bulk: BulkWorkspace, list: PriceList): DecidedPrices {
  const posted = bulk.posted(list);
  const ready = bulk.list(list, posted);
  const rows = bulk.columns.rows.length;
  const out = emptyPrices(rows, ready?.ladder.scale ?? scaleOf(bulk.ws, list, posted));
  if (ready) priceRows(bulk.columns, ready, out, 0, rows);
  else out.flag.fill(FLAGS.indexOf('open'));
  return decide(bulk, list, out);
}

/** Has the explained way decide the open rows. */
export function decide(bulk: BulkWorkspace, list: PriceList, out: BulkPrices): DecidedPrices {
  const reasons = new Map<number, Reason>();
  let explained = 0;
  const open = FLAGS.indexOf('open');
  const recipe = bulk.ws.recipes.get(list.recipe ?? '');
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
    const { price, markup, margin, flag, bit, wouldFallTo, row } = found.value;
    out.price[i] = inUnits(price, out.scale);
    out.markup[i] = percentUnits(markup);
    out.margin[i] = percentUnits(margin);
    out.flag[i] = FLAGS.indexOf(flag ?? 'none');
    out.row[i] = recipe?.uplift.findIndex((r) => r.id === row) ?? -1;
    out.guards[i] = guardBits(bit);
    out.wouldFallTo[i] = wouldFallTo ? inUnits(wouldFallTo, out.scale) : NaN;
  }
  return { ...out, reasons, explained };
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
