import type { AddOn } from '#core/recipes/recipe.ts';
import type { Field, Fields, FieldsOf } from './declare.ts';
import { LADDER_TIES } from './ties.ts';

const band: Fields = {
  from: { type: 'decimal', sign: 'not_negative', unit: 'kg', title: 'from' },
  to: { type: 'decimal', sign: 'positive', unit: 'kg', title: 'up to, not with it', optional: true },
  value: { type: 'decimal', title: 'amount per pack' },
};
const byWeight = (row: Readonly<Record<string, unknown>>) => row['kind'] === 'by_weight';

const addOn: FieldsOf<Pick<AddOn, 'name' | 'kind' | 'when' | 'value' | 'currency' | 'per' | 'bands' | 'scope'>> = {
  name: { type: 'text', title: 'Name', most: 120 },
  kind: {
    type: 'choice',
    title: 'What it is',
    options: {
      amount: 'an amount',
      percent_of_basis: '% of the basis',
      by_weight: 'an amount by weight',
      fee: 'a fee',
    },
  },
  when: {
    type: 'choice',
    title: 'comes on',
    preset: 'after',
    options: { before: 'before the uplift, and is marked up', after: 'after the uplift' },
  },
  value: { type: 'decimal', title: 'Value', when: (row) => !byWeight(row) },
  per: {
    type: 'choice',
    title: 'per',
    preset: 'pack',
    options: { pack: 'pack', unit: 'unit in it' },
    when: (row) => row['kind'] === 'amount' || row['kind'] === 'fee',
  },
  currency: {
    type: 'currency',
    title: 'in',
    optional: true,
    hint: 'empty: the list’s',
    when: (row) => row['kind'] !== 'percent_of_basis',
  },
  bands: { type: 'rows', one: 'weight band', title: 'By weight of the pack', fields: band, when: byWeight },
  scope: { type: 'scope', title: 'Only for' },
};

/** What a recipe has besides the columns of its table. */
export const RECIPE_FIELDS = {
  costSide: {
    type: 'choice',
    title: 'Which cost',
    preset: 'paid',
    options: { paid: 'what is paid: the reduced one where there is one', usual: 'the usual one' },
  },
  quietFalls: { type: 'yes', title: 'What would fall is not asked about' },
  addOns: { type: 'rows', one: 'add-on', title: 'Add-ons', numbered: true, fields: addOn },
  ladders: LADDER_TIES,
} satisfies Record<string, Field>;

/** Ties of an uplift row that stand in no column of its table on screen. */
export const ROW_TIES = {
  item: { type: 'one', to: 'items', title: 'item', optional: true },
  attributes: { type: 'attributes', title: 'attributes', optional: true },
  lockstep: { type: 'one', to: 'lockstep', title: 'lockstep group', optional: true },
  channel: { type: 'text', suggest: 'channels', title: 'channel', optional: true },
  bandFrom: { type: 'decimal', sign: 'not_negative', title: 'a basis from', optional: true },
  bandTo: { type: 'decimal', sign: 'positive', title: 'up to, not with it', optional: true },
} satisfies Record<string, Field>;
