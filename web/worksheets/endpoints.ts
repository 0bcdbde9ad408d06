import { worksheetRoutes } from '#contract/api/worksheets.ts';
import type { PostWorksheetBody, ProposeBody, ReverseWorksheetBody, WorksheetShows } from '#contract/worksheets.ts';
import { api, changes, reads, readsAll } from '../api.ts';

interface PageAsked {
  id: string;
  list: string;
  shows: WorksheetShows;
  from: number;
}

export const worksheetsApi = api.injectEndpoints({
  endpoints: (b) => ({
    worksheets: readsAll(b, worksheetRoutes.all),
    worksheet: reads(b, worksheetRoutes.one, (id: string) => ({ params: { id } })),
    worksheetPrices: reads(b, worksheetRoutes.prices, ({ id, list, shows, from }: PageAsked) => ({
      params: { id, list },
      query: { shows, from: String(from) },
    })),
    propose: changes(b, worksheetRoutes.propose, (body: ProposeBody) => ({ body })),
    postWorksheet: changes(b, worksheetRoutes.post, ({ id, body }: { id: string; body: PostWorksheetBody }) => ({
      params: { id },
      body,
    })),
    reverseWorksheet: changes(
      b,
      worksheetRoutes.reverse,
      ({ id, body }: { id: string; body: ReverseWorksheetBody }) => ({ params: { id }, body }),
    ),
    cancelWorksheet: changes(b, worksheetRoutes.cancel, (id: string) => ({ params: { id } })),
    discardWorksheet: changes(b, worksheetRoutes.discard, (id: string) => ({ params: { id } })),
  }),
});
