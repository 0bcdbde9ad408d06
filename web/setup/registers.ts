import type { ComponentType } from 'react';
import { BREAK_WAYS } from '#core/quotes/breaks.ts';
import { FLOOR_KINDS, FLOOR_OUTCOMES } from '#core/quotes/floors.ts';
import { SUPPLIER_CHOICES } from '#core/workspace/types.ts';
import { ROLES, type Right } from '#contract/people.ts';
import type { Field } from '#contract/records/declare.ts';
import { GroupBeside } from './group-beside.tsx';
import { ListAudienceBeside } from './list-audience.tsx';

export type FieldKind =
  | { kind: 'text' | 'number' | 'whole' | 'day' | 'yes' | 'currency' | 'password' }
  | { kind: 'choice'; options: readonly (readonly [string, string])[] }
  | { kind: 'record'; register: string; label?: string }
  | { kind: 'records'; register: string }
  | { kind: 'item' }
  | { kind: 'breakRows' }
  | { kind: 'declared'; field: Field };

export interface RegisterField {
  readonly name: string;
  readonly title: string;
  readonly as: FieldKind;
  readonly hint?: string;
  readonly optional?: boolean;
  /** Left out of the table, only in the form. */
  readonly formOnly?: boolean;
  /** Not asked of a new record. */
  readonly laterOnly?: boolean;
}

/** The headings of Setup, in the order of the work. */
export const PARTS = ['Costs', 'Prices', 'Buyers', 'Quotes', 'The house'] as const;
export type Part = (typeof PARTS)[number];

export interface RegisterView {
  /** The field, a day, by which the records are sorted, the latest first. */
  readonly latestFirst?: string;
  readonly name: string;
  readonly title: string;
  readonly one: string;
  readonly about: string;
  readonly right: Right;
  readonly changeRight: Right;
  readonly fields: readonly RegisterField[];
  readonly start: Record<string, unknown>;
  readonly removable: boolean;
  /** Under which heading it stands. */
  readonly part: Part;
  /** Only one record, never a new one. */
  readonly single?: boolean;
  /** `beside` is shown of a new record too; its `id` is then empty. */
  readonly besideNew?: true;
  /** What the form shows beside its fields, of a record that exists. */
  readonly beside?: ComponentType<{
    id: string;
    body: Record<string, unknown>;
    before: Record<string, unknown>;
  }>;
}

const field = (name: string, title: string, as: FieldKind, more: Partial<RegisterField> = {}): RegisterField => ({
  name,
  title,
  as,
  ...more,
});
const optional = { optional: true } as const;
const words = (list: readonly string[]) => list.map((w) => [w, w.replaceAll('_', ' ')] as const);

