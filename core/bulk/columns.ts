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

/** What a unit costs in the workspace's currency, a row for each of the items' packs; NaN: this row is left to the explained way. */
export interface CostColumns {
  /** As it is bought. */
  readonly bare: Float64Array;
  /** With what it costs on top under the terms of its supplier. */
  readonly landed: Float64Array;
}

/**
 * Items in their packs as columns of doubles, a row a pack: what every list's price is made of. What all lists make of an
 * item alike is in them already. Each figure read is the double nearest to the exact one; docs/decisions/13 says why that is
 * enough. Plain data: it can be sent to a worker.
 */
export interface ItemFigures extends CostColumns {
  /** The usual costs, where a supplier has reduced any; null: they are the same. */
  readonly usual: CostColumns | null;
  readonly units: Float64Array;
  readonly taxClass: Int32Array;
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
  const onTop = new OnTop(ws, day);
  const taxClasses: string[] = [];
  const taxAt = new Map<string, number>();
  const recommended = (): RecommendedColumns => ({
    amount: new Float64Array(n).fill(NaN),
    currency: new Int32Array(n),
    taxIn: new Uint8Array(n),
  });
  const costColumns = (): CostColumns => ({
    bare: new Float64Array(n).fill(NaN),
    landed: new Float64Array(n).fill(NaN),
  });
  const { bare, landed } = costColumns();
  const columns: ItemColumns = {
    day,
    rows: rows.map(({ item, pack }) => ({ item, pack })),
    bare,
    landed,
    usual: ws.workspace.costs.some((c) => c.reduced) ? costColumns() : null,
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
    const unit = (nearest(amount.amount) / nearest(found.cost.packUnits)) * nearest(x.text);
    into.bare[i] = unit;
    const { freightPerKg, freightPerUnit, duty, handling, overhead } = onTop.of(key, terms);
    const fee = feeOf(found.cost, terms);
    const feeShare = fee ? nearest(divide(dec(fee.amount), dec(fee.of))) : 0;
    const weight = of.weightKg === null || of.weightKg === undefined ? NaN : nearest(of.weightKg);
    const freight = freightPerKg === 0 ? freightPerUnit : freightPerKg * weight;
    into.landed[i] = unit + freight + unit * duty + handling + unit * overhead + unit * feeShare;
  };
  rows.forEach(({ of, as }, i) => {
    columns.units[i] = nearest(as.units);
    if (!taxAt.has(of.taxClass)) taxAt.set(of.taxClass, taxClasses.push(of.taxClass) - 1);
    columns.taxClass[i] = taxAt.get(of.taxClass)!;
    put(columns.rrp, i, of.rrp);
    put(columns.map, i, of.map);
    putCost(columns, i, of, 'paid');
    if (columns.usual) putCost(columns.usual, i, of, 'usual');
  });
  return columns;
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

/** What goods cost on top under some terms, per unit in the workspace's currency; what goes by the cost as shares of it. */
interface OnTopFigures {
  readonly freightPerKg: number;
  readonly freightPerUnit: number;
  readonly duty: number;
  readonly handling: number;
  readonly overhead: number;
}

/** The same of each of the terms in force, by their keys: made once. */
class OnTop {
  private readonly known = new Map<string, OnTopFigures>();

  constructor(
    private readonly ws: Prepared,
    private readonly day: Day,
  ) {}

  of(key: string, t: LandedTerms): OnTopFigures {
    let found = this.known.get(key);
    if (!found) {
      found = {
        freightPerKg: t.freight?.per === 'kg' ? this.inOwn(t.freight.amount) : 0,
        freightPerUnit: t.freight?.per === 'unit' ? this.inOwn(t.freight.amount) : 0,
        duty: shareOf(t.dutyPercent),
        handling: this.inOwn(t.handling),
        overhead: shareOf(t.overheadPercent),
      };
      this.known.set(key, found);
    }
    return found;
  }

  private inOwn(a: AmountText | null | undefined): number {
    if (!a) return 0;
    const x = exchangeOn(this.ws, a.currency, this.ws.workspace.currency, this.day);
    return x ? nearest(dec(a.amount).times(x.factor)) : NaN;
  }
}

const shareOf = (percent: string | null | undefined) => (percent ? nearest(share(dec(percent))) : 0);
