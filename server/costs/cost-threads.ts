import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import { refused } from '../platform/refused.ts';
import { held } from '../platform/threads.ts';
import { Reading } from './reading.ts';
import { isPacked } from './receive-sheet.ts';
import { UnreadableSheet } from './unreadable.ts';
import type { CostWork, CostWorkDone, CostThreads } from './cost-work.ts';

type Run = (asked: CostWork) => Promise<CostWorkDone>;

const MOST_WAITING = 20;
const MOST_KEPT = 8;
/** What reading the largest workbook may take, in MB; a thread that needs more ends, and the server goes on. */
const MOST_MEMORY = 1024;

/** `run`: in process, for tests. */
export function costThreads(url: string, run?: Run, reading = new Reading()): CostThreads {
  const pool = run
    ? null
    : new Piscina<CostWork, CostWorkDone>({
        ...threadOf('server/costs/cost-thread'),
        minThreads: 0,
        maxThreads: 2,
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
      if (code === 'ERR_WORKER_OUT_OF_MEMORY' && (asked.what === 'receive' || asked.what === 'items'))
        return { unreadable: 'unpacked, it is too large: send it in parts, or as CSV' };
      throw error;
    }
  };
  /** What has to be unpacked is, in a process of its own; null: it is a text. */
  const pagesOf = async (content: Buffer) => (isPacked(content) ? reading.read(content) : null);
  const kept = new Map<string, Promise<CostWorkDone>>();
  const askedOnce = (key: string, asked: CostWork): Promise<CostWorkDone> => {
    const known = kept.get(key);
    if (known) return known;
    const found = carryOut(asked);
    kept.set(key, found);
    found.catch(() => kept.delete(key));
    if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
    return found;
  };
  /** What a thread answered; a file that could not be read, and a refusal, are thrown. */
  const answer = async <K extends string>(key: K, done: Promise<CostWorkDone>) => {
    const found = await done;
    if ('unreadable' in found) throw new UnreadableSheet(found.unreadable);
    return held(found, key);
  };
  return {
    receive: async (asked) => {
      const pages = await pagesOf(asked.arriving.content);
      return answer('received', carryOut({ what: 'receive', url, asked: { ...asked, pages } }));
    },
    itemsOut: (decimal) => answer('text', carryOut({ what: 'items out', url, decimal })),
    sheet: (asked) => answer('sheet', carryOut({ what: 'sheet', url, asked })),
    decide: (worksheet) => answer('ordered', carryOut({ what: 'decide', url, worksheet })),
    days: (asked) => answer('text', carryOut({ what: 'days', url, asked })),
    falls: (today, state) => answer('falls', askedOnce(`falls/${today}/${state}`, { what: 'falls', url, today })),
    intake: (sheet, today) => answer('worksheet', carryOut({ what: 'intake', url, sheet, today })),
    items: async (file) => {
      const pages = await pagesOf(file.content);
      return answer('items', carryOut({ what: 'items', url, file: { ...file, pages } }));
    },
    effect: (sheet, today, state) =>
      answer('effect', askedOnce(`${sheet}/${today}/${state}`, { what: 'effect', url, sheet, today, state })),
    choices: (today, state) =>
      answer('choices', askedOnce(`choices/${today}/${state}`, { what: 'choices', url, today })),
    stop: async () => {
      reading.stop();
      await pool?.destroy();
    },
  };
}
