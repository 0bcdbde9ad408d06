import type { RecipeTerms } from '../recipes/recipe.ts';
import type { BulkList } from './prepare-list.ts';
import { type RateFrom, commonAddOns, expressibleAddOns, goesByRow, guardFigures } from './recipe-figures.ts';
import { NO_OPERATION, operationOf } from './uplift-columns.ts';

/** What decides which items a row reaches, and where the prices start and end: with another of it a list is made ready anew. */
const shape = (recipe: RecipeTerms): string =>
  JSON.stringify([
    recipe.basis,
    recipe.ladder,
    recipe.ladders,
    recipe.uplift.map((row) => [row.id, row.scope]),
    (recipe.addOns ?? []).filter(goesByRow),
  ]);

/**
 * A list made ready with one recipe, as another that differs only in figures makes it: uplifts, guards, add-ons that
 * every item has. It needs no workspace. Null: the recipes differ in more, or in something for the explained way.
 */
export function retune(list: BulkList, from: RecipeTerms, to: RecipeTerms): BulkList | null {
  const parts = [list, ...list.more].map((part) => (part.recipe === from.id ? retunePart(part, from, to) : part));
  const [first, ...more] = parts;
  return parts.every((part) => part !== null) ? { ...first!, more: more as BulkList[] } : null;
}

function retunePart(list: BulkList, from: RecipeTerms, to: RecipeTerms): BulkList | null {
  const rateFrom: RateFrom = (currency) => (currency ? (list.rates[currency] ?? NaN) : 1);
  const guards = guardFigures(to, rateFrom);
  if (!guards || !expressibleAddOns(to) || shape(from) !== shape(to)) return null;
  const { row } = list.uplift;
  const operations = to.uplift.map((r) => operationOf(r, rateFrom));
  const of = (at: number) => operations[at] ?? NO_OPERATION;
  return {
    ...list,
    ...guards,
    ...commonAddOns(to, rateFrom),
    uplift: {
      ...list.uplift,
      factor: Float64Array.from(row, (at) => of(at).factor),
      plus: Float64Array.from(row, (at) => of(at).plus),
    },
  };
}
