import type { ItemFigures } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { DIRECTIONS } from '#core/rounding/ladder.ts';
import { type InferType, array, boolean, object, string } from 'yup';
import { currencyCode, decimalText, optional, positiveText, text } from './fields.ts';
import { RECIPE_FIELDS } from './records/recipe-fields.ts';
import { pruned, schemaOf } from './records/schema.ts';

export const ladderBody = object({
  name: text().required().max(80),
  currency: currencyCode().required(),
  byDefault: boolean().default(false),
  rungs: array(
    object({
      from: positiveText().required(),
      to: optional(positiveText()),
      step: positiveText().required(),
      endings: array(positiveText().required()).required().min(1, 'needs at least one ending'),
      direction: string().oneOf(DIRECTIONS).required(),
      downUntil: optional(positiveText()),
      upFrom: optional(positiveText()),
      offset: optional(decimalText()),
    }).noUnknown(),
  )
    .required()
    .min(1, 'a ladder needs at least one rung')
    .max(200),
}).noUnknown();
type Sent<T> = T extends readonly (infer R)[] ? R : never;
/** Fields that an earlier release did not know may be left out. */
type Later<T, K extends keyof T> = Omit<T, K> & Partial<Pick<T, K>>;
type LadderSent = InferType<typeof ladderBody>;
export type LadderBody = Later<Omit<LadderSent, 'rungs'>, 'byDefault'> & {
  rungs: Later<Sent<LadderSent['rungs']>, 'offset'>[];
};

export const recipeBody = schemaOf(RECIPE_FIELDS);
export type RecipeBody = Omit<RecipeTerms, 'id' | 'version'>;

/** A recipe as the core knows it: without what its own case does not ask for. */
export const recipeTerms = (body: RecipeBody, named: { id: string; version: number }): RecipeTerms => ({
  ...(pruned(RECIPE_FIELDS, body as unknown as Record<string, unknown>) as unknown as RecipeBody),
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
