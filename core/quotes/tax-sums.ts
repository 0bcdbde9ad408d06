import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, divide, plain, roundHalfUp } from '../numbers/decimal.ts';
import type { PriceList } from '../lists/price-list.ts';
import { taxFactor } from '../regions/tax.ts';

export interface TaxLine {
  readonly percent: string;
  readonly net: Dec;
  readonly tax: Dec;
}

/** Sums goods and deposits per tax rate; the tax is rounded once per rate. */
export class TaxSums {
  private readonly sums = new Map<string, Dec>();

  constructor(private readonly list: Pick<PriceList, 'taxIn' | 'currency'>) {}

  /** `shown` is with tax on a list with tax in, else without. */
  add(percent: string, shown: Dec): void {
    const key = plain(dec(percent));
    if (!shown.isZero()) this.sums.set(key, (this.sums.get(key) ?? ZERO).plus(shown));
  }

  lines(): TaxLine[] {
    const { taxIn, currency } = this.list;
    return [...this.sums].map(([percent, shown]) => {
      const factor = taxFactor(percent);
      const tax = roundHalfUp(
        taxIn ? shown.minus(divide(shown, factor)) : shown.times(factor.minus(1)),
        minorUnits(currency),
      );
      return { percent, net: taxIn ? shown.minus(tax) : shown, tax };
    });
  }
}
