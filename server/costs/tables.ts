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
  unique,
} from 'drizzle-orm/pg-core';
import type { BillBody } from '../../contract/bills.ts';
import {
  type CostChange,
  SHEET_STATES,
  type SheetCorrections,
  type SheetCounts,
  type SheetOutcome,
  type TakeInBody,
} from '../../contract/costs.ts';
import type { SheetLayout, SheetMatch } from '../../contract/sheet-match.ts';
import type { QuantityPrice } from '../../core/costs/cost.ts';
import { items } from '../items/tables.ts';
import { people } from '../people/tables.ts';
import { bytea } from '../platform/bytea.ts';
import { suppliers } from '../setup/tables.ts';

/** RRP, MAP and weight of an item as columns: those before and those that were written. */
export interface TakenFigures {
  readonly item: number;
  readonly before: Partial<ItemFigureColumns>;
  readonly wrote: Partial<ItemFigureColumns>;
}
type ItemFigureColumns = Pick<
  typeof items.$inferSelect,
  'rrpAmount' | 'rrpCurrency' | 'rrpTaxIn' | 'mapAmount' | 'mapCurrency' | 'mapTaxIn' | 'weightKg'
>;

/** What became of a sheet, row by row. */
export interface KeptOutcome extends SheetOutcome {
  readonly changes: CostChange[];
}

/** A supplier's file as it came, kept with how its columns were matched. */
export const costSheets = pgTable('cost_sheets', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  supplierId: integer()
    .notNull()
    .references(() => suppliers.id),
  fileName: text().notNull(),
  /** Brought by a person, or fetched from the supplier's service. */
  origin: text({ enum: ['file', 'connection'] })
    .notNull()
    .default('file'),
  content: bytea().notNull(),
  /** The cells of a workbook, so that it is opened once; empty: a text file. */
  pages: bytea(),
  state: text({ enum: SHEET_STATES }).notNull().default('waiting'),
  match: jsonb().$type<SheetMatch>().notNull(),
  /** The headings as they are read: what the supplier's next file is held against. */
  header: jsonb().$type<string[]>(),
  layout: jsonb().$type<SheetLayout>(),
  /** When it was last looked at. */
  counts: jsonb().$type<SheetCounts>(),
  arrivedAt: timestamp({ withTimezone: true }).notNull(),
  broughtBy: integer()
    .notNull()
    .references(() => people.id),
  takenInAt: timestamp({ withTimezone: true }),
  /** Taken in without anybody. */
  byItself: boolean().notNull().default(false),
  /** Why it was turned down. */
  reason: text(),
  corrections: jsonb().$type<SheetCorrections>().notNull().default({}),
  /** What it wrote of items themselves, with what stood there before: so that it is taken back with the costs. */
  figuresTaken: jsonb().$type<TakenFigures[]>().notNull().default([]),
  /** What taking it in did: what was known before is known no longer once its costs count. */
  outcome: jsonb().$type<KeptOutcome>(),
});

/** Sheets that are being taken in, in the background. */
export const costIntakes = pgTable('cost_intakes', {
  sheetId: integer()
    .primaryKey()
    .references(() => costSheets.id),
  order: jsonb().$type<Pick<TakeInBody, 'rows' | 'rest'>>().notNull(),
  orderedBy: integer()
    .notNull()
    .references(() => people.id),
  orderedAt: timestamp({ withTimezone: true }).notNull(),
  /** Costs that are written, of so many; null: the rows are being compared. Nothing counts before the last is. */
  done: integer().notNull().default(0),
  of: integer(),
  cancelled: boolean().notNull().default(false),
  /** Why nothing came of it. */
  trouble: text(),
});

/** Suppliers whose costs are taken in by themselves where nothing is suspicious. */
export const followedSuppliers = pgTable('followed_suppliers', {
  supplierId: integer()
    .primaryKey()
    .references(() => suppliers.id),
  saidBy: integer()
    .notNull()
    .references(() => people.id),
  saidAt: timestamp({ withTimezone: true }).notNull(),
});

/** What a supplier's codes mean, where a person said so: known again in its next file. */
export const supplierCodes = pgTable(
  'supplier_codes',
  {
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    /** In small letters. */
    code: text().notNull(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    saidBy: integer()
      .notNull()
      .references(() => people.id),
    saidAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.supplierId, t.code] })],
);

/** A bill that a supplier sent: a draft until it is made final, and only then do its costs count. */
export const bills = pgTable(
  'bills',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    version: integer().notNull().default(1),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    /** The supplier's own. */
    number: text().notNull(),
    day: date().notNull(),
    currency: text().notNull(),
    note: text(),
    /** Asked besides its lines, in the currency of the bill, without tax. */
    fee: numeric(),
    lines: jsonb().$type<BillBody['lines']>().notNull(),
    state: text({ enum: ['draft', 'final'] })
      .notNull()
      .default('draft'),
    writtenBy: integer()
      .notNull()
      .references(() => people.id),
    writtenAt: timestamp({ withTimezone: true }).notNull(),
    finalBy: integer().references(() => people.id),
    /** What making it final did. */
    outcome: jsonb().$type<CostChange[]>(),
  },
  (t) => [unique('bills_number').on(t.supplierId, t.number)],
);

/** Costs are only added; what changes is that a typed one is released, and that those of a sheet are taken back with it. */
export const costs = pgTable(
  'costs',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    supplierId: integer()
      .notNull()
      .references(() => suppliers.id),
    amount: numeric().notNull(),
    /** Paid instead for the time being; the usual one is kept beside it. */
    reducedAmount: numeric(),
    /** Empty: that of the cost. */
    reducedCurrency: text(),
    /** What more at once costs, per cost pack. */
    quantityPrices: jsonb().$type<readonly QuantityPrice[]>(),
    /** What its bill asked besides, over goods of how much; in the currency of the cost. */
    feeAmount: numeric(),
    feeOf: numeric(),
    currency: text().notNull(),
    packUnits: numeric().notNull(),
    validFrom: date().notNull(),
    /** The last day: of the reduced cost, where there is one; then the usual counts on. */
    validTo: date(),
    origin: text({ enum: ['file', 'connection', 'bill', 'typed'] }).notNull(),
    released: boolean().notNull().default(false),
    /** Taken back with its sheet: it counts for nothing any more. */
    takenBack: boolean().notNull().default(false),
    sheetId: integer().references(() => costSheets.id),
    billId: integer().references(() => bills.id),
    enteredBy: integer()
      .notNull()
      .references(() => people.id),
    enteredAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [index('costs_item').on(t.itemId, t.supplierId, t.validFrom)],
);
