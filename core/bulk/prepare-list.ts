import { exchangeOn } from '../costs/exchange.ts';
import { type Dec, ONE, dec, share } from '../numbers/decimal.ts';
import type { AddOn, GuardKind, RecipeTerms, UpliftRow } from '../recipes/recipe.ts';
import { GUARD_KINDS } from '../recipes/recipe.ts';
import { type Item, type Prepared, type PriceList, taxFactor } from '../workspace/index.ts';
import { type ItemColumns, nearest } from './columns.ts';
import { type FilterLadder, filterLadder, placesFor } from './filter-ladder.ts';
import { type PostedColumns, postedPlaces } from './posted-columns.ts';

/** An uplift table as columns: for each class of items the intervals of the basis, ascending, with the row that wins there. */
export interface UpliftColumns {
  /** Where a class's intervals begin; one more than there are classes. */
  readonly first: Int32Array;
  /** Where an interval ends (exclusive) and the next begins; a class's last is infinite. */
  readonly until: Float64Array;
  /** 0 times, 1 divided by, 2 plus, 3 set to. */
  readonly operation: Uint8Array;
  /** NaN: no row reaches this interval. */
  readonly operand: Float64Array;
  /** The place of the row in the recipe. */
  readonly row: Int32Array;
}

/** A list's recipe made ready to be run over columns. Plain data: it can be sent to a worker. */
export interface BulkList {
  readonly list: string;
  /** What the list is made from: 0 landed cost, 1 bare cost, 2 RRP, 3 the posted price. */
  readonly basis: number;
  /** From the workspace's currency to the list's. */
  readonly rate: number;
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
  /** Add-ons that are the same for every row: a share of the basis, an amount per pack, an amount per unit. */
  readonly before: readonly [share: number, pack: number, unit: number];
  readonly after: readonly [share: number, pack: number, unit: number];
  readonly ladder: FilterLadder;
  /** Indexes into GUARD_KINDS, with what each takes: a factor on cost, or an amount. */
  readonly guards: Uint8Array;
  readonly guardValue: Float64Array;
  readonly between: Between;
  /** Posted prices in whole units of the ladder; NaN: none. */
  readonly posted: Float64Array;
  readonly handSet: Uint8Array;
  /** The pack's deposit with its tax, as the list shows it. */
  readonly deposit: Float64Array;
}

/** The guards that go by cost or amount, together: a price inside all of them needs no look at each. */
export interface Between {
  /** Factors on the landed cost. */
  readonly least: number;
  readonly most: number;
  /** Amounts as the buyer sees them. */
  readonly leastAmount: number;
  readonly mostAmount: number;
  /** There are guards that go by a figure of the item: each has to be looked at. */
  readonly byItem: boolean;
}

/** A limit that nothing reaches; finite, so that a share of it is one too. */
const NO_LIMIT = 2 ** 200;

const OF_BASIS = { landed: 0, cost: 1, rrp: 2, current: 3, list: -1 } as const;

