import { BASES, GUARD_KINDS, UPLIFT_METHODS } from '#core/recipes/recipe.ts';
import { DIRECTIONS } from '#core/rounding/ladder.ts';
import { type InferType, array, mixed, object, string } from 'yup';
import { currencyCode, decimalText, idText, optional, positiveText } from './fields.ts';

export const ladderBody = object({
  name: string().trim().required().max(80),
  currency: currencyCode().required(),
  rungs: array(
    object({
      from: positiveText().required(),
      to: optional(positiveText()),
      step: positiveText().required(),
      endings: array(positiveText().required()).required().min(1, 'needs at least one ending'),
      direction: string().oneOf(DIRECTIONS).required(),
      downUntil: optional(positiveText()),
      upFrom: optional(positiveText()),
    }).noUnknown(),
  )
    .required()
    .min(1, 'a ladder needs at least one rung')
    .max(200),
}).noUnknown();
export type LadderBody = InferType<typeof ladderBody>;

export const recipeBody = object({
  name: string().trim().required().max(80),
  basis: string().oneOf(BASES).required(),
  basisList: optional(idText()),
  ladder: optional(idText()),
  uplift: array(
    object({
      item: optional(idText()),
      model: optional(string().trim()),
      attributes: mixed<Record<string, string>>().nullable().default(null),
      brand: optional(string().trim()),
      supplier: optional(idText()),
      category: optional(idText()),
      pack: optional(string().trim()),
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
export type RecipeBody = InferType<typeof recipeBody>;