/** Registers whose tables have columns of their own. */
export const PLAIN: readonly Omit<RegisterView, 'part'>[] = [
  {
    name: 'lists',
    title: 'Price lists',
    one: 'price list',
    about:
      'The prices that one audience sees, in one currency, with tax in or out. Without a group a list is meant for everyone. A new one begins inactive.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: false,
    beside: ListAudienceBeside,
    start: {
      name: '',
      currency: 'EUR',
      taxIn: true,
      decimals: null,
      advertised: false,
      active: false,
      validFrom: null,
      validTo: null,
      rank: 1,
      recipe: null,
      groups: [],
    },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('currency', 'Currency', { kind: 'currency' }),
      field('taxIn', 'Tax in', { kind: 'yes' }),
      field('recipe', 'Recipe', { kind: 'record', register: 'recipes' }, optional),
      field('groups', 'For groups', { kind: 'records', register: 'customer-groups' }),
      field('rank', 'Rank', { kind: 'whole' }, { hint: 'the lower comes first' }),
      field(
        'decimals',
        'Decimals of unit prices',
        { kind: 'whole' },
        { ...optional, hint: 'empty: those of the currency', formOnly: true },
      ),
      field('advertised', 'Advertised', { kind: 'yes' }),
      field('active', 'Active', { kind: 'yes' }, { laterOnly: true }),
      field('validFrom', 'Valid from', { kind: 'day' }, optional),
      field('validTo', 'Valid to', { kind: 'day' }, optional),
    ],
  },
  {
    name: 'suppliers',
    title: 'Suppliers',
    one: 'supplier',
    about: 'Who sells to us, in which currency, and what bringing the goods in costs on top.',
    right: 'see_cost',
    changeRight: 'edit_rules',
    removable: true,
    start: {
      name: '',
      currency: 'EUR',
      freightPer: null,
      freightAmount: null,
      freightCurrency: null,
      dutyPercent: null,
      handlingAmount: null,
      handlingCurrency: null,
      overheadPercent: null,
    },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('currency', 'Currency', { kind: 'currency' }),
      field(
        'freightPer',
        'Freight goes',
        {
          kind: 'choice',
          options: [
            ['kg', 'by weight, per kg'],
            ['unit', 'per unit'],
          ],
        },
        optional,
      ),
      field('freightAmount', 'Freight', { kind: 'number' }, optional),
      field('freightCurrency', 'Freight in', { kind: 'currency' }, { ...optional, formOnly: true }),
      field('dutyPercent', 'Duty, %', { kind: 'number' }, optional),
      field('handlingAmount', 'Handling per unit', { kind: 'number' }, optional),
      field('handlingCurrency', 'Handling in', { kind: 'currency' }, { ...optional, formOnly: true }),
      field('overheadPercent', 'Overhead, %', { kind: 'number' }, optional),
    ],
  },
  {
    name: 'categories',
    title: 'Categories',
    one: 'category',
    about: 'Rules tied to a category reach everything below it.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: true,
    start: { name: '', parentId: null },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('parentId', 'Lies below', { kind: 'record', register: 'categories' }, optional),
    ],
  },
  {
    name: 'customer-groups',
    title: 'Customer groups',
    one: 'customer group',
    about: 'Customers who see the same prices.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: true,
    beside: GroupBeside,
    start: { name: '', shownAs: null, rank: 1 },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('shownAs', 'Buyers see', { kind: 'text' }, { ...optional, hint: 'empty: the name' }),
      field('rank', 'Rank', { kind: 'whole' }),
    ],
  },
  {
    name: 'customers',
    title: 'Customers',
    one: 'customer',
    about: 'Whom quotes are written for.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: false,
    start: { name: '', groupId: null, active: true },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('groupId', 'Group', { kind: 'record', register: 'customer-groups' }, optional),
      field('active', 'Active', { kind: 'yes' }),
    ],
  },
  {
    name: 'breaks',
    title: 'Quantity breaks',
    one: 'table of breaks',
    about: 'Only “from” quantities are entered; a break ends where the next begins.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: true,
    start: {
      name: '',
      list: null,
      item: null,
      category: null,
      way: 'whole',
      count: 'item',
      rows: [{ from: '10', kind: 'percent_off', value: '5' }],
    },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('list', 'Price list', { kind: 'record', register: 'lists' }),
      field('item', 'For one item', { kind: 'item' }, optional),
      field(
        'category',
        'For the category',
        { kind: 'record', register: 'categories' },
        { ...optional, hint: 'empty: every item of the list' },
      ),
      field('way', 'Way', {
        kind: 'choice',
        options: BREAK_WAYS.map(
          (w) =>
            [
              w,
              w === 'whole' ? 'whole: the reached price for all units' : 'sliced: each slice at its own price',
            ] as const,
        ),
      }),
      field('count', 'Counted', {
        kind: 'choice',
        options: [
          ['line', 'by line'],
          ['item', 'the same item over the whole quote'],
          ['pool', 'the items of a pool together'],
          ['section', 'the lines of a section together'],
        ],
      }),
      field('rows', 'Breaks', { kind: 'breakRows' }),
    ],
  },
  {
    name: 'floors',
    title: 'Floors',
    one: 'floor',
    about: 'The least a quote line may be sold for, and what happens below it. The highest counts.',
    right: 'see_cost',
    changeRight: 'edit_rules',
    removable: true,
    start: {
      name: '',
      kind: 'margin',
      value: '15',
      currency: null,
      itemId: null,
      categoryId: null,
      brand: null,
      groupId: null,
      outcome: 'ask',
      active: true,
    },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('kind', 'By', { kind: 'choice', options: words(FLOOR_KINDS) }),
      field('value', 'Value', { kind: 'number' }, { hint: 'per cent, or an amount net per pack' }),
      field('currency', 'Currency of an amount', { kind: 'currency' }, { ...optional, formOnly: true }),
      field('itemId', 'For one item', { kind: 'item' }, optional),
      field('categoryId', 'For the category', { kind: 'record', register: 'categories' }, optional),
      field('groupId', 'For the customer group', { kind: 'record', register: 'customer-groups' }, optional),
      field('brand', 'For the brand', { kind: 'text' }, optional),
      field('outcome', 'Below it', {
        kind: 'choice',
        options: FLOOR_OUTCOMES.map(
          (o) => [o, { lift: 'lift to the floor', ask: 'ask approval', refuse: 'refuse' }[o]] as const,
        ),
      }),
      field('active', 'Active', { kind: 'yes' }),
    ],
  },
  {
    name: 'tax-rates',
    title: 'Tax rates',
    one: 'tax rate',
    about: 'By class, from a day on.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: true,
    start: { taxClass: 'standard', percent: '20', validFrom: '2020-01-01' },
    fields: [
      field('taxClass', 'Tax class', { kind: 'text' }),
      field('percent', 'Per cent', { kind: 'number' }),
      field('validFrom', 'From', { kind: 'day' }),
    ],
  },
  {
    name: 'exchange-rates',
    title: 'Exchange rates',
    one: 'exchange rate',
    about: 'One unit of the first is so many units of the second, from the day on.',
    right: 'see_cost',
    changeRight: 'edit_rules',
    removable: true,
    latestFirst: 'day',
    start: { fromCurrency: 'GBP', toCurrency: 'EUR', day: '', rate: '' },
    fields: [
      field('fromCurrency', 'One unit of', { kind: 'currency' }),
      field('toCurrency', 'in', { kind: 'currency' }),
      field('rate', 'is', { kind: 'number' }),
      field('day', 'From', { kind: 'day' }),
    ],
  },
  {
    name: 'people',
    title: 'People',
    one: 'person',
    about: 'Who may sign in, and what they may do.',
    right: 'manage_people',
    changeRight: 'manage_people',
    removable: false,
    start: { name: '', signIn: '', role: 'seller', seesCost: false, active: true, password: null },
    fields: [
      field('name', 'Name', { kind: 'text' }),
      field('signIn', 'Sign-in name', { kind: 'text' }),
      field('role', 'Role', { kind: 'choice', options: words(ROLES) }),
      field('seesCost', 'May see costs', { kind: 'yes' }),
      field('active', 'May sign in', { kind: 'yes' }),
      field(
        'password',
        'Password',
        { kind: 'password' },
        { ...optional, hint: 'empty: unchanged; at least 12 characters' },
      ),
    ],
  },
  {
    name: 'settings',
    title: 'Workspace',
    one: 'workspace',
    about: 'What holds everywhere.',
    right: 'read',
    changeRight: 'edit_rules',
    removable: false,
    single: true,
    start: {},
    fields: [
      field('name', 'Company', { kind: 'text' }),
      field('currency', 'Our currency', { kind: 'currency' }),
      field('timeZone', 'Time zone', { kind: 'text' }),
      field('supplierChoice', 'Where several suppliers offer an item', {
        kind: 'choice',
        options: SUPPLIER_CHOICES.map(
          (c) =>
            [
              c,
              {
                preferred: 'the preferred one counts',
                lowest_landed: 'the lowest landed cost counts',
                latest: 'the latest cost counts',
              }[c],
            ] as const,
        ),
      }),
      field('showsCostFloors', 'Sellers without the cost right see the figure of floors made from cost', {
        kind: 'yes',
      }),
    ],
  },
];
