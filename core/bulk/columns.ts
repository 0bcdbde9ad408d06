import { exchangeOn } from '../costs/exchange.ts';
import type { Cost, CostSide, LandedTerms, Supplier } from '../costs/cost.ts';
import { askedOn, costOn, feeOf, landedCost } from '../costs/landed-cost.ts';
import { landedTermsOf } from '../costs/landed-terms.ts';
import type { AmountText } from '../numbers/amount.ts';
import { type Dec, dec, divide, plain, share } from '../numbers/decimal.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack, Recommended } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';

/** The double nearest to a decimal: its relative error is at most 2⁻⁵³. */
export const nearest = (value: Dec | string): number => Number(typeof value === 'string' ? value : plain(value));

/** What goods cost on top under each of the terms in force, per unit in the workspace's currency. */
interface LandedColumns {
  readonly freightPerKg: Float64Array;
  readonly freightPerUnit: Float64Array;
  /** As shares of the unit cost. */
  readonly duty: Float64Array;
  readonly handling: Float64Array;
  readonly overhead: Float64Array;
}

/** The costs that count, a row for each of the items' packs. */
export interface CostColumns {
  /** Per cost pack, in the supplier's currency; NaN: this row is left to the explained way. */
  readonly cost: Float64Array;
  readonly packUnits: Float64Array;
  /** From the currency of the cost to the workspace's. */
  readonly rate: Float64Array;
  /** Row of the landed columns. */
  readonly terms: Int32Array;
  /** Share of an order's fee, of the unit cost. */
  readonly fee: Float64Array;
}

/**
 * Items in their packs as columns of doubles, a row a pack: what every list's price is made of. Each figure is the
 * double nearest to the exact one; docs/decisions/13 says why that is enough. Plain data: it can be sent to a worker.
 */
export interface ItemFigures extends CostColumns {
  /** The usual costs, where a supplier has reduced any; null: they are the same. */
  readonly usual: CostColumns | null;
  /** Kilograms per unit; NaN: unknown. */
  readonly weight: Float64Array;
  readonly units: Float64Array;
  readonly taxClass: Int32Array;
  readonly landed: LandedColumns;
  readonly taxClasses: readonly string[];
  /** Per unit; NaN: none. */
  readonly rrp: RecommendedColumns;
  readonly map: RecommendedColumns;
}

/** The figures, with the names of their rows. */
export interface ItemColumns extends ItemFigures {
  readonly day: Day;
  readonly rows: readonly { readonly item: string; readonly pack: string }[];
}

interface RecommendedColumns {
  readonly amount: Float64Array;
  /** Index into `currencies`. */
  readonly currency: Int32Array;
  readonly taxIn: Uint8Array;
}

