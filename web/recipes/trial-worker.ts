import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { type Against, type TrialEffect, TrialSession } from './trial-session.ts';

export type ToWorker =
  | { readonly kind: 'load'; readonly bytes: ArrayBuffer; readonly first: boolean }
  | { readonly kind: 'try'; readonly recipe: RecipeTerms; readonly against: Against; readonly turn: number };

/** `effect` null: the list has to be made ready anew. */
export interface FromWorker {
  readonly turn: number;
  readonly effect: TrialEffect | null;
}

const session = new TrialSession();

addEventListener('message', ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'load') session.load(data.bytes, data.first);
  else postMessage({ turn: data.turn, effect: session.effect(data.recipe, data.against) } satisfies FromWorker);
});
