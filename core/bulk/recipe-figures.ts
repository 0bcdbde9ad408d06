import { ONE, dec, settle, share } from '../numbers/decimal.ts';
import { type AddOn, GUARD_KINDS, type GuardKind, type RecipeTerms } from '../recipes/recipe.ts';
import type { Item, Pack } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { fits, holdsAll } from '../items/scope.ts';
import { nearest } from './columns.ts';

/** From a currency to the list's, as the nearest double; no currency: the list's own. NaN: unknown. */
export type RateFrom = (currency: string | null | undefined) => number;

/** What add-ons come to: a share of the basis, an amount per pack, an amount per unit, in this order. */
export type AddOnSums = Float64Array;

/** Guards as figures: indexes into GUARD_KINDS, with what each takes: a factor on cost, or an amount. */
export interface GuardFigures {
  readonly guards: Uint8Array;
  readonly guardValue: Float64Array;
  readonly between: Between;
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

/** Whether add-ons can be expressed: none takes anything off. */
export const expressibleAddOns = (recipe: RecipeTerms): boolean =>
  (recipe.addOns ?? []).every((a) =>
    [a.value ?? '0', ...(a.bands ?? []).map((b) => b.value)].every((v) => dec(v).gte(0)),
  );

/** Whether an add-on differs from row to row. */
export const goesByRow = ({ scope, kind }: AddOn): boolean => (!!scope && !holdsAll(scope)) || kind === 'by_weight';

/** The add-ons that are the same for every row. */
export function commonAddOns(recipe: RecipeTerms, rateFrom: RateFrom): { before: AddOnSums; after: AddOnSums } {
  const sums = { before: new Float64Array(3), after: new Float64Array(3) };
  for (const addOn of recipe.addOns ?? []) {
    if (goesByRow(addOn)) continue;
    const into = sums[addOn.when ?? 'after'];
    const value = dec(addOn.value ?? '0');
    if (addOn.kind === 'percent_of_basis') into[0]! += nearest(share(value));
    else into[addOn.per === 'unit' ? 2 : 1]! += nearest(value) * rateFrom(addOn.currency);
  }
  return sums;
}

/** The add-ons that only some rows have, or that go by weight, as columns. */
export interface RowAddOns {
  readonly beforeShare: Float64Array;
  readonly beforePack: Float64Array;
  readonly afterShare: Float64Array;
  /** NaN: the weight is not known, or no band holds it. */
  readonly afterPack: Float64Array;
}

/** Null: the recipe has none. */
export function rowAddOns(recipe: RecipeTerms, rows: number): RowAddOns | null {
  if (!(recipe.addOns ?? []).some(goesByRow)) return null;
  const column = () => new Float64Array(rows);
  return { beforeShare: column(), beforePack: column(), afterShare: column(), afterPack: column() };
}

/** Puts the add-ons that a row has into its columns. */
export function addOnsInto(
  into: RowAddOns,
  recipe: RecipeTerms,
  { ws, channels, rateFrom }: { ws: Prepared; channels: readonly string[]; rateFrom: RateFrom },
): (row: number, item: Item, pack: Pack) => void {
  const addOns = (recipe.addOns ?? []).filter(goesByRow).map((addOn) => {
    const before = (addOn.when ?? 'after') === 'before';
    const ofBasis = addOn.kind === 'percent_of_basis';
    const packs = before ? into.beforePack : into.afterPack;
    return {
      addOn,
      column: ofBasis ? (before ? into.beforeShare : into.afterShare) : packs,
      share: ofBasis ? nearest(share(dec(addOn.value ?? '0'))) : null,
      value: nearest(addOn.value ?? '0'),
      rate: rateFrom(addOn.currency),
    };
  });
  return (row, item, pack) => {
    for (const { addOn, column, share, value, rate } of addOns) {
      if (addOn.scope && !fits(ws, addOn.scope, item, pack.name, channels)) continue;
      if (share !== null) column[row]! += share;
      else if (addOn.kind === 'by_weight') column[row]! += bandAmount(addOn, item, pack) * rate;
      else column[row]! += value * (addOn.per === 'unit' ? nearest(pack.units) : 1) * rate;
    }
  };
}

function bandAmount(addOn: AddOn, item: Item, pack: Pack): number {
  if (item.weightKg === null || item.weightKg === undefined) return NaN;
  const at = settle(dec(item.weightKg).times(pack.units));
  const band = addOn.bands?.find((b) => at.gte(b.from) && (b.to === null || at.lt(b.to)));
  return band ? nearest(band.value) : NaN;
}

/** Null: a guard that the explained way refuses. */
export function guardFigures(recipe: RecipeTerms, rateFrom: RateFrom): GuardFigures | null {
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
