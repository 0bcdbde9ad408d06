import { sql } from 'drizzle-orm';
import {
  uniqueIndex,
  jsonb,
  type AnyPgColumn,
  boolean,
  date,
  integer,
  numeric,
  pgTable,
  text,
  unique,
} from 'drizzle-orm/pg-core';

/** One row: what holds for the whole workspace. */
export const workspaceSettings = pgTable('workspace_settings', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
  version: integer().notNull().default(1),
  name: text().notNull(),
  currency: text().notNull(),
  timeZone: text().notNull(),
  supplierChoice: text({ enum: ['preferred', 'lowest_landed', 'latest'] }).notNull(),
  /** Whether sellers see the figure of a floor that is made from cost. */
  showsCostFloors: boolean().notNull().default(false),
});

export const categories = pgTable('categories', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull(),
  parent: integer('parent_id').references((): AnyPgColumn => categories.id),
});

export const suppliers = pgTable('suppliers', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  currency: text().notNull(),
  freightPer: text({ enum: ['kg', 'unit'] }),
  freightAmount: numeric(),
  freightCurrency: text(),
  dutyPercent: numeric(),
  handlingAmount: numeric(),
  handlingCurrency: text(),
  overheadPercent: numeric(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
});

export const taxRates = pgTable(
  'tax_rates',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    /** Fields that have no column: server/setup/column-table.ts. */
    more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
    version: integer().notNull().default(1),
    taxClass: text().notNull(),
    percent: numeric().notNull(),
    from: date('valid_from').notNull(),
  },
  (t) => [
    uniqueIndex('tax_rates_class_region_day').on(t.taxClass, t.from, sql`(coalesce(${t.more} ->> 'region', ''))`),
  ],
);

export const exchangeRates = pgTable(
  'exchange_rates',
  {
    id: integer().primaryKey().generatedAlwaysAsIdentity(),
    version: integer().notNull().default(1),
    from: text('from_currency').notNull(),
    to: text('to_currency').notNull(),
    day: date().notNull(),
    rate: numeric().notNull(),
  },
  (t) => [unique('exchange_rates_pair_day').on(t.from, t.to, t.day)],
);

export const customerGroups = pgTable('customer_groups', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  /** What buyers see; null: the name. */
  shownAs: text(),
  rank: integer().notNull(),
});

export const customers = pgTable('customers', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  /** The first of its groups; further ones stand in `more`. */
  groupId: integer().references(() => customerGroups.id),
  active: boolean().notNull().default(true),
});
