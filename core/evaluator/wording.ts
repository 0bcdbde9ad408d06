import { minorUnits } from '../numbers/currency.ts';
import { type Dec, money, plain, roundHalfUp, settle } from '../numbers/decimal.ts';
import { type Reason, wording } from '../reasons.ts';

// How figures are written in answers: exact decimals as text.

/** A price: at least the list's decimals, never fewer than it has. */
export const priceText = (value: Dec, decimals: number): string => money(value, decimals);

/** A total in a currency. */
export const totalText = (value: Dec, currency: string): string => money(value, minorUnits(currency));

/** Markup or margin in per cent on two decimals. */
export const percentText = (value: Dec | null): string | null => value && roundHalfUp(value, 2).toFixed(2);

/** A figure that was divided, to 34 significant digits. */
export const exactText = (value: Dec | null): string | null => value && plain(settle(value));

export interface ReasonAnswer extends Reason {
  /** The reason as a sentence. */
  readonly message: string;
}

export const reasonAnswer = (reason: Reason): ReasonAnswer => ({ ...reason, message: wording(reason) });
