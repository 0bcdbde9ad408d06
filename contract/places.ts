import type { Right } from './people.ts';
import type { PointedTo } from './records/declare.ts';

/** Addresses inside the application: one table for rail, shortcuts, search, findings and Today. */

export interface Place {
  readonly to: string;
  readonly title: string;
  readonly right: Right;
  /** With Alt. */
  readonly key: string;
  /** What can be begun there: found by the one search. */
  readonly actions?: readonly { readonly title: string; readonly to: string; readonly right: Right }[];
}

/** The places in the order of the work. */
export const PLACES = [
  { to: '/today', title: 'Today', right: 'read', key: 't' },
  {
    to: '/costs',
    title: 'Costs',
    right: 'see_cost',
    key: 'c',
    actions: [
      { title: 'Bring in a cost sheet', to: '/costs?bring=1', right: 'take_costs' },
      { title: 'Write down a bill', to: '/bills/new', right: 'take_costs' },
    ],
  },
  {
    to: '/suppliers',
    title: 'Suppliers',
    right: 'see_cost',
    key: 's',
    actions: [{ title: 'Add a supplier', to: '/setup/suppliers?open=new', right: 'edit_rules' }],
  },
  {
    to: '/items',
    title: 'Items',
    right: 'read',
    key: 'i',
    actions: [{ title: 'Bring in items from a file', to: '/items/file', right: 'edit_rules' }],
  },
  { to: '/recipes', title: 'Recipes', right: 'see_cost', key: 'r' },
  { to: '/ladders', title: 'Ladders', right: 'see_cost', key: 'a' },
  { to: '/lists', title: 'Price lists', right: 'read', key: 'p' },
  { to: '/worksheets', title: 'Worksheets', right: 'see_cost', key: 'w' },
  { to: '/falls', title: 'Falls', right: 'see_cost', key: 'f' },
  { to: '/findings', title: 'Findings', right: 'see_cost', key: 'n' },
  {
    to: '/quotes',
    title: 'Quotes',
    right: 'read',
    key: 'q',
    actions: [{ title: 'Write a quote', to: '/quotes/new', right: 'write_quotes' }],
  },
  {
    to: '/price-check',
    title: 'Price check',
    right: 'read',
    key: 'k',
    actions: [{ title: 'Check a price', to: '/price-check', right: 'read' }],
  },
  {
    to: '/ledger',
    title: 'Ledger',
    right: 'read',
    key: 'l',
    actions: [{ title: 'Look into the ledger', to: '/ledger', right: 'read' }],
  },
] as const satisfies readonly Place[];
export type PlaceAddress = (typeof PLACES)[number]['to'];

/** What is reached from the own name and the search, not from the rail. */
export const ASIDE: readonly { readonly to: string; readonly title: string; readonly right: Right }[] = [
  { to: '/account', title: 'Password, keys and sessions', right: 'read' },
  { to: '/changes-to-come', title: 'Changes to come', right: 'read' },
  { to: '/workspace-file', title: 'The workspace as a file', right: 'edit_rules' },
  { to: '/api-description', title: 'The API: read and try', right: 'read' },
];

/** The register in which what is pointed to is kept. */
export const REGISTER_OF: Readonly<Record<PointedTo, string>> = {
  items: 'items',
  categories: 'categories',
  suppliers: 'suppliers',
  groups: 'customer-groups',
  customers: 'customers',
  lists: 'lists',
  ladders: 'ladders',
  recipes: 'recipes',
  regions: 'regions',
  lockstep: 'lockstep',
  pools: 'pools',
  charges: 'charges',
};

/** What has a page of its own; every other record is opened under Setup. */
const PAGES: Readonly<Record<string, string>> = {
  items: '/items',
  lists: '/lists',
  recipes: '/recipes',
  ladders: '/ladders',
  quotes: '/quotes',
  worksheets: '/worksheets',
  'cost-sheets': '/costs',
  bills: '/bills',
  postings: '/ledger',
  'posting-requests': '/ledger/requests',
};

/** Where a record, or what became of one, is looked at. */
export const placeOf = (register: string, id: string | number): string =>
  register in PAGES ? `${PAGES[register]}/${id}` : `/setup/${register}?open=${id}`;
