import type { BreakCount, BreakKind, BreakWay } from '#core/quotes/breaks.ts';
import type { FloorKind, FloorOutcome } from '#core/quotes/floors.ts';
import type { SupplierChoice } from '#core/costs/cost.ts';
import type { Role } from '../people.ts';
import type { BodyOf } from './body-of.ts';
import type { Field, Fields, RecordKind } from './declare.ts';
import { MORE, type WithMore } from './more.ts';
import { schemaOf } from './schema.ts';

/** A kind of record whose table has columns of its own: `fields` are those; what else it holds stands in `more.ts`. */
export interface PlainKind extends RecordKind {
  readonly removable: boolean;
  /** Only one record, never a new one. */
  readonly single?: true;
  /** The field, a day, by which the records are sorted, the latest first. */
  readonly latestFirst?: string;
  /** What a new record begins with, where that is not nothing. */
  readonly start?: Readonly<Record<string, unknown>>;
}

const rules = { readRight: 'see_cost', changeRight: 'edit_rules' } as const;
const open = { readRight: 'read', changeRight: 'edit_rules' } as const;
const NAME = { type: 'text', title: 'Name', most: 120 } as const;
const RANK = { type: 'whole', title: 'Rank' } as const;
const optional = { optional: true } as const;
const percent = (title: string) =>
  ({ type: 'decimal', sign: 'not_negative', unit: '%', title, optional: true }) as const satisfies Field;

const lists = {
  ...open,
  name: 'lists',
  title: 'Price lists',
  one: 'price list',
  about:
    'The prices that one audience sees, in one currency, with tax in or out. Without a group a list is meant for everyone. A new one begins inactive.',
  removable: false,
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
    validFrom: { type: 'day', title: 'Valid from', ...optional },
    validTo: { type: 'day', title: 'Valid to', ...optional },
  },
} as const satisfies PlainKind;

const amountIn = (title: string) => ({ type: 'currency', title, formOnly: true, optional: true }) as const;

const suppliers = {
  ...rules,
  name: 'suppliers',
  title: 'Suppliers',
  one: 'supplier',
  about: 'Who sells to us, in which currency, and what bringing the goods in costs on top.',
  removable: true,
  start: { currency: 'EUR' },
  fields: {
    name: NAME,
    currency: { type: 'currency', title: 'Currency' },
    freightPer: {
      type: 'choice',
      title: 'Freight goes',
      options: { kg: 'by weight, per kg', unit: 'per unit' },
      ...optional,
    },
    freightAmount: { type: 'decimal', sign: 'not_negative', title: 'Freight', ...optional },
    freightCurrency: amountIn('Freight in'),
    dutyPercent: percent('Duty'),
    handlingAmount: { type: 'decimal', sign: 'not_negative', title: 'Handling per unit', ...optional },
    handlingCurrency: amountIn('Handling in'),
    overheadPercent: percent('Overhead'),
  },
} as const satisfies PlainKind;

const categories = {
  ...open,
  name: 'categories',
  title: 'Categories',
  one: 'category',
  about: 'Rules tied to a category reach everything below it.',
  removable: true,
  fields: { name: NAME, parentId: { type: 'one', to: 'categories', title: 'Lies below', ...optional } },
} as const satisfies PlainKind;

const groups = {
  ...open,
  name: 'customer-groups',
  title: 'Customer groups',
  one: 'customer group',
  about: 'Customers who see the same prices.',
  removable: true,
  fields: {
    name: NAME,
    shownAs: { type: 'text', most: 120, title: 'Buyers see', hint: 'empty: the name', ...optional },
    rank: RANK,
  },
} as const satisfies PlainKind;

const customers = {
  ...open,
  name: 'customers',
  title: 'Customers',
  one: 'customer',
  about: 'Whom quotes are written for.',
  removable: false,
  fields: {
    name: NAME,
    groupId: { type: 'one', to: 'groups', title: 'Group', ...optional },
    active: { type: 'yes', title: 'Active', preset: true },
  },
} as const satisfies PlainKind;

const BREAKS: Record<BreakKind, string> = { percent_off: '% off', amount_off: 'amount off', price: 'price' };
const WAYS: Record<BreakWay, string> = {
  whole: 'whole: the reached price for all units',
  sliced: 'sliced: each slice at its own price',
};
const COUNTS: Record<BreakCount, string> = {
  line: 'by line',
  item: 'the same item over the whole quote',
  pool: 'the items of a pool together',
  section: 'the lines of a section together',
};

const breakWords = (row: Readonly<Record<string, unknown>>, number: (text: string) => string): string => {
  const { from, kind, value } = row as { from: string; kind: BreakKind; value: string };
  const how = { percent_off: ' % off', amount_off: ' off', price: '' }[kind];
  return `from ${number(from)}: ${number(value)}${how}`;
};

const breaks = {
  ...open,
  name: 'breaks',
  title: 'Quantity breaks',
  one: 'table of breaks',
  about: 'Only “from” quantities are entered; a break ends where the next begins.',
  removable: true,
  start: { count: 'item', rows: [{ from: '10', kind: 'percent_off', value: '5' }] },
  fields: {
    name: NAME,
    list: { type: 'one', to: 'lists', title: 'Price list' },
    item: { type: 'one', to: 'items', title: 'For one item', ...optional },
    category: {
      type: 'one',
      to: 'categories',
      title: 'For the category',
      hint: 'empty: every item of the list',
      ...optional,
    },
    way: { type: 'choice', title: 'Way', options: WAYS },
    count: { type: 'choice', title: 'Counted', options: COUNTS },
    rows: {
      type: 'rows',
      one: 'break',
      title: 'Breaks',
      least: 1,
      most: 50,
      unordered: true,
      words: breakWords,
      fields: {
        from: { type: 'decimal', sign: 'not_negative', title: 'From' },
        kind: { type: 'choice', title: 'Kind', options: BREAKS },
        value: { type: 'decimal', sign: 'not_negative', title: 'Value' },
      },
    },
  },
} as const satisfies PlainKind;

