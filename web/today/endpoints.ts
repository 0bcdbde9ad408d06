import { todayRoutes } from '#contract/api/today.ts';
import { workspaceRoutes } from '#contract/api/workspace.ts';
import { api, reads, readsAll } from '../api.ts';

export const todayApi = api.injectEndpoints({
  endpoints: (b) => ({
    today: readsAll(b, todayRoutes.today),
    replica: readsAll(b, workspaceRoutes.replica),
    search: reads(b, todayRoutes.search, (text: string) => ({ query: { text } })),
  }),
});
