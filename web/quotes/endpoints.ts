import { quoteRoutes } from '#contract/api/quotes.ts';
import type { AcceptBody, ChangeOrderBody } from '#contract/change-orders.ts';
import type { PriceCheckBody, QuoteBody, QuoteView } from '#contract/quotes.ts';
import { addressOf, api, changes, reads, readsAll } from '../api.ts';

interface Seen {
  id: string;
  version: number;
}

export const quotesApi = api.injectEndpoints({
  endpoints: (b) => ({
    quotes: readsAll(b, quoteRoutes.all),
    quote: reads(b, quoteRoutes.one, (id: string) => ({ params: { id } })),
    tryQuote: reads(b, quoteRoutes.figures, (body: QuoteBody) => ({ body })),
    saveQuote: b.mutation<QuoteView, { id: string | null; version: number; body: QuoteBody }>({
      query: ({ id, version, body }) =>
        id === null
          ? { url: quoteRoutes.write.path, method: 'POST', body }
          : { url: addressOf(quoteRoutes.change.path, { params: { id } }), method: 'PUT', body: { ...body, version } },
      // where somebody was faster, theirs is read at once
      invalidatesTags: (_, error) => (error && error.code !== 'changed_meanwhile' ? [] : ['quotes']),
    }),
    advanceQuote: b.mutation<QuoteView, Seen & { action: 'ask' | 'issue' }>({
      query: ({ id, version, action }) => ({
        url: addressOf(quoteRoutes[action].path, { params: { id } }),
        method: 'POST',
        body: { version },
      }),
      invalidatesTags: [...quoteRoutes.issue.changes],
    }),
    decideQuote: changes(
      b,
      quoteRoutes.decide,
      ({ id, ...body }: Seen & { decision: 'approved' | 'declined'; note: string }) => ({ params: { id }, body }),
    ),
    acceptQuote: changes(b, quoteRoutes.accept, ({ id, ...body }: { id: string } & AcceptBody) => ({
      params: { id },
      body,
    })),
    chain: reads(b, quoteRoutes.chain, (id: string) => ({ params: { id } })),
    tryChange: reads(b, quoteRoutes.tryChange, ({ id, body }: { id: string; body: ChangeOrderBody }) => ({
      params: { id },
      body,
    })),
    keepChange: changes(b, quoteRoutes.keepChange, ({ id, ...body }: Seen & ChangeOrderBody) => ({
      params: { id },
      body,
    })),
    dropChange: changes(b, quoteRoutes.dropChange, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    issueChange: changes(b, quoteRoutes.issueChange, ({ id, ...body }: Seen) => ({ params: { id }, body })),
    countryOf: reads(b, quoteRoutes.countryOf, (address: string) => ({ query: { address } })),
    priceCheck: reads(b, quoteRoutes.priceCheck, (body: PriceCheckBody) => ({ body })),
  }),
});
