import { rateRoutes as declared } from '#contract/api/rates.ts';
import { refused } from '../platform/refused.ts';
import { route } from '../platform/http/route.ts';
import { today } from '../workspace/asked-day.ts';
import { fetchRates, followRates, readFetchedRates } from './fetch-rates.ts';

export const rateRoutes = [
  route(declared.fetched, async ({ context }) => readFetchedRates(context.db, await today(context))),
  route(declared.fetch, async ({ context }) => {
    if (!context.suppliers.hasRates) throw refused('no_rate_service', {});
    await fetchRates(context);
    return readFetchedRates(context.db, await today(context));
  }),
  route(declared.follow, async ({ context, person, body }) => {
    await followRates(context, person.id, body.version, body.follow);
    return readFetchedRates(context.db, await today(context));
  }),
];
