import type { Day } from '../numbers/day.ts';
import { type Dec, ONE, dec, share } from '../numbers/decimal.ts';

/** Per cent by tax class, from a day on. */
export interface TaxRate {
  readonly taxClass: string;
  readonly percent: string;
  readonly from: Day;
  /** Only in this region; absent: wherever no rate of the region itself is known. */
  readonly region?: string | null;
}

export interface TaxView {
  /** The rate of a tax class on a day: the region's own, else the one that holds everywhere; null: none is known. */
  taxOn(taxClass: string, day: Day, region?: string | null): TaxRate | null;
  /** The region whose taxes a list shows: its only one, if it has exactly one. */
  taxRegion(list: { readonly regions?: readonly string[] }): string | null;
  /** How a list shows tax, whatever the rate of one item: lists with equal answers show it alike. */
  taxDisplay(list: { readonly taxIn: boolean; readonly regions?: readonly string[] }): string;
}

/** Per cent as a factor to multiply with: 20 → 1.20. */
export function taxFactor(percent: string): Dec {
  return ONE.plus(share(dec(percent)));
}
