import { type Dec, dec, plain } from './decimal.ts';

/** An amount and its currency; the two never part. */
export interface Amount {
  readonly value: Dec;
  readonly currency: string;
}

/** The wire form: an exact decimal as text. */
export interface AmountText {
  readonly amount: string;
  readonly currency: string;
}

export function amount(value: string | number | Dec, currency: string): Amount {
  return { value: dec(value), currency };
}

export function amountFrom(text: AmountText): Amount {
  return amount(text.amount, text.currency);
}

export function amountText(a: Amount): AmountText {
  return { amount: plain(a.value), currency: a.currency };
}

/** Thrown when two currencies meet without an exchange rate: always a mistake in the program, never in the data. */
export class CurrencyMismatch extends Error {
  constructor(a: string, b: string) {
    super(`${a} and ${b} cannot be added without an exchange rate`);
    this.name = 'CurrencyMismatch';
  }
}

/** a + b; throws {@link CurrencyMismatch} when the currencies differ. */
export function addAmounts(a: Amount, b: Amount): Amount {
  if (a.currency !== b.currency) throw new CurrencyMismatch(a.currency, b.currency);
  return { value: a.value.plus(b.value), currency: a.currency };
}
