import { depositsOf } from '../lists/terms.ts';
import { taxFactor } from '../regions/tax.ts';
import type { Item, Pack } from '../items/item.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import { type ItemColumns, nearest } from './columns.ts';
import type { RateFrom } from './recipe-figures.ts';

/** What a list is made from where that is a price as a list shows it: its own posted one, or another list's. */
export interface ShownBasis {
  /** In that list's currency; NaN: none. */
  readonly amount: Float64Array;
  /** The pack's deposit with its tax, as that list shows it. */
  readonly deposit: Float64Array;
  /** By tax class: what that list puts on a net price. */
  readonly taxFactor: Float64Array;
  /** From that list's currency to the priced list's. */
  readonly rate: number;
}

/** By tax class: what a list puts on a net price. NaN: unknown. */
export function shownTax(ws: Prepared, list: PriceList, columns: ItemColumns): Float64Array {
  return Float64Array.from(columns.taxClasses, (c) => (list.taxIn ? ownTax(ws, list, c, columns.day) : 1));
}

export function ownTax(ws: Prepared, list: PriceList, taxClass: string, day: string): number {
  const found = ws.taxOn(taxClass, day, ws.taxRegion(list));
  return found ? nearest(taxFactor(found.percent)) : NaN;
}

/** Whether a pack carries any deposit. */
export const hasDeposit = (pack: Pack): boolean => Boolean(pack.deposit ?? pack.unitDeposit);

/** A pack's deposits with their tax, as a list shows them; 0: none, NaN: a rate is not known. */
export function depositShown(
  ws: Prepared,
  list: PriceList,
  { item, pack }: { item: Item; pack: Pack },
  day: string,
  rateFrom: RateFrom,
): number {
  return depositsOf(item, pack).reduce((sum, { amount, currency, taxClass }) => {
    const tax = list.taxIn ? ownTax(ws, list, taxClass, day) : 1;
    return sum + nearest(amount) * rateFrom(currency) * tax;
  }, 0);
}
