import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import type { Proposal, Proposed } from './propose-prices.ts';

/** The queue of worksheets whose prices wait to be computed. */
export const PROPOSALS = 'worksheets';

/** The queue of worksheets that wait to be posted. */
export const WORKSHEET_POSTINGS = 'worksheet-postings';

/** Computes worksheets one at a time in a thread of its own, so that the server goes on answering. */
export function proposalThread(url: string): { work: (worksheet: number) => Promise<void>; stop(): Promise<void> } {
  const pool = new Piscina<Proposal, Proposed>({
    ...threadOf('server/worksheets/propose-prices'),
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 60_000,
  });
  return {
    work: async (worksheet) => void (await pool.run({ url, worksheet })),
    stop: () => pool.destroy(),
  };
}
