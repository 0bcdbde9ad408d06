import type { Problem } from '#contract/problems.ts';
import { type Database, type Db, openDatabase } from './database.ts';
import { Refused } from './refused.ts';

/** A refusal as an answer: an error loses its class on its way out of a thread. */
export interface Refusal {
  readonly refused: Problem;
}

/** What one of several answers holds under a name. */
type Held<D, K extends string> = D extends Record<K, infer V> ? V : never;

/** What a thread answered. Throws {@link Refused} where it was a refusal. */
export function held<D extends object, K extends string>(done: D, key: K): Held<D, K> {
  if ('refused' in done) throw new Refused((done as Refusal).refused);
  return (done as Record<K, unknown>)[key] as Held<D, K>;
}

/** In the thread: a refusal becomes an answer, every other error stays one. */
export async function tellingRefusals<D>(work: Promise<D>): Promise<D | Refusal> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof Refused) return { refused: error.problem };
    throw error;
  }
}

let open: { url: string; database: Database } | null = null;

/** In the thread: its connection stays open, and with it the states it looked at last. */
export function databaseAt(url: string): Db {
  if (open?.url !== url) {
    void open?.database.close();
    open = { url, database: openDatabase(url) };
  }
  return open.database.db;
}
