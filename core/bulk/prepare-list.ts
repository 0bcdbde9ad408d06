import { exchangeOn } from '../costs/exchange.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { Ladder } from '../rounding/ladder.ts';
import type { Item, Pack } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import { channelsOf } from '../items/scope.ts';
import { type ItemColumns, nearest } from './columns.ts';
import { type FilterLadder, filterLadder, placesFor } from './filter-ladder.ts';
import { type PostedColumns, postedPlaces } from './posted-columns.ts';
import {
  type AddOnSums,
  type GuardFigures,
  type RateFrom,
  type RowAddOns,
  addOnsInto,
  commonAddOns,
  expressibleAddOns,
  guardFigures,
  rowAddOns,
} from './recipe-figures.ts';
import { type ShownBasis, depositShown, hasDeposit, ownTax, shownTax } from './shown-basis.ts';
import { UpliftClasses, type UpliftColumns } from './uplift-columns.ts';

/**
 * A list's recipe made ready to be run over columns. Plain data: it can be sent to a worker. A list with several recipes
 * or ladders has a part for each pair; the others stand in `more`.
 */
export interface BulkList extends GuardFigures {
  readonly list: string;
  readonly recipe: string;
  readonly more: readonly BulkList[];
  /** What it is made from: 0 landed cost, 1 bare cost, 2 RRP, 3 a price as a list shows it (`shownBasis`), 4 and 5 as 0 and 1 from the usual cost. */
  readonly basis: number;
  readonly shownBasis: ShownBasis | null;
  /**
   * From the workspace's currency to the list's: one figure, in a column. As a field it would be an integer of one list and a
   * double of the next, and what prices rows would be compiled anew, and worse, in between.
   */
  readonly rate: Float64Array;
  /** From every currency the workspace knows to the list's. */
  readonly rates: Readonly<Record<string, number>>;
  /** From each currency of recommended prices to the list's. */
  readonly currencyRate: Float64Array;
  /** By tax class: what the list puts on a net price; and the class's own tax, shown or not. NaN: unknown. */
  readonly taxFactor: Float64Array;
  readonly ownTax: Float64Array;
  readonly taxIn: boolean;
  readonly advertised: boolean;
  /** A row's class of uplift rows; −1: left to the explained way, −2: priced by another part. */
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
  /** The pack's deposit with its tax, as the list shows it; null: no pack has one. */
  readonly deposit: Float64Array | null;
}

const OF_BASIS = { landed: 0, cost: 1, rrp: 2, current: 3, list: 3 } as const;
const USUAL = 4;
/** The class of a row that another part prices. */
export const ELSEWHERE = -2;

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

/** An item whose figures count, in one of its packs. */
interface ItemInPack {
  readonly item: Item;
  readonly pack: Pack;
}

/** What rows are of, looked up once for all lists. */
const looked = new WeakMap<ItemColumns, { readonly ws: Prepared; readonly rows: readonly ItemInPack[] }>();

function itemsOf(ws: Prepared, columns: ItemColumns): readonly ItemInPack[] {
  const known = looked.get(columns);
  if (known?.ws === ws) return known.rows;
  let last: { id: string; item: Item } | null = null;
  const rows = columns.rows.map((row) => {
    if (last?.id !== row.item) last = { id: row.item, item: ws.followed(ws.items.get(row.item)!) };
    const { item } = last;
    const { packs } = item;
    return { item, pack: packs.length === 1 ? packs[0]! : packs.find((p) => p.id === row.pack)! };
  });
  looked.set(columns, { ws, rows });
  return rows;
}

/** Each row's item, the one whose figures count, and its pack. */
export function eachRow(ws: Prepared, columns: ItemColumns, take: (row: number, of: ItemInPack) => void): void {
  const rows = itemsOf(ws, columns);
  for (let i = 0; i < rows.length; i++) take(i, rows[i]!);
}

/** The rows of a list that one recipe and one ladder price. */
interface PartRows {
  readonly recipe: RecipeTerms;
  /** Null: rounded to the list's decimals. */
  readonly ladder: string | null;
}

/** Each row's part; rows of one item and pack name go the same way. −1: no recipe reaches it. */
function partition(ws: Prepared, list: PriceList, columns: ItemColumns): { parts: PartRows[]; of: Int16Array } {
  const parts: PartRows[] = [];
  const at = new Map<string, number>();
  const of = new Int16Array(columns.rows.length).fill(-1);
  const single = !list.recipes?.length && !list.ladders?.length;
  let whole: number | null = null;
  eachRow(ws, columns, (i, { item, pack }) => {
    if (whole !== null) return void (of[i] = whole);
    const recipe = ws.recipeFor(list, item);
    if (!recipe) return;
    const ladder = ws.ladderFor(list, recipe, item, pack.name)?.id ?? null;
    const key = `${recipe.id}\u0000${ladder ?? ''}`;
    const known = at.get(key) ?? parts.push({ recipe, ladder }) - 1;
    at.set(key, known);
    of[i] = known;
    if (single && !recipe.ladders?.length) whole = known;
  });
  return { parts, of };
}

