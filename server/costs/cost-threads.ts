import { Piscina } from 'piscina';
import type { Falls } from '#contract/falls.ts';
import type { SheetEffect, SupplierChoices } from '#contract/costs.ts';
import type { CheckedItemFile, Decimal, ItemFile } from '../items/item-file.ts';
import { threadOf } from '../platform/place.ts';
import { Refused, refused } from '../platform/refused.ts';
import type { CostWork, CostWorkDone } from './cost-thread.ts';
import { UnreadableSheet } from './unreadable.ts';
import type { Page } from './workbook.ts';

/** Work on costs that takes long: done beside the server's own thread. */
export interface CostThreads {
  /** Throws UnreadableSheet. */
  workbook(content: Buffer): Promise<Page[]>;
  /** `state`: names what the answer hangs on; asked again for the same, it is at hand. */
  effect(sheet: number, today: string, state: string): Promise<SheetEffect>;
  choices(today: string, state: string): Promise<SupplierChoices>;
  /** A file of items held against what is kept. Throws UnreadableSheet. */
  items(file: ItemFile): Promise<CheckedItemFile>;
  /** Every item as a text table. */
  itemsOut(decimal: Decimal): Promise<string>;
  /** A sheet as the screen shows it, as JSON. */
  view(sheet: number, today: string): Promise<string>;
  /** Prices that would fall. */
  falls(today: string, state: string): Promise<Falls>;
  /** Takes in what was ordered of a sheet. */
  intake(sheet: number, today: string): Promise<void>;
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
      if (code === 'ERR_WORKER_OUT_OF_MEMORY' && asked.what === 'workbook')
        return { unreadable: 'unpacked, the workbook is too large: send it in parts, or as CSV' };
      throw error;
    }
  };
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
  return {
    workbook: async (content) => {
      const done = await carryOut({ what: 'workbook', content });
      if ('pages' in done) return done.pages;
      throw new UnreadableSheet('unreadable' in done ? done.unreadable : '');
    },
    itemsOut: async (decimal) => ((await carryOut({ what: 'items out', url, decimal })) as { text: string }).text,
    view: async (sheet, today) => {
      const done = await carryOut({ what: 'view', url, sheet, today });
      if ('refused' in done) throw new Refused(done.refused);
      return (done as { text: string }).text;
    },
    falls: async (today, state) =>
      ((await askedOnce(`falls/${today}/${state}`, { what: 'falls', url, today })) as { falls: Falls }).falls,
    intake: async (sheet, today) => void (await carryOut({ what: 'intake', url, sheet, today })),
    items: async (file) => {
      const done = await carryOut({ what: 'items', url, file });
      if ('items' in done) return done.items;
      throw new UnreadableSheet('unreadable' in done ? done.unreadable : '');
    },
    effect: async (sheet, today, state) =>
      (
        (await askedOnce(`${sheet}/${today}/${state}`, { what: 'effect', url, sheet, today })) as {
          effect: SheetEffect;
        }
      ).effect,
    choices: async (today, state) =>
      ((await askedOnce(`choices/${today}/${state}`, { what: 'choices', url, today })) as { choices: SupplierChoices })
        .choices,
    stop: async () => void (await pool?.destroy()),
  };
}
