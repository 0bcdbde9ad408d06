import { Type } from '@sinclair/typebox';
import type { LandedTerms } from '#core/costs/cost.ts';
import { LANDED_FIELDS } from '../records/landed-fields.ts';
import { amount, fileFieldsOf } from './declared.ts';
import { day, id, maybe, notNegative, oneOf, optional, positive, record, whole, yesNo } from './fields.ts';

// What is bought and sold in the workspace file, and what the rules say of it.

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
