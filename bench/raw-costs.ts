import type { ItemColumns } from '#core/bulk/columns.ts';
import { nearest } from '#core/bulk/columns.ts';
import { costOn } from '#core/costs/landed-cost.ts';
import { exchangeOn } from '#core/costs/exchange.ts';
import { landedTermsOf } from '#core/costs/landed-terms.ts';
import type { LandedTerms } from '#core/costs/cost.ts';
import { dec, share } from '#core/numbers/decimal.ts';
import type { Prepared } from '#core/workspace/prepared.ts';

/** What landed costs are made from, a row a pack: of items with one supplier each. */
export interface RawCosts {
  /** Per cost pack, in the supplier's currency. */
  readonly cost: Float64Array;
  readonly packUnits: Float64Array;
  readonly rate: Float64Array;
  /** Kilograms per unit. */
  readonly weight: Float64Array;
  /** Row of what is on top. */
  readonly terms: Int32Array;
  readonly onTop: Readonly<Record<'freightPerKg' | 'duty' | 'handling' | 'overhead', Float64Array>>;
}

export function rawCosts(ws: Prepared, { day, rows }: ItemColumns): RawCosts {
  const own = ws.workspace.currency;
  const inForce: LandedTerms[] = [];
  const at = new Map<string, number>();
  const read = rows.map((row) => {
    const item = ws.items.get(row.item)!;
    const found = costOn(ws.costsByItem.get(item.id)!, day)!;
    const { key, terms } = landedTermsOf(ws, item, ws.suppliers.get(found.supplier)!, day);
    if (!at.has(key)) at.set(key, inForce.push(terms) - 1);
    return { item, found, terms: at.get(key)! };
  });
  type Read = (typeof read)[number];
  const figures = (of: (row: Read) => number) => Float64Array.from(read, of);
  const onTop = (of: (t: LandedTerms) => number) => Float64Array.from(inForce, of);
  const inOwn = (a: { amount: string; currency: string } | null | undefined) =>
    a ? nearest(dec(a.amount).times(exchangeOn(ws, a.currency, own, day)!.factor)) : 0;
  const shareOf = (percent: string | null | undefined) => (percent ? nearest(share(dec(percent))) : 0);
  return {
    cost: figures(({ found }) => nearest(found.cost.amount)),
    packUnits: figures(({ found }) => nearest(found.packUnits)),
    rate: figures(({ found }) => nearest(exchangeOn(ws, found.cost.currency, own, day)!.text)),
    weight: figures(({ item }) => nearest(item.weightKg!)),
    terms: Int32Array.from(read, (r) => r.terms),
    onTop: {
      freightPerKg: onTop((t) => inOwn(t.freight?.amount)),
      duty: onTop((t) => shareOf(t.dutyPercent)),
      handling: onTop((t) => inOwn(t.handling)),
      overhead: onTop((t) => shareOf(t.overheadPercent)),
    },
  };
}
