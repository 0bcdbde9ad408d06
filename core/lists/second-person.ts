import { type Dec, dec } from '../numbers/decimal.ts';

/** A price that a posting changes; amounts per pack, as the list shows them. Null: there was none, or there is none from then on. */
export interface MovedPrice {
  readonly before: string | null;
  readonly after: string | null;
}

/**
 * Whether a second person has to agree to a posting: one of its prices moves by more than `beyond` per cent of what was posted,
 * or there was none, or is none any more. `beyond` of 0 asks for every posting, absent for none.
 */
export function needsSecondPerson(beyond: string | null | undefined, prices: Iterable<MovedPrice>): boolean {
  if (beyond === null || beyond === undefined) return false;
  const most = dec(beyond);
  for (const price of prices) if (most.isZero() || movesBeyond(most, price)) return true;
  return false;
}

/** Whether a price moves by more than `most` per cent of the posted one; to or from no price always counts. */
export function movesBeyond(most: Dec, { before, after }: MovedPrice): boolean {
  if (before === null || after === null) return before !== after;
  const [is, will] = [dec(before), dec(after)];
  if (is.isZero()) return !will.isZero();
  return will.minus(is).abs().times(100).gt(most.times(is));
}
