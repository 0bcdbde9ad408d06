import { ledgerRoutes } from '#contract/api/ledger.ts';
import type { ReverseBody } from '#contract/lists.ts';
import type { WindowQuery } from '#contract/windows.ts';
import { api, changes, reads, readsAll } from '../api.ts';

export type LinesQuery = Omit<WindowQuery, 'day' | 'show'>;

export const ledgerApi = api.injectEndpoints({
  endpoints: (b) => ({
    postings: readsAll(b, ledgerRoutes.postings),
    posting: reads(b, ledgerRoutes.posting, (id: string) => ({ params: { id } })),
    postingLines: reads(b, ledgerRoutes.lines, ({ id, query }: { id: string; query: LinesQuery }) => ({
      params: { id },
      query,
    })),
    reversal: reads(b, ledgerRoutes.reversal, ({ id, lines }: { id: string } & Pick<ReverseBody, 'lines'>) => ({
      params: { id },
      body: { lines },
    })),
    reverse: changes(b, ledgerRoutes.reverse, ({ id, ...body }: { id: string } & ReverseBody) => ({
      params: { id },
      body,
    })),
    postingRequests: readsAll(b, ledgerRoutes.requests),
    postingRequest: reads(b, ledgerRoutes.request, (id: string) => ({ params: { id } })),
    requestedPrices: reads(b, ledgerRoutes.requestedPrices, ({ id, query }: { id: string; query: LinesQuery }) => ({
      params: { id },
      query,
    })),
    agree: changes(b, ledgerRoutes.agree, (id: string) => ({ params: { id } })),
    refuseRequest: changes(b, ledgerRoutes.refuse, ({ id, why }: { id: string; why: string }) => ({
      params: { id },
      body: { why },
    })),
    withdraw: changes(b, ledgerRoutes.withdraw, (id: string) => ({ params: { id } })),
    audit: readsAll(b, ledgerRoutes.audit),
    recordHistory: reads(b, ledgerRoutes.audit, (query: { subject: string; of: string }) => ({ query })),
  }),
});
