import { Piscina } from 'piscina';
import type { Falls } from '#contract/falls.ts';
import type { SupplierChoices } from '#contract/costs.ts';
import type { CheckedItemFile, Decimal } from '../items/item-file.ts';
import type { MadeLines } from '../ledger/posting-lines.ts';
import type { PricesOrder } from '../ledger/prices-order.ts';
import { threadOf } from '../platform/place.ts';
import { Refused, refused } from '../platform/refused.ts';
import type { AskedDays, AskedItemFile, AskedProposed, CostWork, CostWorkDone } from './cost-thread.ts';
import type { AskedSheet } from './look-at-sheet.ts';
import type { SheetEffectTable, SheetTable } from './sheet-table.ts';
import type { Received, Receiving } from './receive-sheet.ts';
import { UnreadableSheet } from './unreadable.ts';

/** Work on costs that takes long: done beside the server's own thread. */
export interface CostThreads {
  /** Keeps what arrived, and takes it in where that goes by itself; null: another server was first. */
  receive(asked: Receiving): Promise<Received | null>;
  /** `state`: names what the answer hangs on; asked again for the same, it is at hand. */
  effect(sheet: number, today: string, state: string): Promise<SheetEffectTable>;
  choices(today: string, state: string): Promise<SupplierChoices>;
  /** A file of items held against what is kept. Throws UnreadableSheet. */
  items(file: AskedItemFile): Promise<CheckedItemFile>;
  /** Every item as a text table. */
  itemsOut(decimal: Decimal): Promise<string>;
  /** A sheet with its rows. */
  sheet(asked: AskedSheet): Promise<SheetTable>;
  /** Looks whether a worksheet that is to post itself may; whether anything was ordered. */
  decide(worksheet: number): Promise<boolean>;
  /** A page of what differs on a list between two days, as JSON. */
  days(asked: AskedDays): Promise<string>;
  /** Prices that would fall. */
  falls(today: string, state: string): Promise<Falls>;
  /** What a list computes for packs, exactly, in their order. Refuses where its state is another than the one named. */
  proposed(asked: AskedProposed): Promise<readonly (string | null)[]>;
  /** The lines of a posting, from the state of its first day. */
  lines(order: PricesOrder): Promise<MadeLines>;
  /** Takes in what was ordered of a sheet; tells the worksheet that follows by itself. */
  intake(sheet: number, today: string): Promise<number | null>;
  stop(): Promise<void>;
}

/** What an answer holds under a name. */
type Answer<K extends string> = CostWorkDone extends infer D ? (D extends Record<K, infer V> ? V : never) : never;

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
      if (code === 'ERR_WORKER_OUT_OF_MEMORY' && (asked.what === 'receive' || asked.what === 'items'))
        return { unreadable: 'unpacked, it is too large: send it in parts, or as CSV' };
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
  /** What a thread answered; an answer that is a refusal is thrown. */
  const answer = async <K extends string>(key: K, done: Promise<CostWorkDone>) => {
    const found = await done;
    if ('unreadable' in found) throw new UnreadableSheet(found.unreadable);
    if ('refused' in found) throw new Refused(found.refused);
    return (found as Extract<CostWorkDone, Record<K, unknown>>)[key as never] as Answer<K>;
  };
  return {
    receive: (asked) => answer('received', carryOut({ what: 'receive', url, asked })),
    itemsOut: (decimal) => answer('text', carryOut({ what: 'items out', url, decimal })),
    sheet: (asked) => answer('sheet', carryOut({ what: 'sheet', url, asked })),
    decide: (worksheet) => answer('ordered', carryOut({ what: 'decide', url, worksheet })),
    days: (asked) => answer('text', carryOut({ what: 'days', url, asked })),
    falls: (today, state) => answer('falls', askedOnce(`falls/${today}/${state}`, { what: 'falls', url, today })),
    intake: (sheet, today) => answer('worksheet', carryOut({ what: 'intake', url, sheet, today })),
    proposed: (asked) => answer('proposed', carryOut({ what: 'proposed', url, asked })),
    lines: (order) => answer('lines', carryOut({ what: 'lines', url, order })),
    items: (file) => answer('items', carryOut({ what: 'items', url, file })),
    effect: (sheet, today, state) =>
      answer('effect', askedOnce(`${sheet}/${today}/${state}`, { what: 'effect', url, sheet, today, state })),
    choices: (today, state) =>
      answer('choices', askedOnce(`choices/${today}/${state}`, { what: 'choices', url, today })),
    stop: async () => void (await pool?.destroy()),
  };
}