/** Reads items of a workspace into columns for a day. `currencies` gathers those of recommended prices. */
export function itemColumns(ws: Prepared, day: Day, items: readonly Item[], currencies: string[]): ItemColumns {
  const rows: { item: string; pack: string; of: Item; as: Pack }[] = [];
  for (const item of items) {
    const of = ws.followed(item);
    for (const as of of.packs) rows.push({ item: item.id, pack: as.id, of, as });
  }
  const n = rows.length;
  const inForce: LandedTerms[] = [];
  const termsAt = new Map<string, number>();
  const taxClasses: string[] = [];
  const taxAt = new Map<string, number>();
  const recommended = (): RecommendedColumns => ({
    amount: new Float64Array(n).fill(NaN),
    currency: new Int32Array(n),
    taxIn: new Uint8Array(n),
  });
  const costColumns = (): CostColumns => ({
    cost: new Float64Array(n).fill(NaN),
    packUnits: new Float64Array(n).fill(1),
    rate: new Float64Array(n).fill(1),
    terms: new Int32Array(n),
    fee: new Float64Array(n),
  });
  const columns: Omit<ItemColumns, 'landed'> = {
    day,
    rows: rows.map(({ item, pack }) => ({ item, pack })),
    ...costColumns(),
    usual: ws.workspace.costs.some((c) => c.reduced) ? costColumns() : null,
    weight: new Float64Array(n).fill(NaN),
    units: new Float64Array(n),
    taxClass: new Int32Array(n),
    taxClasses,
    rrp: recommended(),
    map: recommended(),
  };
  const put = (into: RecommendedColumns, i: number, price: Recommended | null | undefined) => {
    if (!price) return;
    if (!currencies.includes(price.currency)) currencies.push(price.currency);
    into.amount[i] = nearest(price.amount);
    into.currency[i] = currencies.indexOf(price.currency);
    into.taxIn[i] = price.taxIn ? 1 : 0;
  };
  const putCost = (into: CostColumns, i: number, of: Item, side: CostSide) => {
    const found = countingCost(ws, of, day, side);
    if (!found) return;
    const { key, terms } = landedTermsOf(ws, of, found.supplier, day);
    const amount = askedOn(found.cost, day, side, terms.usualOrder);
    const x = exchangeOn(ws, amount.currency, ws.workspace.currency, day);
    if (!x) return;
    into.cost[i] = nearest(amount.amount);
    into.packUnits[i] = nearest(found.cost.packUnits);
    into.rate[i] = nearest(x.text);
    if (!termsAt.has(key)) termsAt.set(key, inForce.push(terms) - 1);
    into.terms[i] = termsAt.get(key)!;
    const fee = feeOf(found.cost, terms);
    if (fee) into.fee[i] = nearest(divide(dec(fee.amount), dec(fee.of)));
  };
  rows.forEach(({ of, as }, i) => {
    columns.units[i] = nearest(as.units);
    if (of.weightKg !== null && of.weightKg !== undefined) columns.weight[i] = nearest(of.weightKg);
    if (!taxAt.has(of.taxClass)) taxAt.set(of.taxClass, taxClasses.push(of.taxClass) - 1);
    columns.taxClass[i] = taxAt.get(of.taxClass)!;
    put(columns.rrp, i, of.rrp);
    put(columns.map, i, of.map);
    putCost(columns, i, of, 'paid');
    if (columns.usual) putCost(columns.usual, i, of, 'usual');
  });
  return { ...columns, landed: landedColumns(ws, day, inForce) };
}

/** The cost that counts: with one supplier the one in force, else as the explained way chooses. */
function countingCost(ws: Prepared, item: Item, day: Day, side: CostSide): { cost: Cost; supplier: Supplier } | null {
  const costs = ws.costsByItem.get(item.id) ?? [];
  const first = costs[0];
  if (!first) return null;
  if (costs.every((c) => c.supplier === first.supplier)) {
    const supplier = ws.suppliers.get(first.supplier);
    const cost = costOn(costs, day);
    return supplier && cost ? { supplier, cost } : null;
  }
  const landed = landedCost(ws, item, day, side);
  return landed.ok ? landed.value : null;
}

function landedColumns(ws: Prepared, day: Day, inForce: readonly LandedTerms[]): LandedColumns {
  const own = ws.workspace.currency;
  const inOwn = (a: AmountText | null | undefined): number => {
    if (!a) return 0;
    const x = exchangeOn(ws, a.currency, own, day);
    return x ? nearest(dec(a.amount).times(x.factor)) : NaN;
  };
  const shareOf = (percent: string | null | undefined) => (percent ? nearest(share(dec(percent))) : 0);
  const column = (of: (t: LandedTerms) => number) => Float64Array.from(inForce, of);
  return {
    freightPerKg: column((t) => (t.freight?.per === 'kg' ? inOwn(t.freight.amount) : 0)),
    freightPerUnit: column((t) => (t.freight?.per === 'unit' ? inOwn(t.freight.amount) : 0)),
    duty: column((t) => shareOf(t.dutyPercent)),
    handling: column((t) => inOwn(t.handling)),
    overhead: column((t) => shareOf(t.overheadPercent)),
  };
}
