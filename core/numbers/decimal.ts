import { Decimal } from 'decimal.js';

/**
 * The number type of every amount, rate and percentage.
 *
 * `+ − ×` lose nothing (the working precision is far beyond what any input can reach); division keeps
 * 50 significant digits, and {@link settle} takes a divided figure to 34 digits before a decision is made on it.
 */
export const Dec = Decimal.clone({ precision: 1000, rounding: Decimal.ROUND_HALF_UP, toExpNeg: -9e15, toExpPos: 9e15 });
export type Dec = Decimal;

const Quotient = Decimal.clone({ precision: 50, rounding: Decimal.ROUND_HALF_UP, toExpNeg: -9e15, toExpPos: 9e15 });

export const ZERO = new Dec(0);
export const ONE = new Dec(1);
const HUNDRED = new Dec(100);
const HUNDREDTH = new Dec('0.01');

/** Figures that were read before: rates, percentages and prices come up again and again, and a decimal never changes. */
const read = new Map<string, Dec>();
const MOST_READ = 20_000;

export function dec(value: string | number | Dec): Dec {
  if (typeof value !== 'string') return typeof value === 'number' ? new Dec(value) : value;
  const known = read.get(value);
  if (known) return known;
  const made = new Dec(value);
  if (read.size >= MOST_READ) read.clear();
  // longer ones are figures of one item, and seldom come again
  if (value.length <= 6) read.set(value, made);
  return made;
}

/** a ÷ b to 50 significant digits, half up. Throws on b = 0: callers give a reason before they divide. */
export function divide(a: Dec, b: Dec): Dec {
  if (b.isZero()) throw new RangeError('division by zero');
  return new Dec(new Quotient(a).div(b));
}

/** A percentage as a share: 35 → 0.35. Exact. */
export function share(percent: Dec): Dec {
  return percent.times(HUNDREDTH);
}

/** A share as a percentage: 0.35 → 35. Exact. */
export function percent(part: Dec): Dec {
  return part.times(HUNDRED);
}

/**
 * A figure as it enters a decision (rounding, a rung's edge, a guard): 34 significant digits, half up.
 * Why: 2 ÷ 3 × 3 carries a stray digit in the 50th place; without this, "round up" would make 3 of it.
 */
export function settle(value: Dec): Dec {
  return value.precision() > 34 ? value.toSignificantDigits(34, Decimal.ROUND_HALF_UP) : value;
}

/** Rounds to decimal places, ties away from zero. */
export function roundHalfUp(value: Dec, places: number): Dec {
  return settle(value).toDecimalPlaces(places, Decimal.ROUND_HALF_UP);
}

/** Rounds towards plus infinity. */
export function roundUp(value: Dec, places: number): Dec {
  return settle(value).toDecimalPlaces(places, Decimal.ROUND_CEIL);
}

/** Rounds towards minus infinity. */
export function roundDown(value: Dec, places: number): Dec {
  return settle(value).toDecimalPlaces(places, Decimal.ROUND_FLOOR);
}

/** Plain notation, never an exponent; no trailing zeros. */
export function plain(value: Dec): string {
  return value.toFixed();
}

/** Plain notation with at least `places` decimals ("2.4" → "2.40"), never fewer than the value has. */
export function money(value: Dec, places: number): string {
  return value.toFixed(Math.max(places, value.decimalPlaces()));
}

export function max(a: Dec, b: Dec): Dec {
  return a.gte(b) ? a : b;
}

export function min(a: Dec, b: Dec): Dec {
  return a.lte(b) ? a : b;
}
