import { worksheetRoutes } from '#contract/api/worksheets.ts';
import type { WindowQuery } from '#contract/windows.ts';
import type { PostWorksheetBody, ProposeBody, ReverseWorksheetBody } from '#contract/worksheets.ts';
import { api, changes, reads, readsAll } from '../api.ts';

export interface PricesAsked {
  readonly id: string;
  readonly list: string;
  readonly query: Omit<WindowQuery, 'day'>;
}

export const worksheetsApi = api.injectEndpoints({
  endpoints: (b) => ({
    worksheets: readsAll(b, worksheetRoutes.all),
    worksheet: reads(b, worksheetRoutes.one, (id: string) => ({ params: { id } })),
    worksheetPrices: reads(b, worksheetRoutes.prices, ({ id, list, query }: PricesAsked) => ({
      params: { id, list },
      query,
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
