import { itemRoutes } from '#contract/api/items.ts';
import type { ItemChange, ItemWords } from '#contract/items.ts';
import type { WindowQuery } from '#contract/windows.ts';
import { api, changes, reads, readsAll } from '../api.ts';

export const itemsApi = api.injectEndpoints({
  endpoints: (b) => ({
    items: reads(b, itemRoutes.all, (query: WindowQuery) => ({ query })),
    itemPage: reads(b, itemRoutes.page, ({ id, day }: { id: string; day: string | null }) => ({
      params: { id },
      query: { day },
    })),
    itemsFound: reads(b, itemRoutes.found, (text: string) => ({ query: { text } })),
    itemsNamed: reads(b, itemRoutes.named, (ids: string) => ({ body: { ids: ids.split(',') } })),
    itemWords: reads(b, itemRoutes.words, (of: ItemWords) => ({ query: { of } })),
    itemValues: reads(b, itemRoutes.values, (of: string) => ({ query: { of } })),
    itemsByCategory: readsAll(b, itemRoutes.byCategory),
    itemRecord: reads(b, itemRoutes.record, (id: string) => ({ params: { id } })),
    checkItemFile: changes(
      b,
      itemRoutes.checkFile,
      ({ file, decimal }: { file: File; decimal?: 'comma' | 'point' }) => ({
        query: { file: file.name, decimal: decimal ?? null },
        bytes: file,
      }),
    ),
    takeItemFile: changes(
      b,
      itemRoutes.takeFile,
      ({ file, ...query }: { file: File; decimal: 'comma' | 'point'; state: string }) => ({
        query: { file: file.name, ...query },
        bytes: file,
      }),
    ),
    itemFiles: readsAll(b, itemRoutes.files),
    takeItemFileBack: changes(b, itemRoutes.takeFileBack, (id: string) => ({ params: { id } })),
    lockstepPreview: changes(
      b,
      itemRoutes.lockstep,
      (body: { id: string | null; lead: string; members: string[] }) => ({ body }),
    ),
    mergeValues: changes(b, itemRoutes.merge, (body: { of: string; from: string[]; to: string }) => ({ body })),
    changeItems: changes(b, itemRoutes.change, (changed: ItemChange[]) => ({ body: { changes: changed } })),
  }),
});
