import { jsonb, boolean, date, integer, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';
import { recipes } from '../recipes/tables.ts';
import { customerGroups } from '../setup/tables.ts';

export const priceLists = pgTable('price_lists', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Fields that have no column: server/setup/column-table.ts. */
  more: jsonb().$type<Record<string, unknown>>().notNull().default({}),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  currency: text().notNull(),
  taxIn: boolean().notNull(),
  decimals: integer(),
  advertised: boolean().notNull().default(false),
  active: boolean().notNull().default(true),
  from: date('valid_from'),
  to: date('valid_to'),
  rank: integer().notNull(),
  recipe: integer('recipe_id').references(() => recipes.id),
});

/** The groups a list is meant for; a list without rows here is meant for everyone. */
export const priceListGroups = pgTable(
  'price_list_groups',
  {
    listId: integer()
      .notNull()
      .references(() => priceLists.id),
    groupId: integer()
      .notNull()
      .references(() => customerGroups.id),
  },
  (t) => [primaryKey({ columns: [t.listId, t.groupId] })],
);