const FLOORS: Record<FloorKind, string> = {
  margin: 'margin',
  markup: 'markup',
  amount: 'amount',
  percent_of_list: 'percent of list',
  map: 'map',
};
const OUTCOMES: Record<FloorOutcome, string> = { lift: 'lift to the floor', ask: 'ask approval', refuse: 'refuse' };

const floors = {
  ...rules,
  name: 'floors',
  title: 'Floors',
  one: 'floor',
  about: 'The least a quote line may be sold for, and what happens below it. The highest counts.',
  removable: true,
  start: { value: '15', outcome: 'ask' },
  fields: {
    name: NAME,
    kind: { type: 'choice', title: 'By', options: FLOORS },
    value: { type: 'decimal', title: 'Value', hint: 'per cent, or an amount net per pack' },
    currency: {
      type: 'currency',
      title: 'Currency of an amount',
      formOnly: true,
      when: (row: Readonly<Record<string, unknown>>) => row['kind'] === 'amount',
      ...optional,
    },
    itemId: { type: 'one', to: 'items', title: 'For one item', ...optional },
    categoryId: { type: 'one', to: 'categories', title: 'For the category', ...optional },
    groupId: { type: 'one', to: 'groups', title: 'For the customer group', ...optional },
    brand: { type: 'text', suggest: 'brands', title: 'For the brand', ...optional },
    outcome: { type: 'choice', title: 'Below it', options: OUTCOMES },
    active: { type: 'yes', title: 'Active', preset: true },
  },
} as const satisfies PlainKind;

const taxRates = {
  ...open,
  name: 'tax-rates',
  title: 'Tax rates',
  one: 'tax rate',
  about: 'By class, from a day on.',
  removable: true,
  start: { taxClass: 'standard', percent: '20', validFrom: '2020-01-01' },
  fields: {
    taxClass: { type: 'text', most: 120, suggest: 'taxClasses', title: 'Tax class' },
    percent: { type: 'decimal', sign: 'not_negative', title: 'Per cent' },
    validFrom: { type: 'day', title: 'From' },
  },
} as const satisfies PlainKind;

const exchangeRates = {
  ...rules,
  name: 'exchange-rates',
  title: 'Exchange rates',
  one: 'exchange rate',
  about: 'One unit of the first is so many units of the second, from the day on.',
  removable: true,
  latestFirst: 'day',
  start: { fromCurrency: 'GBP', toCurrency: 'EUR' },
  fields: {
    fromCurrency: { type: 'currency', title: 'One unit of' },
    toCurrency: { type: 'currency', title: 'in' },
    rate: { type: 'decimal', sign: 'positive', title: 'is' },
    day: { type: 'day', title: 'From' },
  },
} as const satisfies PlainKind;

const ROLES: Record<Role, string> = {
  administrator: 'administrator',
  approver: 'approver',
  seller: 'seller',
  reader: 'reader',
};

const people = {
  name: 'people',
  title: 'People',
  one: 'person',
  about: 'Who may sign in, and what they may do.',
  readRight: 'manage_people',
  changeRight: 'manage_people',
  removable: false,
  start: { role: 'seller' },
  fields: {
    name: { type: 'text', title: 'Name', most: 80 },
    signIn: { type: 'text', title: 'Sign-in name', most: 80, lower: true },
    role: { type: 'choice', title: 'Role', options: ROLES },
    seesCost: { type: 'yes', title: 'May see costs' },
    active: { type: 'yes', title: 'May sign in', preset: true },
    password: {
      type: 'secret',
      title: 'Password',
      hint: 'empty: unchanged; at least 12 characters',
      formOnly: true,
      ...optional,
    },
  },
} as const satisfies PlainKind;

const CHOICES: Record<SupplierChoice, string> = {
  preferred: 'the preferred one counts',
  lowest_landed: 'the lowest landed cost counts',
  latest: 'the latest cost counts',
};

const settings = {
  ...open,
  name: 'settings',
  title: 'Workspace',
  one: 'workspace',
  about: 'What holds everywhere.',
  removable: false,
  single: true,
  fields: {
    name: { type: 'text', title: 'Company', most: 120 },
    currency: { type: 'currency', title: 'Our currency' },
    timeZone: { type: 'text', title: 'Time zone', most: 120 },
    supplierChoice: { type: 'choice', title: 'Where several suppliers offer an item', options: CHOICES },
    showsCostFloors: {
      type: 'yes',
      title: 'Sellers without the cost right see the figure of floors made from cost',
    },
  },
} as const satisfies PlainKind;

/** Kinds of records whose tables have columns of their own. */
export const PLAIN = {
  lists,
  suppliers,
  categories,
  'customer-groups': groups,
  customers,
  breaks,
  floors,
  'tax-rates': taxRates,
  'exchange-rates': exchangeRates,
  people,
  settings,
} as const satisfies Record<string, PlainKind>;
export type PlainName = keyof typeof PLAIN;

/** A record of a kind without its id and version; what has no column is not in it. */
export type PlainBody<N extends PlainName> = BodyOf<(typeof PLAIN)[N]['fields']>;
export type ListBody = PlainBody<'lists'>;

/** Every field of a kind: those with a column first. */
export const fieldsOf = (name: PlainName): Fields => ({
  ...PLAIN[name].fields,
  ...(name in MORE ? MORE[name as WithMore].fields : {}),
});

/** What is sent of a kind is held to this. */
export const plainSchema = (name: PlainName) => schemaOf(fieldsOf(name));
