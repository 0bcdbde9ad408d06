import {
  BookOpenText,
  CalendarCheck,
  CircleHelp,
  ClipboardList,
  Coins,
  FileText,
  ListChecks,
  ListOrdered,
  NotebookPen,
  Package,
  Ruler,
  TrendingDown,
  Truck,
} from 'lucide-react';
import type { Right } from '#contract/people.ts';

export interface Place {
  readonly to: string;
  readonly title: string;
  readonly Icon: typeof Coins;
  readonly right: Right;
  /** With Alt. */
  readonly key: string;
  /** What can be begun there: found by the one search. */
  readonly actions?: readonly { readonly title: string; readonly to: string; readonly right: Right }[];
}

/** The places in the order of the work: rail, shortcuts and search are made from this table. */
export const PLACES: readonly Place[] = [
  { to: '/today', title: 'Today', Icon: CalendarCheck, right: 'read', key: 't' },
  {
    to: '/costs',
    title: 'Costs',
    Icon: Coins,
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
    Icon: Truck,
    right: 'see_cost',
    key: 's',
    actions: [{ title: 'Add a supplier', to: '/setup/suppliers?open=new', right: 'edit_rules' }],
  },
  {
    to: '/items',
    title: 'Items',
    Icon: Package,
    right: 'read',
    key: 'i',
    actions: [{ title: 'Bring in items from a file', to: '/items/file', right: 'edit_rules' }],
  },
  { to: '/recipes', title: 'Recipes', Icon: NotebookPen, right: 'see_cost', key: 'r' },
  { to: '/ladders', title: 'Ladders', Icon: Ruler, right: 'see_cost', key: 'a' },
  { to: '/lists', title: 'Price lists', Icon: ListOrdered, right: 'read', key: 'p' },
  { to: '/worksheets', title: 'Worksheets', Icon: ClipboardList, right: 'see_cost', key: 'w' },
  { to: '/falls', title: 'Falls', Icon: TrendingDown, right: 'see_cost', key: 'f' },
  { to: '/findings', title: 'Findings', Icon: ListChecks, right: 'see_cost', key: 'n' },
  {
    to: '/quotes',
    title: 'Quotes',
    Icon: FileText,
    right: 'read',
    key: 'q',
    actions: [{ title: 'Write a quote', to: '/quotes/new', right: 'write_quotes' }],
  },
  {
    to: '/price-check',
    title: 'Price check',
    Icon: CircleHelp,
    right: 'read',
    key: 'k',
    actions: [{ title: 'Check a price', to: '/price-check', right: 'read' }],
  },
  {
    to: '/ledger',
    title: 'Ledger',
    Icon: BookOpenText,
    right: 'read',
    key: 'l',
    actions: [{ title: 'Look into the ledger', to: '/ledger', right: 'read' }],
  },
];

/** What is reached from the own name and the search, not from the rail. */
export const ASIDE: readonly { readonly to: string; readonly title: string; readonly right: Right }[] = [
  { to: '/account', title: 'Password, keys and sessions', right: 'read' },
  { to: '/changes-to-come', title: 'Changes to come', right: 'read' },
  { to: '/workspace-file', title: 'The workspace as a file', right: 'edit_rules' },
  { to: '/api-description', title: 'The API: read and try', right: 'read' },
];
