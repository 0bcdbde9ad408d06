import { boolean, date, index, integer, jsonb, numeric, pgTable, text, timestamp } from 'drizzle-orm/pg-core';
import type { BuyerLimits } from '../../core/items/item.ts';
import { people } from '../people/tables.ts';
import { bytea } from '../platform/bytea.ts';
import { categories, suppliers } from '../setup/tables.ts';

export const items = pgTable(
  'items',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    version: integer().notNull().default(1),
    sku: text().notNull().unique(),
    name: text().notNull(),
    unit: text().notNull(),
    categoryId: integer()
      .notNull()
      .references(() => categories.id),
    brand: text(),
    model: text(),
    supplierId: integer().references(() => suppliers.id),
    /** The supplier's own code, by which its cost sheets name the item. */
    supplierCode: text(),
    weightKg: numeric(),
    taxClass: text().notNull(),
    rrpAmount: numeric(),
    rrpCurrency: text(),
    rrpTaxIn: boolean().notNull().default(true),
    mapAmount: numeric(),
    mapCurrency: text(),
    mapTaxIn: boolean().notNull().default(true),
    attributes: jsonb().$type<Record<string, string>>().notNull().default({}),
    orderLeast: numeric(),
    orderMost: numeric(),
    orderStep: numeric(),
    /** Limits for one customer or group instead: { customer, group, least, most, step }. */
    orderFor: jsonb().$type<BuyerLimits[]>().notNull().default([]),
    /** From this day on it is not sold. */
    retiredFrom: date(),
  },
  (t) => [index('items_supplier_code').on(t.supplierId, t.supplierCode)],
);

export const packs = pgTable(
  'packs',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    itemId: integer()
      .notNull()
      .references(() => items.id),
    name: text().notNull(),
    units: numeric().notNull(),
    depositAmount: numeric(),
    depositCurrency: text(),
    depositTaxClass: text(),
    /** Of each unit in it. */
    unitDepositAmount: numeric(),
    unitDepositCurrency: text(),
    unitDepositTaxClass: text(),
    barcode: text().unique(),
  },
  (t) => [index('packs_item').on(t.itemId)],
);

/** What taking a file of items in did: enough to take it back. */
export interface ItemFileOutcome {
  added: number[];
  addedPacks?: number[];
  /** Rows as they were before, by the names of the columns. */
  changed: Record<string, unknown>[];
  packs: Record<string, unknown>[];
}

/** Files of items that were taken in. */
export const itemFiles = pgTable('item_files', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  fileName: text().notNull(),
  content: bytea().notNull(),
  takenAt: timestamp({ withTimezone: true }).notNull(),
  takenBy: integer()
    .notNull()
    .references(() => people.id),
  newCount: integer().notNull(),
  changedCount: integer().notNull(),
  takenBack: boolean().notNull().default(false),
  outcome: jsonb().$type<ItemFileOutcome>().notNull(),
});
