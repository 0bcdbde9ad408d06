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
let latest: Extract<ToWorker, { kind: 'try' }> | null = null;

/** Only the latest draft is answered: what came while another was priced has been typed over. */
function answer(): void {
  const asked = latest!;
  latest = null;
  postMessage({ turn: asked.turn, effect: session.effect(asked.recipe, asked.against) } satisfies FromWorker);
}

addEventListener('message', ({ data }: MessageEvent<ToWorker>) => {
  if (data.kind === 'load') {
    session.load(data.bytes, data.first);
    return;
  }
  // a turn of the loop later, when everything that waits has been read
  if (latest === null) setTimeout(answer);
  latest = data;
});
