import type { Rate, Supplier, SupplierChoice } from '#core/costs/cost.ts';
import type { Category } from '#core/items/item.ts';
import type { Customer, CustomerGroup } from '#core/lists/customer.ts';
import type { TaxRate } from '#core/regions/tax.ts';
import type { Role } from '../people.ts';
import type { BodyOf } from './body-of.ts';
import type { Fields } from './declare.ts';
import { LANDED_FIELDS } from './landed-fields.ts';
import { NAME, OPEN, type PlainKind, RANK, RULES, optional } from './plain-kind.ts';
import { lists } from './price-list.ts';
import { breaks, floors } from './quote-rules.ts';
import { schemaOf } from './schema.ts';

const opt = { optional: true, formOnly: true } as const;

const suppliers = {
  ...RULES,
  name: 'suppliers',
  title: 'Suppliers',
  one: 'supplier',
  about: 'Who sells to us, in which currency, and what bringing the goods in costs on top.',
  removable: true,
  member: 'suppliers',
  start: { currency: 'EUR' },
  fields: {
    name: NAME,
    currency: { type: 'currency', title: 'Currency' },
    landed: { type: 'part', title: 'Bringing its goods in', fields: LANDED_FIELDS },
  },
} as const satisfies PlainKind<Supplier>;

const categories = {
  ...OPEN,
  name: 'categories',
  title: 'Categories',
  one: 'category',
  about: 'Rules tied to a category reach everything below it.',
  removable: true,
  member: 'categories',
  unversioned: true,
  fields: { name: NAME, parent: { type: 'one', to: 'categories', title: 'Lies below', ...optional } },
} as const satisfies PlainKind<Category>;

const groups = {
  ...OPEN,
  name: 'customer-groups',
  title: 'Customer groups',
  one: 'customer group',
  about: 'Customers who see the same prices.',
  removable: true,
  member: 'groups',
  beside: ['shownAs'],
  fields: {
    name: NAME,
    shownAs: { type: 'text', most: 120, title: 'Buyers see', hint: 'empty: the name', ...optional },
    rank: RANK,
  },
} as const satisfies PlainKind<CustomerGroup & { shownAs: string | null }>;

const customers = {
  ...OPEN,
  name: 'customers',
  title: 'Customers',
  one: 'customer',
  about: 'Whom quotes are written for.',
  removable: false,
  member: 'customers',
  unversioned: true,
  beside: ['active'],
  whileActive: true,
  fields: {
    name: NAME,
    groups: { type: 'many', to: 'groups', title: 'Groups', none: 'none' },
    active: { type: 'yes', title: 'Active', preset: true },
    country: { type: 'country', title: 'Country', optional: true },
    attributes: { type: 'attributes', title: 'Attributes', ...opt },
  },
} as const satisfies PlainKind<Customer & { active: boolean }>;

const taxRates = {
  ...OPEN,
  name: 'tax-rates',
  title: 'Tax rates',
  one: 'tax rate',
  about: 'By class, from a day on.',
  removable: true,
  member: 'taxes',
  unnumbered: true,
  start: { taxClass: 'standard', percent: '20', from: '2020-01-01' },
  fields: {
    taxClass: { type: 'text', most: 120, suggest: 'taxClasses', title: 'Tax class' },
    percent: { type: 'decimal', sign: 'not_negative', title: 'Per cent' },
    from: { type: 'day', title: 'From' },
    region: { type: 'one', to: 'regions', title: 'Only in the region', optional: true },
  },
} as const satisfies PlainKind<TaxRate>;

const exchangeRates = {
  ...RULES,
  name: 'exchange-rates',
  title: 'Exchange rates',
  one: 'exchange rate',
  about: 'One unit of the first is so many units of the second, from the day on.',
  removable: true,
  member: 'rates',
  unnumbered: true,
  latestFirst: 'day',
  start: { from: 'GBP', to: 'EUR' },
  fields: {
    from: { type: 'currency', title: 'One unit of' },
    to: { type: 'currency', title: 'in' },
    rate: { type: 'decimal', sign: 'positive', title: 'is' },
    day: { type: 'day', title: 'From' },
  },
} as const satisfies PlainKind<Rate>;

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
  inPerson: true,
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
  ...OPEN,
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
    listChoice: {
      type: 'choice',
      title: 'Where several lists are meant for a buyer',
      preset: 'first',
      options: { first: 'the first in order answers', lowest: 'the one that asks least answers' },
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

/** A record of a kind without its id and version. */
export type PlainBody<N extends PlainName> = BodyOf<(typeof PLAIN)[N]['fields']>;
export type ListBody = PlainBody<'lists'>;

/** What is sent of a kind is held to this. */
export const plainSchema = (name: PlainName) => schemaOf(PLAIN[name].fields as Fields);
