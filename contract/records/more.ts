import type { BreakTable } from '#core/quotes/breaks.ts';
import type { FloorTerms } from '#core/quotes/floors.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { TaxRate } from '#core/regions/tax.ts';
import type { Field, Fields, FieldsOf, PointedTo } from './declare.ts';
import { LANDED_FIELDS } from './landed-fields.ts';
import { LADDER_TIES, RECIPE_TIES } from './ties.ts';

const opt = { optional: true, formOnly: true } as const;

/** What a table has no column for: kept beside its columns, as declared here. */
export type ListTerms = Pick<
  PriceList,
  | 'customers'
  | 'regions'
  | 'channels'
  | 'parent'
  | 'unnamed'
  | 'ladder'
  | 'ladders'
  | 'recipes'
  | 'ratePins'
  | 'secondPersonBeyond'
>;
const lists: FieldsOf<ListTerms> = {
  customers: { type: 'many', to: 'customers', title: 'For single customers', formOnly: true },
  regions: { type: 'many', to: 'regions', title: 'Only to the regions', hint: 'none: anywhere', formOnly: true },
  channels: {
    type: 'texts',
    suggest: 'channels',
    title: 'Only through the channels',
    hint: 'none: any; a shop, a site, a branch, a fair',
    formOnly: true,
  },
  parent: {
    type: 'part',
    title: 'An item without a price here takes it from a parent',
    ...opt,
    fields: {
      list: { type: 'one', to: 'lists', title: 'the list' },
      percent: { type: 'decimal', unit: '%', title: 'per cent more (−8: 8 % less)', optional: true },
      factor: { type: 'decimal', sign: 'positive', title: 'times', optional: true },
      rate: {
        type: 'decimal',
        sign: 'positive',
        title: 'at the rate',
        hint: 'of this currency for one of the parent’s; empty: the day’s',
        optional: true,
      },
    },
  },
  unnamed: {
    type: 'choice',
    title: 'An item without any price here',
    preset: 'falls_back',
    options: { falls_back: 'goes to the parent or the next list', not_sold: 'is not sold to this audience' },
    formOnly: true,
  },
  ladder: { type: 'one', to: 'ladders', title: 'Ladder', hint: 'goes before the recipe’s', ...opt },
  ladders: LADDER_TIES,
  recipes: RECIPE_TIES,
  ratePins: {
    type: 'rows',
    one: 'day',
    title: 'Exchange rates held',
    formOnly: true,
    fields: {
      from: { type: 'day', title: 'from' },
      rates: { type: 'day', title: 'at the rates of', hint: 'empty: the latest again', optional: true },
    },
  },
  secondPersonBeyond: {
    type: 'decimal',
    sign: 'not_negative',
    unit: '%',
    title: 'A second person agrees where a posting moves a price by more than',
    hint: '0: to every posting; empty: to no posting. First prices, and prices that end, always lie beyond',
    ...opt,
  },
};

const customers: Fields = {
  otherGroups: { type: 'many', to: 'groups', title: 'Further groups', formOnly: true },
  country: { type: 'country', title: 'Country', optional: true },
  attributes: { type: 'attributes', title: 'Attributes', ...opt },
};

const tieTitle = (title: string) => `Only for the ${title}`;
export type BreakTerms = Pick<
  BreakTable,
  'pack' | 'customer' | 'group' | 'region' | 'channel' | 'measure' | 'pool' | 'onTop' | 'neverMoreThanNext'
>;
const breaks: FieldsOf<BreakTerms> = {
  measure: {
    type: 'choice',
    title: 'What is counted',
    preset: 'units',
    options: { units: 'packs', weight: 'weight, kg', value: 'money, before breaks, net' },
    formOnly: true,
  },
  pool: {
    type: 'one',
    to: 'pools',
    title: 'The pool that counts together',
    formOnly: true,
    when: (row) => row['count'] === 'pool',
  },
  onTop: { type: 'yes', title: 'On top of other reductions', formOnly: true },
  neverMoreThanNext: {
    type: 'yes',
    title: 'A total is never more than that of the next break',
    formOnly: true,
    when: (row) => row['way'] === 'whole',
  },
  pack: { type: 'text', suggest: 'packs', title: tieTitle('pack'), ...opt },
  customer: { type: 'one', to: 'customers', title: tieTitle('customer'), ...opt },
  group: { type: 'one', to: 'groups', title: tieTitle('group'), ...opt },
  region: { type: 'one', to: 'regions', title: tieTitle('region'), ...opt },
  channel: { type: 'text', suggest: 'channels', title: tieTitle('channel'), ...opt },
};

export type FloorTies = Pick<FloorTerms, 'attributes' | 'channel' | 'quantity'>;
const floors: FieldsOf<FloorTies> = {
  attributes: { type: 'attributes', title: 'Only with the attributes', ...opt },
  channel: { type: 'text', suggest: 'channels', title: tieTitle('channel'), ...opt },
  quantity: {
    type: 'part',
    title: 'Only for quantities',
    ...opt,
    fields: {
      from: { type: 'decimal', sign: 'not_negative', title: 'from' },
      upTo: { type: 'decimal', sign: 'positive', title: 'up to, not with it', optional: true },
    },
  },
};

const taxRates: FieldsOf<Pick<TaxRate, 'region'>> = {
  region: { type: 'one', to: 'regions', title: 'Only in the region', optional: true },
};

const suppliers: Fields = {
  orderFee: { ...LANDED_FIELDS.orderFee, formOnly: true },
  usualOrder: { ...LANDED_FIELDS.usualOrder, formOnly: true },
};

const settings: Fields = {
  listChoice: {
    type: 'choice',
    title: 'Where several lists are meant for a buyer',
    preset: 'first',
    options: { first: 'the first in order answers', lowest: 'the one that asks least answers' },
  } satisfies Field,
};

/** By register: the further fields of its records, and the member of a workspace in which they are looked at together. */
export const MORE = {
  lists: { fields: lists, member: 'lists' },
  customers: { fields: customers, member: 'customers' },
  breaks: { fields: breaks, member: 'breaks' },
  floors: { fields: floors, member: 'floors' },
  'tax-rates': { fields: taxRates, member: 'taxes' },
  suppliers: { fields: suppliers, member: null },
  settings: { fields: settings, member: null },
} as const satisfies Record<string, { fields: Fields; member: PointedTo | 'breaks' | 'floors' | 'taxes' | null }>;
export type WithMore = keyof typeof MORE;
