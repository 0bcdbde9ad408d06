import { type Dec, dec } from '../numbers/decimal.ts';

interface Line {
  readonly kind: 'goods' | 'correction' | 'return';
  /** Cost packs, and the price of one in the currency of the bill, without tax; exact decimals. */
  readonly quantity: string;
  readonly price: string;
}

/** What a line of a bill comes to; null: a corrected price says what goods cost and is no delivery of its own. */
export function lineTotal({ kind, quantity, price }: Line): Dec | null {
  const amount = dec(quantity).times(price);
  return kind === 'goods' ? amount : kind === 'return' ? amount.neg() : null;
}

/** Goods less what was sent back, in the currency of the bill, without tax; not rounded. */
export const billTotal = (lines: readonly Line[]): Dec => lines.reduce((sum, l) => sum.plus(lineTotal(l) ?? 0), dec(0));
