import { exchangeOn } from '../costs/exchange.ts';
import { type Item, type Pack, type Prepared, type PriceList } from '../workspace/index.ts';
import { type ItemColumns, nearest } from './columns.ts';
import { type FilterLadder, filterLadder, placesFor } from './filter-ladder.ts';
import { type PostedColumns, postedPlaces } from './posted-columns.ts';
import {
  type AddOnSums,
  type GuardFigures,
  type RateFrom,
  type RowAddOns,
  commonAddOns,
  expressibleAddOns,
  guardFigures,
  putAddOns,
  rowAddOns,
} from './recipe-figures.ts';
import { type ShownBasis, depositShown, ownTax, shownTax } from './shown-basis.ts';
import { UpliftClasses, type UpliftColumns } from './uplift-columns.ts';

/** A list's recipe made ready to be run over columns. Plain data: it can be sent to a worker. */
export interface BulkList extends GuardFigures {
  readonly list: string;
  /** What the list is made from: 0 landed cost, 1 bare cost, 2 RRP, 3 a price as a list shows it, `shownBasis`. */
  readonly basis: number;
  readonly shownBasis: ShownBasis | null;
  /** From the workspace's currency to the list's. */
  readonly rate: number;
  /** From every currency the workspace knows to the list's. */
  readonly rates: Readonly<Record<string, number>>;
  /** From each currency of recommended prices to the list's. */
  readonly currencyRate: Float64Array;
  /** By tax class: what the list puts on a net price; and the class's own tax, shown or not. NaN: unknown. */
  readonly taxFactor: Float64Array;
  readonly ownTax: Float64Array;
  readonly taxIn: boolean;
  readonly advertised: boolean;
  /** A row's class of uplift rows; −1: left to the explained way. */
  readonly klass: Int32Array;
  readonly uplift: UpliftColumns;
  /** Add-ons that are the same for every row, and those that are not. */
  readonly before: AddOnSums;
  readonly after: AddOnSums;
  readonly rowAddOns: RowAddOns | null;
  readonly ladder: FilterLadder;
  /** Posted prices in whole units of the ladder; NaN: none. */
  readonly posted: Float64Array;
  readonly handSet: Uint8Array;
  /** The pack's deposit with its tax, as the list shows it. */
  readonly deposit: Float64Array;
}

const OF_BASIS = { landed: 0, cost: 1, rrp: 2, current: 3, list: 3 } as const;

/** From other currencies to a list's, on the day whose rates it follows. */
export function ratesOf(ws: Prepared, list: PriceList, day: string): RateFrom {
  const rateDay = ws.rateDay(list, day);
  return (currency) => {
    const x = exchangeOn(ws, currency ?? list.currency, list.currency, rateDay);
    return x ? nearest(x.text) : NaN;
  };
}

const knownCurrencies = (ws: Prepared): string[] => [
  ...new Set([ws.workspace.currency, ...ws.workspace.rates.flatMap((r) => [r.from, r.to])]),
];

/** Each row's item, the one whose figures count, and its pack. */
export function eachRow(
  ws: Prepared,
  columns: ItemColumns,
  take: (row: number, of: { item: Item; pack: Pack }) => void,
): void {
  let last: { id: string; item: Item } | null = null;
  columns.rows.forEach((row, i) => {
    if (last?.id !== row.item) last = { id: row.item, item: ws.followed(ws.items.get(row.item)!) };
    const { packs } = last.item;
    take(i, { item: last.item, pack: packs.length === 1 ? packs[0]! : packs.find((p) => p.id === row.pack)! });
  });
}

/** Null: something in the recipe is left to the explained way altogether. `shownBasis`: where the recipe starts from a list. */
export function prepareBulk(
  ws: Prepared,
  list: PriceList,
  columns: ItemColumns,
  currencies: readonly string[],
  posted: PostedColumns,
  shownBasis: ShownBasis | null,
): BulkList | null {
  const recipe = list.recipe === null ? undefined : ws.recipes.get(list.recipe);
  if (!recipe || !expressibleAddOns(recipe)) return null;
  const { day } = columns;
  const rateFrom = ratesOf(ws, list, day);
  const chosen = ws.ladderFor(list, recipe.ladder);
  const decimals = ws.decimalsOf(list);
  const exact = chosen ? ws.ladder(chosen.id, decimals) : { decimals, rungs: [] };
  const ladder = exact && filterLadder(exact, placesFor(exact, postedPlaces(posted)));
  const guards = guardFigures(recipe, rateFrom);
  if (!ladder || !guards) return null;
  const n = columns.rows.length;
  const classes = new UpliftClasses(ws, recipe, rateFrom);
  const own = rowAddOns(recipe, n);
  const prices = inUnits(posted, ladder.scale);
  const klass = new Int32Array(n);
  const deposit = new Float64Array(n);
  eachRow(ws, columns, (i, of) => {
    klass[i] = prices[i] === Infinity ? -1 : classes.of(of.item, of.pack.name);
    if (of.pack.deposit) deposit[i] = depositShown(ws, list, of, day, rateFrom);
    if (own) putAddOns(own, i, { ws, recipe, ...of, rateFrom });
  });
  return {
    list: list.id,
    basis: OF_BASIS[recipe.basis.kind],
    shownBasis,
    rate: rateFrom(ws.workspace.currency),
    rates: Object.fromEntries(knownCurrencies(ws).map((c) => [c, rateFrom(c)])),
    currencyRate: Float64Array.from(currencies, rateFrom),
    taxFactor: shownTax(ws, list, columns),
    ownTax: Float64Array.from(columns.taxClasses, (c) => ownTax(ws, list, c, day)),
    taxIn: list.taxIn,
    advertised: list.advertised,
    klass,
    uplift: classes.columns,
    ...commonAddOns(recipe, rateFrom),
    rowAddOns: own,
    ladder,
    ...guards,
    posted: prices,
    handSet: posted.handSet,
    deposit,
  };
}

/** Whole units of one unit of currency for a list that is left to the explained way. */
export function scaleOf(ws: Prepared, list: PriceList, posted: PostedColumns): number {
  const recipe = ws.recipes.get(list.recipe ?? '');
  const chosen = ws.ladderFor(list, recipe?.ladder ?? null);
  const decimals = ws.decimalsOf(list);
  const ladder = (chosen && ws.ladder(chosen.id, decimals)) ?? { decimals, rungs: [] };
  return 10 ** placesFor(ladder, postedPlaces(posted));
}

/** Posted prices in whole units; infinite where one is too large. */
function inUnits(posted: PostedColumns, scale: number): Float64Array {
  return posted.digits.map((digits, i) => {
    const units = digits * (scale / 10 ** posted.places[i]!);
    return units < 2 ** 52 || Number.isNaN(units) ? units : Infinity;
  });
}