/** Null: something in the recipe is left to the explained way altogether. */
export function prepareBulk(
  ws: Prepared,
  list: PriceList,
  columns: ItemColumns,
  currencies: readonly string[],
  posted: PostedColumns,
): BulkList | null {
  const recipe = list.recipe === null ? undefined : ws.recipes.get(list.recipe);
  if (!recipe || OF_BASIS[recipe.basis.kind] < 0) return null;
  const { day } = columns;
  const rateDay = ws.rateDay(list, day);
  const rateFrom = (currency: string): number => {
    const x = exchangeOn(ws, currency, list.currency, rateDay);
    return x ? nearest(x.text) : NaN;
  };
  const chosen = ws.ladderFor(list, recipe.ladder);
  const decimals = ws.decimalsOf(list);
  const exact = chosen ? ws.ladder(chosen.id, decimals) : { decimals, rungs: [] };
  const ladder = exact && filterLadder(exact, placesFor(exact, postedPlaces(posted)));
  const addOns = plainAddOns(recipe, list, rateFrom);
  const guards = plainGuards(recipe, rateFrom);
  if (!ladder || !addOns || !guards) return null;
  const tax = (taxClass: string): number => {
    const found = ws.taxOn(taxClass, day, ws.taxRegion(list));
    return found ? nearest(taxFactor(found.percent)) : NaN;
  };
  const n = columns.rows.length;
  const classes = new UpliftClasses(ws, recipe, list, rateFrom);
  const bulk: BulkList = {
    list: list.id,
    basis: OF_BASIS[recipe.basis.kind],
    rate: rateFrom(ws.workspace.currency),
    currencyRate: Float64Array.from(currencies, rateFrom),
    taxFactor: Float64Array.from(columns.taxClasses, (c) => (list.taxIn ? tax(c) : 1)),
    ownTax: Float64Array.from(columns.taxClasses, tax),
    taxIn: list.taxIn,
    advertised: list.advertised,
    klass: new Int32Array(n),
    uplift: classes.columns,
    ...addOns,
    ladder,
    ...guards,
    posted: inUnits(posted, ladder.scale),
    handSet: posted.handSet,
    deposit: new Float64Array(n),
  };
  let last: { id: string; item: Item } | null = null;
  columns.rows.forEach((row, i) => {
    if (last?.id !== row.item) last = { id: row.item, item: ws.followed(ws.items.get(row.item)!) };
    const { item } = last;
    const pack = item.packs.length === 1 ? item.packs[0]! : item.packs.find((p) => p.id === row.pack)!;
    bulk.klass[i] = classes.of(item, pack.name);
    if (pack.deposit) bulk.deposit[i] = depositShown(ws, list, item, pack, day, rateFrom);
    if (bulk.posted[i] === Infinity) bulk.klass[i] = -1;
  });
  return { ...bulk, uplift: classes.columns };
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

function depositShown(
  ws: Prepared,
  list: PriceList,
  item: Item,
  pack: Item['packs'][number],
  day: string,
  rateFrom: (currency: string) => number,
): number {
  const { amount, currency } = pack.deposit!;
  const tax = list.taxIn ? ws.taxOn(pack.depositTaxClass ?? item.taxClass, day, ws.taxRegion(list)) : null;
  if (list.taxIn && !tax) return NaN;
  return nearest(amount) * rateFrom(currency) * (tax ? nearest(taxFactor(tax.percent)) : 1);
}

/** Add-ons without a scope that do not go by weight; null: there are others. */
function plainAddOns(
  recipe: RecipeTerms,
  list: PriceList,
  rateFrom: (currency: string) => number,
): Pick<BulkList, 'before' | 'after'> | null {
  const sums = { before: [0, 0, 0] as [number, number, number], after: [0, 0, 0] as [number, number, number] };
  for (const addOn of recipe.addOns ?? []) {
    const value = dec(addOn.value ?? '0');
    if (addOn.scope || addOn.kind === 'by_weight' || value.lt(0)) return null;
    const into = sums[addOn.when ?? 'after'];
    if (addOn.kind === 'percent_of_basis') into[0] += nearest(share(value));
    else into[isPerUnit(addOn) ? 2 : 1] += nearest(value) * rateFrom(addOn.currency ?? list.currency);
  }
  return sums;
}

const isPerUnit = (addOn: AddOn): boolean => addOn.per === 'unit';

function plainGuards(
  recipe: RecipeTerms,
  rateFrom: (currency: string) => number,
): Pick<BulkList, 'guards' | 'guardValue' | 'between'> | null {
  const values = recipe.guards.map((guard): number => {
    const percent = share(dec(guard.percent ?? '0'));
    switch (guard.kind) {
      case 'least_markup':
      case 'most_markup':
        return nearest(ONE.plus(percent));
      case 'least_margin':
      case 'most_margin':
        // a factor to divide by; 100 % and more is refused
        return percent.gte(1) ? NaN : nearest(ONE.minus(percent));
      case 'least_price':
      case 'most_price':
        return guard.amount ? nearest(guard.amount.amount) * rateFrom(guard.amount.currency) : NaN;
      default:
        return 1;
    }
  });
  if (values.some(Number.isNaN)) return null;
  return {
    guards: Uint8Array.from(recipe.guards, (g) => GUARD_KINDS.indexOf(g.kind satisfies GuardKind)),
    guardValue: Float64Array.from(values),
    between: between(recipe, values),
  };
}

function between(recipe: RecipeTerms, values: readonly number[]): Between {
  const of = (kind: GuardKind) => values.filter((_, i) => recipe.guards[i]!.kind === kind);
  const inverse = (kind: GuardKind) => of(kind).map((v) => 1 / v);
  return {
    least: Math.max(0, ...of('not_below_cost'), ...of('least_markup'), ...inverse('least_margin')),
    most: Math.min(NO_LIMIT, ...of('most_markup'), ...inverse('most_margin')),
    leastAmount: Math.max(0, ...of('least_price')),
    mostAmount: Math.min(NO_LIMIT, ...of('most_price')),
    byItem: recipe.guards.some(({ kind }) => kind === 'map' || kind === 'rrp'),
  };
}

/** Gathers items whose uplift rows are the same into classes. */
class UpliftClasses {
  private readonly bySignature = new Map<string, number>();
  private readonly byRows = new Map<string, number>();
  private readonly made: { rows: readonly UpliftRow[] }[] = [];
  private readonly ties: readonly (keyof UpliftRow['scope'])[];
  private readonly attributes: readonly string[];

  constructor(
    private readonly ws: Prepared,
    private readonly recipe: RecipeTerms,
    private readonly list: PriceList,
    private readonly rateFrom: (currency: string) => number,
  ) {
    const scopes = recipe.uplift.map((r) => r.scope);
    this.ties = (['item', 'model', 'lockstep', 'brand', 'supplier', 'category', 'pack'] as const).filter((t) =>
      scopes.some((s) => s[t]),
    );
    this.attributes = [...new Set(scopes.flatMap((s) => Object.keys(s.attributes ?? {})))];
  }

  of(item: Item, pack: string): number {
    const signature = this.ties
      .map((t) =>
        t === 'item'
          ? item.id
          : t === 'pack'
            ? pack
            : t === 'lockstep'
              ? (this.ws.lockstepOf(item.id)?.id ?? '')
              : (item[t as 'model'] ?? ''),
      )
      .concat(this.attributes.map((a) => item.attributes?.[a] ?? ''))
      .join('\u0000');
    const known = this.bySignature.get(signature);
    if (known !== undefined) return known;
    const found = this.classOf(item, pack);
    this.bySignature.set(signature, found);
    return found;
  }

  private classOf(item: Item, pack: string): number {
    const rows = this.ws.recipeIndex(this.recipe).forPack(item, pack);
    // rows that tie at some basis, or that none may reach, are for the explained way to refuse
    const tie = rows.some((r, i) =>
      rows.slice(0, i).some((o) => o.rank === r.rank && !(o.to?.lte(r.from ?? 0) || r.to?.lte(o.from ?? 0))),
    );
    if (tie || rows.some((r) => !expressible(r.row))) return -1;
    const key = rows.map((r) => r.row.id).join('\u0000');
    const known = this.byRows.get(key);
    if (known !== undefined) return known;
    const made = this.made.push({ rows: rows.map((r) => r.row) }) - 1;
    this.byRows.set(key, made);
    return made;
  }

  get columns(): UpliftColumns {
    const intervals = this.made.map(({ rows }) => intervalsOf(rows));
    const all = intervals.flat();
    const first = new Int32Array(intervals.length + 1);
    intervals.forEach((c, i) => (first[i + 1] = first[i]! + c.length));
    const rows = all.map(({ row }) => (row ? this.row(row) : { operation: 0, operand: NaN }));
    return {
      first,
      until: Float64Array.from(all, (r) => (r.until ? nearest(r.until) : Infinity)),
      operation: Uint8Array.from(rows, (r) => r.operation),
      operand: Float64Array.from(rows, (r) => r.operand),
      row: Int32Array.from(all, (r) => (r.row ? this.recipe.uplift.indexOf(r.row) : -1)),
    };
  }

  private row(r: UpliftRow): { operation: number; operand: number } {
    const value = dec(r.value);
    const amount = () => nearest(value) * this.rateFrom(r.currency ?? this.list.currency);
    switch (r.method) {
      case 'markup':
        return { operation: 0, operand: nearest(ONE.plus(share(value))) };
      case 'margin':
        return { operation: 1, operand: nearest(ONE.minus(share(value))) };
      case 'multiply':
        return { operation: 0, operand: nearest(value) };
      case 'percent_off':
        return { operation: 0, operand: nearest(ONE.minus(share(value))) };
      case 'add':
        return { operation: 2, operand: amount() };
      case 'amount_off':
        return { operation: 2, operand: -amount() };
      case 'fixed':
        return { operation: 3, operand: amount() };
    }
  }
}

/** The intervals between the edges of rows, the most specific row first; neighbours with the same row are one. */
function intervalsOf(rows: readonly UpliftRow[]): { until: Dec | null; row: UpliftRow | null }[] {
  const band = (r: UpliftRow) => ({ from: dec(r.scope.band?.from ?? '0'), to: r.scope.band?.to ?? null });
  const edges = rows.flatMap((r) => [band(r).from, ...(band(r).to === null ? [] : [dec(band(r).to!)])]);
  const starts = [dec(0), ...edges.filter((e) => e.gt(0)).sort((a, b) => a.cmp(b))].filter(
    (e, i, all) => i === 0 || e.gt(all[i - 1]!),
  );
  const made: { until: Dec | null; row: UpliftRow | null }[] = [];
  starts.forEach((start, i) => {
    const row = rows.find((r) => band(r).from.lte(start) && (band(r).to === null || start.lt(band(r).to!))) ?? null;
    const until = starts[i + 1] ?? null;
    const last = made.at(-1);
    if (last && last.row === row) last.until = until;
    else made.push({ until, row });
  });
  return made;
}

/** Factors above 0, and margins under 100 %; anything else is the explained way's. */
function expressible(row: UpliftRow): boolean {
  const value = dec(row.value);
  switch (row.method) {
    case 'markup':
      return value.gt(-100);
    case 'margin':
    case 'percent_off':
      return value.lt(100);
    case 'multiply':
      return value.gt(0);
    default:
      return true;
  }
}
