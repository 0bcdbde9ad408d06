import { Type } from '@sinclair/typebox';
import type { LandedTerms } from '#core/costs/cost.ts';
import { LANDED_FIELDS } from '../records/landed-fields.ts';
import { amount, fileFieldsOf } from './declared.ts';
import {
  attributes,
  currency,
  day,
  id,
  maybe,
  name,
  notNegative,
  oneOf,
  optional,
  positive,
  record,
  whole,
  yesNo,
} from './fields.ts';

// What is bought and sold in the workspace file, and what the rules say of it.

const limits = { least: maybe(positive()), most: maybe(positive()), step: maybe(positive()) };

const recommended = record({ amount: positive(), currency: currency(), taxIn: optional(yesNo('tax is in it')) });

export const item = record({
  id: id(),
  sku: name(),
  name: name(),
  unit: Type.String({ minLength: 1, default: 'each', description: 'what one unit is, such as "each" or "metre"' }),
  category: id(),
  brand: maybe(name()),
  model: maybe(name()),
  supplier: maybe(id()),
  weightKg: maybe(notNegative()),
  taxClass: name(),
  rrp: maybe(recommended),
  map: maybe(recommended),
  attributes: optional(attributes()),
  packs: Type.Array(
    record({
      id: id(),
      name: name(),
      units: positive(),
      deposit: maybe(amount()),
      depositTaxClass: maybe(name()),
      unitDeposit: maybe(amount()),
      unitDepositTaxClass: maybe(name()),
    }),
    { minItems: 1, description: 'a list of at least one pack' },
  ),
  order: optional(
    record({
      ...limits,
      for: optional(
        Type.Array(record({ customer: maybe(id()), group: maybe(id()), ...limits }), {
          description: 'a list of order limits, each for one customer or one group',
        }),
      ),
    }),
  ),
});

export const landed = Type.Object(fileFieldsOf<LandedTerms>(LANDED_FIELDS), {
  additionalProperties: false,
  default: {},
  description: 'what bringing the goods in costs',
});

export const cost = record({
  id: id(),
  item: id(),
  supplier: id(),
  cost: amount(),
  reduced: maybe(amount()),
  quantityPrices: maybe(
    Type.Array(
      record(
        { from: Type.String({ ...positive(), description: 'cost packs ordered at once' }), cost: notNegative() },
        'what a cost pack costs where at least so many are ordered at once; in the currency of the cost',
      ),
    ),
  ),
  packUnits: Type.String({ ...positive(), default: '1' }),
  from: day(),
  to: maybe(day()),
  origin: oneOf(['file', 'connection', 'bill', 'typed'], 'file'),
  fee: maybe(
    record(
      { amount: notNegative(), of: Type.String({ ...positive(), description: 'over goods of' }) },
      'what the bill that brought it asked besides; in the currency of the cost',
    ),
  ),
  released: optional(yesNo('a typed cost no longer holds against files')),
  entry: optional(whole('a whole number: the order of entry', 0)),
});
