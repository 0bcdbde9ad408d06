import { ledgerRoutes as declared } from '#contract/api/ledger.ts';
import { route } from '../platform/http/route.ts';
import { agree, decline, oneRequest, requests } from './decide.ts';
import { requestedWindow } from './requested-prices.ts';

export const secondPersonRoutes = [
  route(declared.requests, ({ context, person }) => requests(context.db, person)),
  route(declared.request, ({ context, person, params }) => oneRequest(context.db, person, params.id)),
  route(declared.requestedPrices, async ({ context, person, params, query }) => {
    const { id } = await oneRequest(context.db, person, params.id);
    return requestedWindow(context, Number(id), query);
  }),
  route(declared.agree, ({ context, person, params }) => agree(context, person, params.id)),
  route(declared.refuse, ({ context, person, params, body }) =>
    decline(context, person, params.id, { state: 'refused', why: body.why }),
  ),
  route(declared.withdraw, ({ context, person, params }) =>
    decline(context, person, params.id, { state: 'withdrawn' }),
  ),
];
