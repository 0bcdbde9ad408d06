import { standBackBehind } from '../platform/stand-back.ts';
import { availableParallelism } from 'node:os';
import { setTimeout as after } from 'node:timers/promises';
import { and, eq, inArray } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import type { PostedColumns } from '#core/bulk/posted-columns.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { revisionOf } from '../ledger/audit.ts';
import { type Database, type Queries, type Tx, inSnapshot, openDatabase } from '../platform/database.ts';
import { copyCatalogue } from '../workspace/catalogue-rows.ts';
import { loadRules } from '../workspace/load-workspace.ts';
import { Becoming } from './becoming.ts';
import type { PricedBlock } from './encode-prices.ts';
import type { Block } from './price-block.ts';
import { Cancelled, Part } from './price-lists.ts';
import { SharedLists, listsOf } from './share-lists.ts';
import { COMPUTING_LOCK, worksheetLists, worksheetPrices, worksheets } from './tables.ts';

/** How often it is looked whether lists that others price are done, in milliseconds. */
const OTHERS_MS = 100;

export interface Proposal {
  /** The database's address. */
  readonly url: string;
  readonly worksheet: number;
  /** Worker threads; absent: one for each processor. */
  readonly threads?: number;
  /** How far the database stands back as well; absent: not at all. */
  readonly behind?: number;
}

/** How it ended, and how long its parts took, in seconds. */
export interface Proposed {
  readonly state: 'draft' | 'cancelled';
  readonly prices: number;
  readonly explained: number;
  readonly read: number;
  readonly whole: number;
}

const NOTHING: Proposed = { state: 'cancelled', prices: 0, explained: 0, read: 0, whole: 0 };

/**
 * Computes the prices of a worksheet's lists and writes them down beside the posted ones. Everything is read from one
 * snapshot; a cancel, a failure or a crash leaves the worksheet without any price, though lists are written down as they are
 * done. Who begins it holds a lock on its connection, which goes when the process goes: so nobody begins it a second
 * time, and everybody can see whether anybody does. Whoever is asked for it meanwhile prices lists of it that nobody else does,
 * from the same snapshot.
 */
export default async function proposePrices({ url, worksheet, threads, behind }: Proposal): Promise<Proposed> {
  const database = openDatabase(url);
  if (behind !== undefined) database.pool.on('connect', (client) => standBackBehind(client, behind));
  const pool = new Piscina<Block, PricedBlock>({
    ...threadOf('server/worksheets/price-block'),
    minThreads: threads ?? availableParallelism(),
    maxThreads: threads ?? availableParallelism(),
  });
  const holder = await database.pool.connect();
  try {
    const locked = await holder.query<{ free: boolean }>('select pg_try_advisory_lock($1, $2) as free', [
      COMPUTING_LOCK,
      worksheet,
    ]);
    const run = new Run(database, pool, holder, worksheet);
    return await (locked.rows[0]!.free ? run.propose() : run.help());
  } finally {
    holder.release(true);
    await Promise.all([pool.destroy(), database.close()]);
  }
}

type Head = typeof worksheets.$inferSelect;

class Run {
  private readonly started = performance.now();

  constructor(
    private readonly database: Database,
    private readonly pool: Piscina<Block, PricedBlock>,
    private readonly holder: PoolClient,
    private readonly worksheet: number,
  ) {}

