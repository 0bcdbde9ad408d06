import { Piscina } from 'piscina';
import type { SheetEffect } from '#contract/costs.ts';
import { threadOf } from '../platform/place.ts';
import { refused } from '../platform/refused.ts';
import type { CostWork, CostWorkDone } from './cost-thread.ts';
import { UnreadableSheet } from './unreadable.ts';
import type { Page } from './workbook.ts';

/** Work on costs that takes long: done beside the server's own thread. */
export interface CostThreads {
  /** Throws UnreadableSheet. */
  workbook(content: Buffer): Promise<Page[]>;
  /** `state`: names what the answer hangs on; asked again for the same, it is at hand. */
  effect(sheet: number, today: string, state: string): Promise<SheetEffect>;
  stop(): Promise<void>;
}

type Run = (asked: CostWork) => Promise<CostWorkDone>;

const MOST_WAITING = 20;
const MOST_KEPT = 8;
/** What reading the largest workbook may take, in MB; a thread that needs more ends, and the server goes on. */
const MOST_MEMORY = 1024;

/** `run`: in process, for tests. */
export function costThreads(url: string, run?: Run): CostThreads {
  const pool = run
    ? null
    : new Piscina<CostWork, CostWorkDone>({
        ...threadOf('server/costs/cost-thread'),
        minThreads: 0,
        maxThreads: 1,
        maxQueue: MOST_WAITING,
        idleTimeout: 60_000,
        resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
      });
  const carryOut: Run = async (asked) => {
    if (run) return run(asked);
    try {
      return await pool!.run(asked);
    } catch (error) {
      const { message, code } = error as Error & { code?: string };
      if (/queue is at limit/i.test(message)) throw refused('too_busy');
      if (code === 'ERR_WORKER_OUT_OF_MEMORY' && asked.what === 'workbook')
        return { unreadable: 'unpacked, the workbook is too large: send it in parts, or as CSV' };
      throw error;
    }
  };
  const kept = new Map<string, Promise<SheetEffect>>();
  return {
    workbook: async (content) => {
      const done = await carryOut({ what: 'workbook', content });
      if ('pages' in done) return done.pages;
      throw new UnreadableSheet('unreadable' in done ? done.unreadable : '');
    },
    effect: (sheet, today, state) => {
      const key = `${sheet}/${today}/${state}`;
      const known = kept.get(key);
      if (known) return known;
      const found = carryOut({ what: 'effect', url, sheet, today }).then((d) => (d as { effect: SheetEffect }).effect);
      kept.set(key, found);
      found.catch(() => kept.delete(key));
      if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
      return found;
    },
    stop: async () => void (await pool?.destroy()),
  };
}
