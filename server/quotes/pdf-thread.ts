import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import type { QuoteView } from '#contract/quotes.ts';
import { refused } from '../platform/refused.ts';

/** Documents that may wait for their turn. */
const MOST_WAITING = 20;
/** A document of 2,000 lines takes some 20 s; one that takes longer than this is given up, in milliseconds. */
const PATIENCE = 90_000;

export interface PdfAsked {
  readonly quote: QuoteView;
  readonly company: string;
}

/** Makes PDF documents in a thread of its own, one at a time: nobody else waits for them. */
export function pdfThread(): { make: (quote: QuoteView, company: string) => Promise<Buffer>; stop(): Promise<void> } {
  const pool = new Piscina<PdfAsked, Uint8Array>({
    ...threadOf('server/quotes/quote-pdf'),
    minThreads: 0,
    maxThreads: 1,
    maxQueue: MOST_WAITING,
    idleTimeout: 60_000,
  });
  return {
    make: async (quote, company) => {
      try {
        return Buffer.from(await pool.run({ quote, company }, { signal: AbortSignal.timeout(PATIENCE) }));
      } catch (error) {
        const { name, message } = error as Error;
        if (name === 'AbortError' || /queue is at limit/i.test(message)) throw refused('too_busy');
        throw error;
      }
    },
    stop: () => pool.destroy(),
  };
}