  /** Begins it, and prices what no other process does. */
  async propose(): Promise<Proposed> {
    const { db } = this.database;
    const [head] = await db
      .update(worksheets)
      .set({ state: 'computing', done: 0, snapshot: null })
      // still "computing" where a server ended in the middle of it
      .where(and(eq(worksheets.id, this.worksheet), inArray(worksheets.state, ['waiting', 'computing'])))
      .returning();
    if (!head) return NOTHING;
    try {
      await db.transaction((tx) => this.leaveNothing(tx));
      return await inSnapshot(this.database.pool, async (reader, queries) => {
        const { rows } = await reader.query<{ name: string }>('select pg_export_snapshot() as name');
        const snapshot = rows[0]!.name;
        const { part, lists, prices, read } = await this.part(reader, queries, head, snapshot);
        const revision = await revisionOf(queries);
        await db.update(worksheets).set({ total: prices, revision, snapshot }).where(eq(worksheets.id, head.id));
        await this.priceAll(part, lists);
        const [ended] = await db
          .update(worksheets)
          .set({ state: 'draft', done: prices, snapshot: null, endedAt: new Date() })
          .where(and(eq(worksheets.id, head.id), eq(worksheets.cancelAsked, false)))
          .returning({ id: worksheets.id });
        if (!ended) throw new Cancelled();
        return { state: 'draft', prices, explained: part.explained, read, whole: this.seconds() };
      });
    } catch (error) {
      if (!(error instanceof Cancelled)) {
        await this.end('failed', error instanceof Error ? error.message : String(error));
        throw error;
      }
      await this.end('cancelled', null);
      return NOTHING;
    }
  }

  /** Takes part in what another process has begun; what is not written down is that one's to do. */
  async help(): Promise<Proposed> {
    const [head] = await this.database.db.select().from(worksheets).where(eq(worksheets.id, this.worksheet));
    if (head?.state !== 'computing' || head.snapshot === null) return NOTHING;
    const { snapshot } = head;
    try {
      return await inSnapshot(
        this.database.pool,
        async (reader, queries) => {
          const { part, lists, prices, read } = await this.part(reader, queries, head, snapshot);
          await this.priceAll(part, lists);
          return { state: 'draft', prices, explained: part.explained, read, whole: this.seconds() };
        },
        snapshot,
      );
    } catch (error) {
      if (error instanceof Cancelled || (await this.isOver(snapshot))) return NOTHING;
      throw error;
    }
  }

  private async part(reader: PoolClient, queries: Queries, { id, day, onlyItems }: Head, snapshot: string) {
    const { database, pool } = this;
    const ws = new Prepared(await loadRules(queries, day, await copyCatalogue(reader, day, onlyItems)));
    const [becoming, posted] = [new Becoming(), new Map<string, PostedColumns>()];
    const bulk = new BulkWorkspace(ws, day, (list) => becoming.columns(list.id) ?? posted.get(list.id)!);
    const lists = new SharedLists(this.holder, id, await listsOf(queries, id, bulk.ws));
    const of = { database, pool, worksheet: id, snapshot, reader, queries, lists, bulk, becoming, posted };
    const prices = lists.behind.size * bulk.columns.rows.length;
    return { part: new Part(of), lists, prices, read: this.seconds() };
  }

  private async priceAll(part: Part, lists: SharedLists): Promise<void> {
    for (;;) {
      await part.look('now');
      while (await part.turn());
      if (await lists.complete()) return;
      await after(OTHERS_MS);
    }
  }

  private seconds = (): number => (performance.now() - this.started) / 1000;

  private async isOver(snapshot: string): Promise<boolean> {
    const [head] = await this.database.db.select().from(worksheets).where(eq(worksheets.id, this.worksheet));
    return head?.snapshot !== snapshot;
  }

  /** What lists were written down of it, before it came to its end. */
  private async leaveNothing(tx: Tx): Promise<void> {
    await tx.delete(worksheetPrices).where(eq(worksheetPrices.worksheetId, this.worksheet));
    await tx.update(worksheetLists).set({ computed: false }).where(eq(worksheetLists.worksheetId, this.worksheet));
  }

  private async end(state: 'cancelled' | 'failed', trouble: string | null): Promise<void> {
    await this.database.db.transaction(async (tx) => {
      // from here on nobody writes any more of it down
      await tx
        .update(worksheets)
        .set({ state, trouble, done: 0, snapshot: null, endedAt: new Date() })
        .where(eq(worksheets.id, this.worksheet));
      await this.leaveNothing(tx);
    });
  }
}
