import {
  boolean,
  date,
  index,
  integer,
  jsonb,
  numeric,
  pgTable,
  primaryKey,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';
import type { ChainDocument, ChangeOrderBody } from '../../contract/change-orders.ts';
import type { QuoteBody, QuoteFigures } from '../../contract/quotes.ts';
import type { PostedPrice } from '../../core/lists/posted-price.ts';
import type { Workspace } from '../../core/workspace/workspace.ts';
import { items, packs } from '../items/tables.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import { categories, customerGroups, customers } from '../setup/tables.ts';

export const breakTables = pgTable('break_tables', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
  version: integer().notNull().default(1),
  name: text().notNull(),
  list: integer('list_id')
    .notNull()
    .references(() => priceLists.id),
  item: integer('item_id').references(() => items.id),
  category: integer('category_id').references(() => categories.id),
  way: text({ enum: ['whole', 'sliced'] }).notNull(),
  count: text({ enum: ['line', 'item', 'pool', 'section'] }).notNull(),
});

export const breakRows = pgTable(
  'break_rows',
  {
    tableId: integer()
      .notNull()
      .references(() => breakTables.id),
    fromQuantity: numeric().notNull(),
    kind: text({ enum: ['price', 'percent_off', 'amount_off'] }).notNull(),
    value: numeric().notNull(),
  },
  (t) => [primaryKey({ columns: [t.tableId, t.fromQuantity] })],
);

export const floors = pgTable('floors', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
  version: integer().notNull().default(1),
  name: text().notNull(),
  kind: text({ enum: ['margin', 'markup', 'amount', 'percent_of_list', 'map'] }).notNull(),
  value: numeric().notNull(),
  currency: text(),
  item: integer('item_id').references(() => items.id),
  category: integer('category_id').references(() => categories.id),
  brand: text(),
  group: integer('group_id').references(() => customerGroups.id),
  outcome: text({ enum: ['lift', 'ask', 'refuse'] }).notNull(),
  active: boolean().notNull().default(true),
});

/** What of a quote has no column of its own. */
export type QuoteTerms = Partial<
  Pick<QuoteBody, 'country' | 'region' | 'regionReason' | 'channel' | 'charges' | 'reduction' | 'estimate'>
>;

/** Rules of a moment, kept whole: many quotes share them. */
export const keptRules = pgTable('kept_rules', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** SHA-256 of the rules, in hexadecimal. */
  hash: text().notNull().unique(),
  rules: jsonb().$type<Omit<Workspace, 'items' | 'costs' | 'posted' | 'customers'>>().notNull(),
});

/** What a document was priced from: the rules, and of the catalogue only what it names. */
export interface KeptTerms {
  readonly rules: number;
  readonly part: Pick<Workspace, 'items' | 'costs' | 'customers'> & { readonly posted: readonly PostedPrice[] };
}

export const quotes = pgTable('quotes', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  number: text().notNull().unique(),
  customerId: integer()
    .notNull()
    .references(() => customers.id),
  listId: integer()
    .notNull()
    .references(() => priceLists.id),
  /** Why another list than the customer's own was taken. */
  listReason: text(),
  day: date().notNull(),
  validUntil: date(),
  state: text({ enum: ['draft', 'waiting', 'approved', 'issued', 'accepted'] })
    .notNull()
    .default('draft'),
  note: text().notNull().default(''),
  /** Where the goods go, what was chosen for the whole, and what the customer was told. */
  terms: jsonb().$type<QuoteTerms>().notNull().default({}),
  writtenBy: integer()
    .notNull()
    .references(() => people.id),
  writtenAt: timestamp({ withTimezone: true }).notNull(),
  /** Whose hands were on it last: neither of them approves it. */
  changedBy: integer().references(() => people.id),
  askedBy: integer().references(() => people.id),
  /** The figures that approval was asked for: it holds for no others. */
  asked: jsonb().$type<QuoteFigures>(),
  /** The figures as they were issued: never computed again. */
  issued: jsonb().$type<QuoteFigures>(),
  issuedAt: timestamp({ withTimezone: true }),
  /** What the figures were made from: changes to an accepted quote are priced by it. */
  kept: jsonb().$type<KeptTerms>(),
  issuedOn: date(),
  acceptedOn: date(),
  acceptedNote: text().notNull().default(''),
  /** Whether money is given back where a change makes less of what was charged. */
  credits: boolean().notNull().default(true),
});

export const quoteLines = pgTable(
  'quote_lines',
  {
    quoteId: integer()
      .notNull()
      .references(() => quotes.id),
    position: integer().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    packId: integer()
      .notNull()
      .references(() => packs.id),
    quantity: numeric().notNull(),
    reductionKind: text({ enum: ['percent_off', 'amount_off', 'price'] }),
    reductionValue: numeric(),
    section: text(),
    zeroConfirmed: boolean().notNull().default(false),
  },
  (t) => [primaryKey({ columns: [t.quoteId, t.position] })],
);

export const quoteDecisions = pgTable(
  'quote_decisions',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    quoteId: integer()
      .notNull()
      .references(() => quotes.id),
    quoteVersion: integer().notNull(),
    decision: text({ enum: ['approved', 'declined'] }).notNull(),
    note: text().notNull(),
    decidedBy: integer()
      .notNull()
      .references(() => people.id),
    decidedAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index('quote_decisions_quote').on(t.quoteId)],
);

/** Changes to accepted quotes, by their number; the last may be a draft. */
export const quoteChanges = pgTable(
  'quote_changes',
  {
    quoteId: integer()
      .notNull()
      .references(() => quotes.id),
    number: integer().notNull(),
    state: text({ enum: ['draft', 'issued'] }).notNull(),
    day: date().notNull(),
    body: jsonb().$type<ChangeOrderBody>().notNull(),
    writtenBy: integer()
      .notNull()
      .references(() => people.id),
    writtenAt: timestamp({ withTimezone: true }).notNull(),
    issuedBy: integer().references(() => people.id),
    issuedAt: timestamp({ withTimezone: true }),
    /** As it was issued: never computed again. */
    issued: jsonb().$type<ChainDocument>(),
    /** Under the terms of its own day: what it was priced from. */
    kept: jsonb().$type<KeptTerms>(),
  },
  (t) => [primaryKey({ columns: [t.quoteId, t.number] })],
);
