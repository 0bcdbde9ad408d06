import { tryBody } from '../recipes.ts';
import { FIGURES, post } from './declare.ts';
import { DAY } from '../days.ts';

export const recipeRoutes = {
  trial: post(
    '/lists/:id/trial',
    'What a browser needs to price a whole list with a draft of a recipe, packed',
    { bytes: 'application/octet-stream' },
    { right: 'see_cost', query: DAY, body: tryBody, reads: FIGURES },
  ),
} as const;
