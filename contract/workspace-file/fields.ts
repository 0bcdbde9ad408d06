import { type Static, type TObject, type TProperties, type TSchema, Type } from '@sinclair/typebox';

// The leaves of the workspace file. `description` is what a message says was expected.

const DECIMAL = '^-?\\d{1,40}(\\.\\d{1,40})?$';
const NOT_NEGATIVE = '^\\d{1,40}(\\.\\d{1,40})?$';
const POSITIVE = '^(?=.*[1-9])\\d{1,40}(\\.\\d{1,40})?$';

const text = (pattern: string, description: string) => Type.String({ pattern, description });

/** Any exact decimal. */
export const decimal = () => text(DECIMAL, 'an exact decimal as text, such as "12.50" or "-3"');
export const notNegative = () => text(NOT_NEGATIVE, 'an exact decimal of 0 or more as text, such as "12.50"');
export const positive = () => text(POSITIVE, 'an exact decimal above 0 as text, such as "12.50"');
export const currency = () => text('^[A-Z]{3}$', 'a currency of three capital letters, such as "EUR" (ISO 4217)');
export const country = () => text('^[A-Z]{2}$', 'a country of two capital letters, such as "NO" (ISO 3166-1)');
export const day = () =>
  Type.String({ format: 'day', description: 'a calendar day as text, such as "2026-03-09" (ISO 8601)' });
export const name = () => Type.String({ minLength: 1, description: 'a text that is not empty' });
/** What others refer to it by: any text that is not empty, without a space at either end. */
export const id = () => text('^\\S(.*\\S)?$', 'an id: a text that is not empty, without spaces at its ends');
export const version = () =>
  Type.Integer({ minimum: 1, default: 1, description: 'a whole number from 1 on: which version of the rule this is' });
export const whole = (description: string, least = 0) => Type.Integer({ minimum: least, description });
export const yesNo = (description: string, normally?: boolean) =>
  Type.Boolean({
    description: `true or false: ${description}`,
    ...(normally === undefined ? {} : { default: normally }),
  });

/** One of the names; kept as an enumeration, which reads better than a union of constants. */
export const oneOf = <const T extends readonly string[]>(names: T, normally?: T[number]) =>
  Type.Unsafe<T[number]>({
    type: 'string',
    enum: [...names],
    description: `one of ${names.map((n) => `"${n}"`).join(', ')}`,
    ...(normally === undefined ? {} : { default: normally }),
  });

/** May be absent or null. */
export function maybe<T extends TSchema>(schema: T) {
  const { type, description } = schema as unknown as { type?: string; description?: string };
  const leaf = type === 'string' || type === 'integer' || type === 'boolean';
  const known = schema as unknown as { enum?: unknown[] };
  const nullable = leaf
    ? { ...schema, type: [type, 'null'], ...(known.enum ? { enum: [...known.enum, null] } : {}) }
    : { anyOf: [schema, { type: 'null' }], ...(description ? { description } : {}) };
  return Type.Optional(Type.Unsafe<Static<T> | null>(nullable as never));
}

export const optional = <T extends TSchema>(schema: T) => Type.Optional(schema);

/** An object that may have only the fields named. */
export const record = <T extends TProperties>(fields: T, description = 'an object'): TObject<T> =>
  Type.Object(fields, { additionalProperties: false, description });

/** A list; absent: empty. */
export const rows = <T extends TSchema>(schema: T, description = 'a list') =>
  Type.Array(schema, { default: [], description });

/** Names and values of attributes. */
export const attributes = () =>
  Type.Record(Type.String({ minLength: 1 }), Type.String(), {
    description: 'attribute names with their values as text',
  });
