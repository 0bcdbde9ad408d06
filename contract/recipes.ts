import type { ItemFigures } from '#core/bulk/columns.ts';
import type { BulkList } from '#core/bulk/prepare-list.ts';
import type { CostSide } from '#core/costs/cost.ts';
import { type AddOn, BASES, GUARD_KINDS, type RecipeTerms, UPLIFT_METHODS } from '#core/recipes/recipe.ts';
import { DIRECTIONS, type LadderTie } from '#core/rounding/ladder.ts';
import { type InferType, array, boolean, mixed, object, string } from 'yup';
import { currencyCode, decimalText, idText, optional, positiveText, text } from './fields.ts';
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

const plainRecipe = object({
  name: text().required().max(80),
  basis: string().oneOf(BASES).required(),
  basisList: optional(idText()),
  ladder: optional(idText()),
  uplift: array(
    object({
      item: optional(idText()),
      model: optional(text()),
      attributes: mixed<Record<string, string>>().nullable().default(null),
      brand: optional(text()),
      supplier: optional(idText()),
      category: optional(idText()),
      pack: optional(text()),
      lockstep: optional(idText()),
      channel: optional(text()),
      bandFrom: optional(positiveText()),
      bandTo: optional(positiveText()),
      method: string().oneOf(UPLIFT_METHODS).required(),
      value: decimalText().required(),
      currency: optional(currencyCode()),
    }).noUnknown(),
  )
    .required()
    .min(1, 'an uplift table needs at least one row')
    .max(2000),
  guards: array(
    object({
      kind: string().oneOf(GUARD_KINDS).required(),
      percent: optional(decimalText()),
      amount: optional(positiveText()),
      currency: optional(currencyCode()),
    }).noUnknown(),
  )
    .required()
    .max(20),
}).noUnknown();
export const recipeBody = plainRecipe.concat(schemaOf(RECIPE_FIELDS));
type RecipeSent = InferType<typeof plainRecipe>;
export type RecipeBody = Omit<RecipeSent, 'uplift'> & {
  uplift: Later<Sent<RecipeSent['uplift']>, 'lockstep' | 'channel'>[];
  costSide?: CostSide;
  quietFalls?: boolean;
  addOns?: readonly AddOn[];
  ladders?: readonly LadderTie[];
};

/** A recipe as the core knows it; rows are named by their place, counted from 1. */
export function recipeTerms(body: RecipeBody, { id, version }: { id: string; version: number }): RecipeTerms {
  return {
    id,
    version,
    name: body.name,
    basis: { kind: body.basis, list: body.basisList, cost: body.costSide ?? 'paid' },
    ladder: body.ladder,
    quietFalls: body.quietFalls ?? false,
    addOns: (pruned(RECIPE_FIELDS, { addOns: body.addOns ?? [] })['addOns'] ?? []) as AddOn[],
    ladders: body.ladders ?? [],
    uplift: body.uplift.map((u, i) => ({
      id: String(i + 1),
      method: u.method,
      value: u.value,
      currency: u.currency,
      scope: {
        item: u.item,
        model: u.model,
        attributes: u.attributes,
        brand: u.brand,
        supplier: u.supplier,
        category: u.category,
        pack: u.pack,
        lockstep: u.lockstep ?? null,
        channel: u.channel ?? null,
        band: u.bandFrom === null && u.bandTo === null ? null : { from: u.bandFrom ?? '0', to: u.bandTo },
      },
    })),
    guards: body.guards.map((g) => ({
      kind: g.kind,
      percent: g.percent,
      amount: g.amount !== null && g.currency !== null ? { amount: g.amount, currency: g.currency } : null,
    })),
  };
}

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
