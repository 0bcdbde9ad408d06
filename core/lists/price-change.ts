import { dec, divide, percent, plain, roundHalfUp } from '../numbers/decimal.ts';

/** A price's change in per cent on two decimals; null where there is nothing to compare. Both in one currency and the same terms. */
export function priceChange(before: string | null, after: string | null): string | null {
  if (before === null || after === null || dec(before).isZero()) return null;
  return plain(roundHalfUp(percent(divide(dec(after).minus(before), dec(before))), 2));
}
