import { todayRoutes } from '#contract/api/today.ts';
import { api, reads, readsAll } from '../api.ts';

export const todayApi = api.injectEndpoints({
  endpoints: (b) => ({
    today: readsAll(b, todayRoutes.today),
    search: reads(b, todayRoutes.search, (text: string) => ({ query: { text } })),
  }),
});
