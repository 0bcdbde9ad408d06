import { isDay } from '#core/numbers/day.ts';
import { type Schema, ValidationError, number, string, setLocale } from 'yup';

// beside its own field a fault need not name it
setLocale({ mixed: { required: 'is needed here' } });

/** A text without spaces at its ends. Anything else than a text is refused: a figure that came as a number has lost digits already. */
export const text = () =>
  string().transform((_: unknown, sent: unknown) => (typeof sent === 'string' ? sent.trim() : sent));

export const lowerText = () =>
  text().transform((value: unknown) => (typeof value === 'string' ? value.toLowerCase() : value));

/** Length is what makes a password hard to guess; what is common is refused besides. */
export const newPassword = () => string().min(12, 'must have at least 12 characters').max(200);

/** An exact decimal as text: "214.50". At most 20 digits before the point and 15 after it. */
export const decimalText = () =>
  text().matches(/^-?\d{1,20}(\.\d{1,15})?$/, { message: 'must be a number such as 214.50', excludeEmptyString: true });

/** Not below zero. */
export const positiveText = () =>
  decimalText().matches(/^\d/, { message: 'must not be negative', excludeEmptyString: true });

/** More than zero: a price of nothing is no slip of the finger that passes. */
export const priceText = () =>
  positiveText().matches(/[1-9]/, { message: 'must be more than 0', excludeEmptyString: true });

export const currencyCode = () =>
  text()
    .transform((value: unknown) => (typeof value === 'string' ? value.toUpperCase() : value))
    .matches(/^[A-Z]{3}$/, { message: 'must be a currency code such as EUR', excludeEmptyString: true });

/** A calendar day that exists: 2026-03-09. */
export const dayText = () =>
  text().test('day', 'must be a day such as 2026-03-09', (given) => {
    if (given === undefined || given === null || given === '') return true;
    // a year beyond these is a slip of the finger
    return /^(19|20|21)\d{2}-/.test(given) && isDay(given);
  });

export const idText = () =>
  text().matches(/^\d{1,9}$/, { message: 'must name something that exists', excludeEmptyString: true });

/** Whether the last digit of a barcode (8, 12, 13 or 14 digits) checks the others: ISO/IEC 15420, weights 3 and 1 from the right. */
export function barcodeHolds(digits: string): boolean {
  if (!/^(\d{8}|\d{12,14})$/.test(digits)) return false;
  const sum = [...digits].reverse().reduce((all, d, i) => all + Number(d) * (i % 2 === 0 ? 1 : 3), 0);
  return sum % 10 === 0;
}

export const barcodeText = () =>
  text()
    .transform((v: unknown) => (typeof v === 'string' ? v.replace(/[\s-]/g, '') : v))
    .test('barcode', 'is no barcode: a digit is wrong or missing', (given) => !given || barcodeHolds(given));

/** The largest whole number that a column of the database holds. */
const MOST_WHOLE = 2_147_483_647;

export const wholeNumber = () => number().strict().integer().min(1).max(MOST_WHOLE);
export const versionNumber = () => wholeNumber().required();

/** An optional field: an empty text means "not given". */
export function optional<T extends Schema>(schema: T) {
  return schema
    .transform((v: unknown) => (v === '' ? null : v))
    .nullable()
    .default(null) as unknown as T extends Schema<infer V> ? Schema<NonNullable<V> | null> : never;
}

export interface FieldFault {
  path: string;
  message: string;
}

/** What a schema finds wrong, by field. */
export function faultsOf(error: ValidationError): FieldFault[] {
  const inner = error.inner.length > 0 ? error.inner : [error];
  return inner.map((e) => ({
    path: e.path ?? '',
    message: e.message.replace(/^(\S+) must be a `(\w+)` type.*$/s, '$1 must be a $2').replace(/^this /, ''),
  }));
}
