import { rateRoutes } from '#contract/api/rates.ts';
import { api, changes, readsAll } from '../api.ts';

export const ratesApi = api.injectEndpoints({
  endpoints: (b) => ({
    fetchedRates: readsAll(b, rateRoutes.fetched),
    askRates: changes(b, rateRoutes.fetch, (_: void) => ({})),
    followRates: changes(b, rateRoutes.follow, (body: { version: number; follow: boolean }) => ({ body })),
  }),
});
