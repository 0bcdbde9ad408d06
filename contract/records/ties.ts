import type { Field, Fields } from './declare.ts';

/** What a ladder or a recipe may be tied to inside of a list or a recipe; of several ties all must hold. */
const parts = {
  category: { type: 'one', to: 'categories', title: 'category', optional: true },
  item: { type: 'one', to: 'items', title: 'item', optional: true },
} satisfies Fields;

export const LADDER_TIES: Field = {
  type: 'rows',
  one: 'ladder',
  title: 'Other ladders for items, categories or packs',
  formOnly: true,
  fields: {
    ...parts,
    pack: { type: 'text', suggest: 'packs', title: 'pack', optional: true },
    ladder: { type: 'one', to: 'ladders', title: 'ladder' },
  },
};

export const RECIPE_TIES: Field = {
  type: 'rows',
  one: 'recipe',
  title: 'Other recipes for items or categories',
  formOnly: true,
  fields: { ...parts, recipe: { type: 'one', to: 'recipes', title: 'recipe' } },
};
