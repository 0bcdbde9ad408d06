import { integer, jsonb, numeric, pgTable, primaryKey, text } from 'drizzle-orm/pg-core';
import type { CostSide } from '../../core/costs/cost.ts';
import type { RecipeTerms } from '../../core/recipes/recipe.ts';
import { items } from '../items/tables.ts';
import { ladders } from '../rounding/tables.ts';
import { categories, suppliers } from '../setup/tables.ts';

export type RecipeMore = Pick<RecipeTerms, 'quietFalls' | 'addOns' | 'ladders'> & { costSide?: CostSide };

export const recipes = pgTable('recipes', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  version: integer().notNull().default(1),
  name: text().notNull().unique(),
  basisKind: text({ enum: ['landed', 'cost', 'rrp', 'list', 'current'] }).notNull(),
  basisListId: integer(),
  ladderId: integer().references(() => ladders.id),
  /** What is declared beside the columns: contract/records/recipe-fields.ts. */
  more: jsonb().$type<RecipeMore>().notNull().default({}),
});

export const upliftRows = pgTable(
  'uplift_rows',
  {
    recipeId: integer()
      .notNull()
      .references(() => recipes.id),
    position: integer().notNull(),
    itemId: integer().references(() => items.id),
    model: text(),
    attributes: jsonb().$type<Record<string, string>>(),
    brand: text(),
    supplierId: integer().references(() => suppliers.id),
    categoryId: integer().references(() => categories.id),
    packName: text(),
    /** Kept as it is declared, not as a column of a table of its own. */
    lockstepId: integer(),
    channel: text(),
    bandFrom: numeric(),
    bandTo: numeric(),
    method: text({ enum: ['markup', 'margin', 'multiply', 'add', 'percent_off', 'amount_off', 'fixed'] }).notNull(),
    value: numeric().notNull(),
    currency: text(),
  },
  (t) => [primaryKey({ columns: [t.recipeId, t.position] })],
);

export const recipeGuards = pgTable(
  'recipe_guards',
  {
    recipeId: integer()
      .notNull()
      .references(() => recipes.id),
    position: integer().notNull(),
    kind: text({
      enum: [
        'not_below_cost',
        'least_markup',
        'least_margin',
        'least_price',
        'map',
        'raise_only',
        'rrp',
        'most_markup',
        'most_margin',
        'most_price',
      ],
    }).notNull(),
    percent: numeric(),
    amount: numeric(),
    currency: text(),
  },
  (t) => [primaryKey({ columns: [t.recipeId, t.position] })],
);
