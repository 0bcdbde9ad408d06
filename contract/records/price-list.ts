import type { PriceList } from '#core/lists/price-list.ts';
import { NAME, OPEN, type PlainKind, RANK, optional } from './plain-kind.ts';
import { LADDER_TIES, RECIPE_TIES } from './ties.ts';

const opt = { optional: true, formOnly: true } as const;

export const lists = {
  ...OPEN,
  name: 'lists',
  title: 'Price lists',
  one: 'price list',
  about:
    'The prices that one audience sees, in one currency, with tax in or out. Without a group a list is meant for everyone. A new one begins inactive.',
  removable: false,
  member: 'lists',
  start: { currency: 'EUR', taxIn: true },
  fields: {
    name: NAME,
    currency: { type: 'currency', title: 'Currency' },
    taxIn: { type: 'yes', title: 'Tax in', needed: true },
    recipe: { type: 'one', to: 'recipes', title: 'Recipe', ...optional },
    groups: { type: 'many', to: 'groups', title: 'For groups', none: 'everyone' },
    rank: { ...RANK, hint: 'the lower comes first' },
    decimals: {
      type: 'whole',
      least: 0,
      most: 6,
      title: 'Decimals of unit prices',
      hint: 'empty: those of the currency',
      formOnly: true,
      ...optional,
    },
    advertised: { type: 'yes', title: 'Advertised' },
    // with nobody named it would answer everybody at once
    active: { type: 'yes', title: 'Active', laterOnly: true },
    from: { type: 'day', title: 'Valid from', ...optional },
    to: { type: 'day', title: 'Valid to', ...optional },
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
  },
} as const satisfies PlainKind<Omit<PriceList, 'entries'>>;
