import type { ItemFigures } from './columns.ts';
import { type BulkList, ELSEWHERE } from './prepare-list.ts';

/** What a row's pack costs landed in the currency of a list, as the nearest double that its figures allow; NaN: not known. */
export const landedOnList = (c: ItemFigures, l: BulkList, i: number): number => c.landed[i]! * l.rate[0]! * c.units[i]!;

/** What is left of a price as the list shows it once tax and deposit are taken off; NaN: only the exact way can say. */
export function netOnList(c: ItemFigures, l: BulkList, i: number, shown: number): number {
  let part = l;
  if (l.klass[i] === ELSEWHERE) part = l.more.find((other) => other.klass[i] !== ELSEWHERE) ?? l;
  return goodsOf(shown, part.deposit?.[i] ?? 0) / part.taxFactor[c.taxClass[i]!]!;
}

/** What a deposit leaves of a price; NaN where that is so little of it that the error of the two is much of what is left. */
const goodsOf = (shown: number, deposit: number): number =>
  shown - deposit > shown * 2 ** -10 ? shown - deposit : NaN;

/** What a recipe starts from, per pack in the list's currency. */
export function basisOnList(c: ItemFigures, l: BulkList, i: number): number {
  const { basis, shownBasis: from } = l;
  const rate = l.rate[0]!;
  const units = c.units[i]!;
  const t = c.taxClass[i]!;
  if (basis === 0 || basis === 1) return (basis === 0 ? c.landed : c.bare)[i]! * rate * units;
  if (basis > 3) return (basis === 4 ? c.usual!.landed : c.usual!.bare)[i]! * rate * units;
  if (basis === 3) return (goodsOf(from!.amount[i]!, from!.deposit[i]!) * from!.rate) / from!.taxFactor[t]!;
  const net = c.rrp.taxIn[i] === 1 ? c.rrp.amount[i]! / l.ownTax[t]! : c.rrp.amount[i]!;
  return net * l.currencyRate[c.rrp.currency[i]!]! * units;
}
