import type { LandedTerms } from '#core/costs/cost.ts';
import type { Field, FieldsOf } from './declare.ts';

const ofUnitCost = (title: string): Field => ({
  type: 'decimal',
  sign: 'not_negative',
  unit: '%',
  title,
  hint: 'of the unit cost',
  optional: true,
});

/** What bringing goods in costs, part by part. */
export const LANDED_FIELDS: FieldsOf<LandedTerms> = {
  freight: {
    type: 'part',
    title: 'Freight',
    optional: true,
    fields: {
      per: { type: 'choice', options: { kg: 'per kg', unit: 'per unit' }, title: 'Charged' },
      amount: { type: 'amount', title: 'Amount' },
    },
  },
  dutyPercent: ofUnitCost('Duty'),
  handling: { type: 'amount', title: 'Handling', hint: 'per unit', optional: true },
  overheadPercent: ofUnitCost('Overhead'),
  orderFee: {
    type: 'part',
    title: 'Fee of an order',
    hint: 'its lines bear it by their amount, where no bill with a fee of its own brought the cost',
    optional: true,
    fields: {
      fee: { type: 'amount', title: 'Fee' },
      order: { type: 'decimal', sign: 'positive', title: 'on goods of', hint: 'in the same currency' },
    },
  },
  usualOrder: {
    type: 'decimal',
    sign: 'positive',
    title: 'Ordered at once',
    unit: 'cost packs',
    hint: 'of an item, usually: which of the supplier’s quantity prices is paid',
    optional: true,
  },
};
