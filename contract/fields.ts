import { type Schema, ValidationError, number, string } from 'yup';

/** An exact decimal as text: "214.50". At most 20 digits before the point and 15 after it. */
export const decimalText = () =>
  string()
    .trim()
    .matches(/^-?\d{1,20}(\.\d{1,15})?$/, { message: 'must be a number such as 214.50', excludeEmptyString: true });

/** Not below zero. */
export const positiveText = () =>
  decimalText().matches(/^\d/, { message: 'must not be negative', excludeEmptyString: true });

export const currencyCode = () =>
  string()
    .trim()
    .uppercase()
    .matches(/^[A-Z]{3}$/, { message: 'must be a currency code such as EUR', excludeEmptyString: true });

/** A calendar day that exists: 2026-03-09. */
export const dayText = () =>
  string()
    .trim()
    .test('day', 'must be a day such as 2026-03-09', (text) => {
      if (text === undefined || text === null || text === '') return true;
      if (!/^\d{4}-\d{2}-\d{2}$/.test(text)) return false;
      const day = new Date(`${text}T00:00:00Z`);
      return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(text);
    });

export const idText = () =>
  string()
    .trim()
    .matches(/^\d{1,9}$/, { message: 'must name something that exists', excludeEmptyString: true });

export const versionNumber = () => number().integer().min(1).required();

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
