import { pack } from '#contract/packed.ts';
import type { TryBody } from '#contract/recipes.ts';
import { route } from '../platform/http/route.ts';
import { recipeRoutes as declared } from '#contract/api/recipes.ts';
import { stateAsked } from '../workspace/asked-day.ts';
import { trialFigures } from './trial.ts';

export const recipeRoutes = [
  route<typeof declared.trial, TryBody>(declared.trial, async ({ context, params, query, body, response }) => {
    const loaded = await stateAsked(context, query);
    const packed = pack(trialFigures(loaded, params['id']!, body.recipe));
    response.type('application/octet-stream').send(Buffer.from(packed.buffer, packed.byteOffset, packed.byteLength));
    return undefined;
  }),
];
