import { type RecipeBody, type TrialFigures, recipeTerms } from '#contract/recipes.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { bulkOf } from '../lists/compute-rows.ts';
import { findList } from '../lists/build-up.ts';
import { refused } from '../platform/refused.ts';
import type { Loaded } from '../workspace/state.ts';

/** The draft's name among the recipes: no kept one has it. */
const DRAFT = 'draft';

/** A list made ready with a draft of a recipe, and its items' figures: what a browser prices it with. */
export function trialFigures(loaded: Loaded, listId: string, body: RecipeBody): TrialFigures {
  const { workspace } = loaded.ws;
  const list = { ...findList(loaded.ws, listId), recipe: DRAFT };
  const recipe = recipeTerms(body, { id: DRAFT, version: 0 });
  const draft = new Prepared({
    ...workspace,
    recipes: [...workspace.recipes, recipe],
    lists: workspace.lists.map((l) => (l.id === listId ? list : l)),
  });
  const bulk = bulkOf(loaded).under(draft);
  const ready = bulk.list(list);
  if (!ready) throw refused('not_tried_at_once', { list: list.name });
  const { rows, day: _, ...figures } = bulk.columns;
  const items = rows.map((row) => draft.items.get(row.item)!);
  return {
    figures,
    list: ready,
    recipe,
    decimals: draft.decimalsOf(list),
    currency: list.currency,
    skus: items.map((i) => i.sku),
    names: items.map((i) => i.name),
  };
}
