import { GUARD_NAMES } from '#core/guards/guards.ts';
import type { AddOn, BasisKind, RecipeTerms, UpliftMethod } from '#core/recipes/recipe.ts';
import { type Field, type Fields, type FieldsOf, TIE_FIELDS } from './declare.ts';
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

const basisBand: Fields = {
  from: { type: 'decimal', sign: 'not_negative', title: 'from' },
  to: { type: 'decimal', sign: 'not_negative', title: 'up to, not with it', optional: true },
};

const BASIS_NAMES: Record<BasisKind, string> = {
  landed: 'landed cost (with freight, duty, handling, overhead)',
  cost: 'bare cost',
  rrp: 'RRP',
  list: 'the price on another list',
  current: 'the price now posted',
};

const METHOD_NAMES: Record<UpliftMethod, string> = {
  markup: 'markup',
  margin: 'margin',
  multiply: 'multiply by',
  add: 'add amount',
  percent_off: '% off',
  amount_off: 'amount off',
  fixed: 'fixed price',
};

const fromCost = (row: Readonly<Record<string, unknown>>) => row['kind'] === 'landed' || row['kind'] === 'cost';

/** A recipe, in the order in which it is carried out. */
export const RECIPE_FIELDS = {
  name: { type: 'text', title: 'Name', most: 80 },
  basis: {
    type: 'part',
    title: 'Basis',
    fields: {
      kind: { type: 'choice', title: 'Basis', options: BASIS_NAMES },
      list: { type: 'one', to: 'lists', title: 'Which list', when: (row) => row['kind'] === 'list' },
      cost: {
        type: 'choice',
        title: 'Which cost',
        preset: 'paid',
        options: { paid: 'what is paid: the reduced one where there is one', usual: 'the usual one' },
        when: fromCost,
      },
    },
  },
  uplift: {
    type: 'rows',
    one: 'row',
    title: 'Uplift',
    least: 1,
    most: 2000,
    numbered: true,
    fields: {
      scope: { type: 'scope', title: 'Only for', band: basisBand },
      method: { type: 'choice', title: 'How', options: METHOD_NAMES },
      value: { type: 'decimal', title: 'Value' },
      currency: { type: 'currency', title: 'in', optional: true },
    },
  },
  addOns: { type: 'rows', one: 'add-on', title: 'Add-ons', numbered: true, fields: addOn },
  ladder: { type: 'one', to: 'ladders', title: 'Ladder', optional: true },
  ladders: LADDER_TIES,
  guards: {
    type: 'rows',
    one: 'guard',
    title: 'Guards',
    most: 20,
    fields: {
      kind: { type: 'choice', title: 'Guard', options: GUARD_NAMES },
      percent: { type: 'decimal', title: 'per cent', optional: true },
      amount: { type: 'amount', title: 'amount', optional: true },
    },
  },
  quietFalls: { type: 'yes', title: 'What would fall is not asked about' },
} satisfies FieldsOf<RecipeTerms>;

/** Ties of an uplift row that stand in no column of its table on screen. */
export const ROW_TIES = {
  item: TIE_FIELDS.item,
  attributes: TIE_FIELDS.attributes,
  lockstep: TIE_FIELDS.lockstep,
  channel: TIE_FIELDS.channel,
  band: { type: 'part', title: 'a basis', optional: true, fields: basisBand },
} satisfies Record<string, Field>;
