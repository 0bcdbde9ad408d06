import type { LadderTerms } from '#core/rounding/ladder.ts';
import type { ItemFigures } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { object } from 'yup';
import { LADDER_FIELDS } from './records/ladder-fields.ts';
import { RECIPE_FIELDS } from './records/recipe-fields.ts';
import { pruned, schemaOf } from './records/schema.ts';

export const ladderBody = schemaOf(LADDER_FIELDS);
export type LadderBody = Omit<LadderTerms, 'id' | 'version'>;

export const recipeBody = schemaOf(RECIPE_FIELDS);
export type RecipeBody = Omit<RecipeTerms, 'id' | 'version'>;

/** A recipe as the core knows it: without what its own case does not ask for. */
export const recipeTerms = (body: RecipeBody, named: { id: string; version: number }): RecipeTerms => ({
  ...pruned(RECIPE_FIELDS, body),
  ...named,
});

/** A draft of a recipe, to be tried on a list. */
export const tryBody = object({ recipe: recipeBody.required() }).noUnknown();
export interface TryBody {
  recipe: RecipeBody;
}

/** What a browser needs to price a whole list by itself; sent packed. */
export interface TrialFigures {
  readonly figures: ItemFigures;
  readonly list: BulkList;
  /** What the list was made ready with. */
  readonly recipe: RecipeTerms;
  readonly decimals: number;
  readonly currency: string;
  /** By row. */
  readonly skus: readonly string[];
  readonly names: readonly string[];
}
