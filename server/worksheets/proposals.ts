import { and, desc, eq, gte, isNotNull, sql } from 'drizzle-orm';
import type { Db } from '../platform/database.ts';
import { threadOf } from '../platform/place.ts';
import { OwnProcess } from '../platform/process.ts';
import type { Proposal, Proposed } from './propose-prices.ts';
import { worksheets } from './tables.ts';

/** The queue of worksheets whose prices wait to be computed. */
export const PROPOSALS = 'worksheets';

/** The queue of worksheets that wait to be posted. */
export const WORKSHEET_POSTINGS = 'worksheet-postings';

export interface ProposalProcess {
  /** Begins a worksheet, or takes part in what another server has begun. */
  work(worksheet: number): Promise<void>;
  /** Takes part in a long worksheet of another server, where this one has none to do; says whether it did. */
  help(db: Db): Promise<boolean>;
  stop(): Promise<void>;
}

/** From so many prices on it is worth reading the whole catalogue once more to take part. */
const WORTH = 200_000;

/** Worksheets that are being computed, with lists that nobody has written down yet: the longest first. */
async function begun(db: Db, worth: number): Promise<number | null> {
  const [found] = await db
    .select({ id: worksheets.id })
    .from(worksheets)
    .where(
      and(
        eq(worksheets.state, 'computing'),
        isNotNull(worksheets.snapshot),
        gte(sql`${worksheets.total} - ${worksheets.done}`, worth),
      ),
    )
    .orderBy(desc(worksheets.total))
    .limit(1);
  return found?.id ?? null;
}

/** Computes worksheets one at a time in a process of its own, so that the server goes on answering. */
export function proposalProcess(url: string, worth = WORTH): ProposalProcess {
  const beside = new OwnProcess<Proposal, Proposed>(threadOf('server/worksheets/propose-process'));
  let busy = 0;
  const run = async (worksheet: number) => {
    busy++;
    try {
      return await beside.run({ url, worksheet });
    } finally {
      busy--;
    }
  };
  return {
    work: async (worksheet) => void (await run(worksheet)),
    help: async (db) => {
      if (busy > 0) return false;
      const worksheet = await begun(db, worth);
      return worksheet !== null && busy === 0 && (await run(worksheet)).prices > 0;
    },
    stop: () => beside.stop(),
  };
}
