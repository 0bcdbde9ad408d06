import { itemRoutes } from '#contract/api/items.ts';
import type { ItemChange } from '#contract/items.ts';
import { api, changes, reads } from '../api.ts';

export const itemsApi = api.injectEndpoints({
  endpoints: (b) => ({
    items: reads(b, itemRoutes.all, (day: string | null) => ({ query: { day } })),
    changeItems: changes(b, itemRoutes.change, (changed: ItemChange[]) => ({ body: { changes: changed } })),
  }),
});
