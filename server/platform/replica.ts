import { sql } from 'drizzle-orm';
import type { Logger } from 'pino';
import type { ReplicaStanding } from '#contract/replica.ts';
import { type Database, type Db, isAway, openDatabase, sqlState } from './database.ts';
import { withoutValues } from './log.ts';
import { prepared } from './prepared.ts';

/** A place in the write-ahead log as PostgreSQL writes it, such as "0/16B3748". */
const PLACE = /^([0-9A-F]{1,8})\/([0-9A-F]{1,8})$/i;
const placed = (text: string): bigint => {
  const [, high, low] = PLACE.exec(text)!;
  return (BigInt(`0x${high}`) << 32n) | BigInt(`0x${low}`);
};

/** A copy of the database that follows it by itself; questions are answered from it once it has what they need. */
export interface Replica {
  /**
   * Where somebody's question is answered: the replica where it has what this server has seen of prices and what this
   * person wrote; null: the primary. `written`: what another server told them of that.
   */
  ready(person: number, written: string | null): Promise<Db | null>;
  /** Somebody has changed something: as of which place in the log it is there; null: not known, so they read the primary alone. */
  wrote(person: number): Promise<string | null>;
  /** Whether a question failed for the replica's sake and is to be asked of the primary; it is then left alone for a while. */
  failed(error: unknown): boolean;
  standing(): Promise<ReplicaStanding>;
  close(): Promise<void>;
}

/** A place that no log reaches. */
const NOWHERE = (1n << 64n) - 1n;
/** How far apart the primary's places are remembered, in milliseconds, and how many. */
const MARK_MS = 200;
const MOST_MARKS = 3_000;
/** So long one that failed is not asked again, in milliseconds. */
const LEFT_ALONE = 2_000;
/** It cannot write; what it read was cleaned up on the primary meanwhile. */
const NOT_HERE: ReadonlySet<string | null> = new Set(['25006', '40001', '40P01']);

// what is committed may not be written to the log's file yet: where the next record would begin is past it in any case
const seenOf = prepared((db) =>
  db
    .select({
      state: sql<string>`(select string_agg(name || revision, ' ' order by name) from layers)`,
      at: sql<string>`pg_current_wal_insert_lsn()::text`,
    })
    .from(sql`(select 1) as one`)
    .prepare('written_up_to'),
);
const reachedOf = prepared((db) =>
  db
    .select({
      at: sql<string | null>`pg_last_wal_replay_lsn()::text`,
      follows: sql<boolean>`pg_is_in_recovery()`,
    })
    .from(sql`(select 1) as one`)
    .prepare('replayed_up_to'),
);

export function replicaAt(url: string, primary: Db, log: Logger): Replica & { readonly database: Database } {
  const database = openDatabase(url, { connect: 1_000 });
  const { db } = database;
  /** What prices were last seen to be made from, and the place in the log where that was there. */
  let seen = { state: '', at: 0n };
  const wrote = new Map<number, bigint>();
  /**
   * When the primary was seen at places that the replica may not have reached. The age of the last change it has would tell how
   * long nobody changed anything, too.
   */
  const marks: { readonly at: bigint; readonly time: number }[] = [];
  let leftUntil = 0;

  const failed = (error: unknown): boolean => {
    if (NOT_HERE.has(sqlState(error))) {
      log.warn({ stack: withoutValues(error) }, 'a question is asked of the primary: the replica cannot answer it');
      return true;
    }
    if (!isAway(error)) return false;
    if (Date.now() >= leftUntil) log.warn({ stack: withoutValues(error) }, 'the replica does not answer');
    leftUntil = Date.now() + LEFT_ALONE;
    return true;
  };
  const reached = async () => {
    try {
      const [row] = await reachedOf(db);
      if (row!.follows && row!.at !== null) return { at: placed(row!.at) };
      log.error('the replica follows no primary any more: it is not read');
      leftUntil = Date.now() + LEFT_ALONE;
    } catch (error) {
      if (!failed(error)) throw error;
    }
    return null;
  };
  const written = async () => {
    const [row] = await seenOf(primary);
    const at = placed(row!.at);
    if (row!.state !== seen.state) seen = { state: row!.state, at };
    const last = marks.at(-1);
    if (!last || (at > last.at && Date.now() - last.time >= MARK_MS)) marks.push({ at, time: Date.now() });
    if (marks.length > MOST_MARKS) marks.splice(1, 1);
    return { at, text: row!.at };
  };
  /** How long ago the primary was where the replica is not yet. */
  const secondsBehind = (reachedAt: bigint): number => {
    while (marks.length > 0 && marks[0]!.at <= reachedAt) marks.shift();
    return marks.length === 0 ? 0 : (Date.now() - marks[0]!.time) / 1000;
  };

  return {
    database,
    ready: async (person, told) => {
      if (Date.now() < leftUntil) return null;
      const [has] = await Promise.all([reached(), written()]);
      if (!has) return null;
      const own = wrote.get(person) ?? 0n;
      const elsewhere = told !== null && PLACE.test(told) ? placed(told) : 0n;
      return has.at >= seen.at && has.at >= own && has.at >= elsewhere ? db : null;
    },
    wrote: async (person) => {
      try {
        const { at, text } = await written();
        const before = wrote.get(person) ?? 0n;
        // of two at once the later counts, whichever is told first
        if (before === NOWHERE || at > before) wrote.set(person, at);
        return text;
      } catch (error) {
        // what they changed is kept all the same
        log.warn({ stack: withoutValues(error) }, 'how far somebody wrote is not known');
        wrote.set(person, NOWHERE);
        return null;
      }
    },
    failed,
    standing: async () => {
      const [has, { at }] = await Promise.all([reached(), written()]);
      if (!has) return { state: 'away', secondsBehind: null };
      return { state: has.at >= at ? 'level' : 'behind', secondsBehind: secondsBehind(has.at) };
    },
    close: () => database.close(),
  };
}