const rungsOf = (ws: Prepared, list: PriceList, ladder: string | null): Ladder | null => {
  const decimals = ws.decimalsOf(list);
  return ladder === null ? { decimals, rungs: [] } : ws.ladder(ladder, decimals);
};

/**
 * Null: something in every recipe of the list is left to the explained way altogether. `basisOf`: where a recipe starts
 * from a list; null where only the explained way can say.
 */
export function prepareBulk(
  ws: Prepared,
  list: PriceList,
  columns: ItemColumns,
  currencies: readonly string[],
  posted: PostedColumns,
  basisOf: (recipe: RecipeTerms) => ShownBasis | 'none' | null,
): BulkList | null {
  const { parts, of } = partition(ws, list, columns);
  const ladders = parts.map((p) => rungsOf(ws, list, p.ladder));
  const places = ladders.reduce(
    (most, l) => (l ? placesFor(l, most) : most),
    placesFor(rungsOf(ws, list, null)!, postedPlaces(posted)),
  );
  const ready = new Map<number, BulkList>();
  parts.forEach((part, n) => {
    const [ladder, basis] = [ladders[n], basisOf(part.recipe)];
    const made =
      ladder && basis && preparePart({ ws, list, columns, currencies, posted, places, of, at: n }, part, ladder, basis);
    if (made) ready.set(n, made);
  });
  const [first, ...more] = ready.values();
  if (!first) return null;
  // rows of a part that cannot be made ready are the explained way's, and the first part says so
  of.forEach((part, i) => {
    if (!ready.has(part)) first.klass[i] = -1;
  });
  return { ...first, more };
}

interface PartContext {
  readonly ws: Prepared;
  readonly list: PriceList;
  readonly columns: ItemColumns;
  readonly currencies: readonly string[];
  readonly posted: PostedColumns;
  readonly places: number;
  readonly of: Int16Array;
  readonly at: number;
}

function preparePart(
  { ws, list, columns, currencies, posted, places, of, at }: PartContext,
  { recipe }: PartRows,
  exact: Ladder,
  shownBasis: ShownBasis | 'none',
): BulkList | null {
  if (!expressibleAddOns(recipe)) return null;
  const { day } = columns;
  const rateFrom = ratesOf(ws, list, day);
  const ladder = filterLadder(exact, places);
  const guards = guardFigures(recipe, rateFrom);
  if (!ladder || !guards) return null;
  const n = columns.rows.length;
  const channels = channelsOf(list, null);
  const classes = new UpliftClasses(ws, recipe, channels, rateFrom);
  const own = rowAddOns(recipe, n);
  const put = own && addOnsInto(own, recipe, { ws, channels, rateFrom });
  const prices = inUnits(posted, ladder.scale);
  const klass = new Int32Array(n).fill(ELSEWHERE);
  const deposit = new Float64Array(n);
  eachRow(ws, columns, (i, row) => {
    if (of[i] !== at) return;
    klass[i] = prices[i] === Infinity ? -1 : classes.of(row.item, row.pack.name);
    if (hasDeposit(row.pack)) deposit[i] = depositShown(ws, list, row, day, rateFrom);
    put?.(i, row.item, row.pack);
  });
  const { kind, cost } = recipe.basis;
  const { before, after } = commonAddOns(recipe, rateFrom);
  const usual = cost === 'usual' && columns.usual !== null && (kind === 'landed' || kind === 'cost');
  // every list has the same hidden class: what prices rows is compiled once for all
  return {
    list: list.id,
    recipe: recipe.id,
    more: [],
    basis: OF_BASIS[kind] + (usual ? USUAL : 0),
    shownBasis: shownBasis === 'none' ? null : shownBasis,
    rate: Float64Array.of(rateFrom(ws.workspace.currency)),
    rates: Object.fromEntries(knownCurrencies(ws).map((c) => [c, rateFrom(c)])),
    currencyRate: Float64Array.from(currencies, rateFrom),
    taxFactor: shownTax(ws, list, columns),
    ownTax: Float64Array.from(columns.taxClasses, (c) => ownTax(ws, list, c, day)),
    taxIn: list.taxIn,
    advertised: list.advertised,
    klass,
    uplift: classes.columns,
    before,
    after,
    rowAddOns: own,
    ladder,
    guards: guards.guards,
    guardValue: guards.guardValue,
    between: guards.between,
    posted: prices,
    handSet: posted.handSet,
    deposit: deposit.some((d) => d !== 0) ? deposit : null,
  };
}

/** Whole units of one unit of currency for a list that is left to the explained way. */
export function scaleOf(ws: Prepared, list: PriceList, columns: ItemColumns, posted: PostedColumns): number {
  const { parts } = partition(ws, list, columns);
  const start = placesFor(rungsOf(ws, list, null)!, postedPlaces(posted));
  return (
    10 ** parts.reduce((most, p) => placesFor(rungsOf(ws, list, p.ladder) ?? rungsOf(ws, list, null)!, most), start)
  );
}

/** Posted prices in whole units; infinite where one is too large. */
function inUnits(posted: PostedColumns, scale: number): Float64Array {
  return posted.digits.map((digits, i) => {
    const units = digits * (scale / 10 ** posted.places[i]!);
    return units < 2 ** 52 || Number.isNaN(units) ? units : Infinity;
  });
}
