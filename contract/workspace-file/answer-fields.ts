import { type TProperties, Type } from '@sinclair/typebox';

// The leaves of the answers; each says what it means.

export const text = (description: string) => Type.String({ description });
export const amount = (description: string) =>
  Type.String({ pattern: '^-?\\d+(\\.\\d+)?$', description: `${description}; an exact decimal` });
export const yesNo = (description: string) => Type.Boolean({ description });
export const orNull = (schema: object, description: string) =>
  Type.Unsafe<unknown>({ anyOf: [schema, { type: 'null' }], description });
export const list = (items: object, description: string) => Type.Unsafe<unknown>({ type: 'array', items, description });
export const oneOf = (names: readonly string[], description: string) =>
  Type.Unsafe<string>({ type: 'string', enum: [...names], description });
export const shape = (fields: TProperties, description = 'an object') =>
  Type.Object(fields, { additionalProperties: false, description });
export const maybe = Type.Optional;
