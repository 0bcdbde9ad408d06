import { standBack } from '../platform/stand-back.ts';
import type { WorksheetCounts } from '#contract/worksheets.ts';
import { availableParallelism } from 'node:os';
import { and, asc, eq, inArray } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import type { PoolClient } from 'pg';
import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import type { PostedColumns } from '#core/bulk/posted-columns.ts';
import { listsBehind } from '#core/lists/lists-behind.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { revisionOf } from '../ledger/audit.ts';
import { copyIn } from '../platform/copy.ts';
import { type Database, type Queries, inSnapshot, openDatabase } from '../platform/database.ts';
import { copyCatalogue } from '../workspace/catalogue-rows.ts';
import { loadRules } from '../workspace/load-workspace.ts';
import { blocksOf } from './blocks.ts';
import { type PricedBlock, type RowNames, noCounts } from './encode-prices.ts';
import { Becoming } from './becoming.ts';
import { type OpenRow, explainRows } from './explain-rows.ts';
import type { Block } from './price-block.ts';
import { readPostedColumns, rowsOfPacks } from './read-posted.ts';
import { shared } from './shared.ts';
import { COMPUTING_LOCK, worksheetLists, worksheets } from './tables.ts';

standBack(10);

/** How often progress is written down, and whether somebody asked to stop is looked up. */
const PROGRESS_MS = 250;

class Cancelled extends Error {}

export interface Proposal {
  /** The database's address. */
  readonly url: string;
  readonly worksheet: number;
  /** Worker threads; absent: one for each processor. */
  readonly threads?: number;
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
 * snapshot and written in one transaction: a cancel, a failure or a crash leaves the worksheet without any price.
 * While it runs its connection holds a lock, which goes when the process goes: so nobody computes it a second time, and
 * everybody can see whether anybody does.
 */
export default async function proposePrices({ url, worksheet, threads }: Proposal): Promise<Proposed> {
  const database = openDatabase(url);
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
    return locked.rows[0]!.free ? await new Run(database, pool, worksheet).propose() : NOTHING;
  } finally {
    holder.release(true);
    await Promise.all([pool.destroy(), database.close()]);
  }
}

interface UnderWay {
  readonly list: PriceList;
  readonly start: number;
  readonly rows: number;
  readonly scale: number;
  readonly priced: Promise<PricedBlock>;
}

/** Lists that are priced together, after those they are made from. */
interface Round {
  readonly lists: readonly PriceList[];
  /** Of all rounds: the lists that others are made from. */
  readonly parents: ReadonlySet<string>;
}

/** The lists in the order in which they are made: those of a round from lists of earlier ones, or from none of them. */
function roundsOf(lists: readonly PriceList[], behind: ReadonlyMap<PriceList, readonly PriceList[]>): Round[] {
  const parents = new Set([...behind.values()].flat().map((l) => l.id));
  const rounds: Round[] = [];
  const placed = new Set<PriceList>();
  while (placed.size < lists.length) {
    const next = lists.filter((l) => !placed.has(l) && behind.get(l)!.every((m) => placed.has(m)));
    // in a circle nothing comes first: the explained way says so row by row
    const round = next.length > 0 ? next : lists.filter((l) => !placed.has(l));
    for (const l of round) placed.add(l);
    rounds.push({ lists: round, parents });
  }
  return rounds;
}

class Run {
  private readonly counts = new Map<number, WorksheetCounts & { explained: number }>();
  private readonly open: OpenRow[] = [];
  private readonly posted = new Map<string, PostedColumns>();
  private readonly becoming = new Becoming();
  private done = 0;
  private lastLook = 0;

  constructor(
    private readonly database: Database,
    private readonly pool: Piscina<Block, PricedBlock>,
    private readonly worksheet: number,
  ) {}

  async propose(): Promise<Proposed> {
    const { db } = this.database;
    const [head] = await db
      .update(worksheets)
      .set({ state: 'computing', done: 0 })
      // still "computing" where a server ended in the middle of it
      .where(and(eq(worksheets.id, this.worksheet), inArray(worksheets.state, ['waiting', 'computing'])))
      .returning();
    if (!head) return NOTHING;
    const end = async (state: 'cancelled' | 'failed', trouble: string | null): Promise<void> => {
      const ended = { state, trouble, done: 0, endedAt: new Date() };
      await db.update(worksheets).set(ended).where(eq(worksheets.id, this.worksheet));
    };
    try {
      return await inSnapshot(this.database.pool, (reader, snapshot) => this.compute(reader, snapshot, head));
    } catch (error) {
      if (!(error instanceof Cancelled)) {
        await end('failed', error instanceof Error ? error.message : String(error));
        throw error;
      }
      await end('cancelled', null);
      return NOTHING;
    }
  }

  private async compute(
    reader: PoolClient,
    snapshot: Queries,
    { day, onlyItems }: Pick<typeof worksheets.$inferSelect, 'day' | 'onlyItems'>,
  ): Promise<Proposed> {
    const started = performance.now();
    const seconds = () => (performance.now() - started) / 1000;
    const revision = await revisionOf(snapshot);
    const ws = new Prepared(await loadRules(snapshot, day, await copyCatalogue(reader, day, onlyItems)));
    const bulk = new BulkWorkspace(ws, day, (list) => this.becoming.columns(list.id) ?? this.posted.get(list.id)!);
    const lists = await this.lists(bulk.ws);
    const total = lists.length * bulk.columns.rows.length;
    await this.database.db.update(worksheets).set({ total, revision }).where(eq(worksheets.id, this.worksheet));
    await this.look('now');
    const read = seconds();
    const writer = await this.database.pool.connect();
    try {
      await writer.query('begin');
      // lists that are made from others follow them, at what those become
      const behind = new Map(lists.map((l) => [l, listsBehind(bulk.ws, l).filter((m) => lists.includes(m))]));
      for (const some of roundsOf(lists, behind)) {
        const before = this.open.length;
        await copyIn(writer, 'worksheet_prices', this.blocks(reader, bulk, some.lists, some.parents));
        await copyIn(writer, 'worksheet_prices', this.explained(snapshot, bulk, this.open.slice(before)));
        for (const { id } of some.lists) this.becoming.end(id);
      }
      await this.finish(writer, behind);
      await writer.query('commit');
      writer.release();
    } catch (error) {
      // without the connection the database forgets what was written
      writer.release(true);
      throw error;
    }
    return { state: 'draft', prices: total, explained: this.open.length, read, whole: seconds() };
  }

  private async lists(ws: Prepared): Promise<PriceList[]> {
    const rows = await this.database.db
      .select({ id: worksheetLists.listId })
      .from(worksheetLists)
      .where(eq(worksheetLists.worksheetId, this.worksheet))
      .orderBy(asc(worksheetLists.listId));
    return rows.flatMap(({ id }) => ws.lists.get(String(id)) ?? []);
  }

  /** Texts of rows for COPY, in order; while one list is priced, the next is read and made ready. */
  private async *blocks(
    reader: PoolClient,
    bulk: BulkWorkspace,
    lists: readonly PriceList[],
    parents: ReadonlySet<string>,
  ): AsyncGenerator<Uint8Array> {
    const { columns } = bulk;
    const rows = columns.rows.length;
    const { rows: _, ...figures } = columns;
    const [sharedFigures, items, packs] = shared([
      figures,
      Int32Array.from(columns.rows, (r) => Number(r.item)),
      Int32Array.from(columns.rows, (r) => Number(r.pack)),
    ] as const);
    const rowsOf = rowsOfPacks([...packs]);
    const readAll = async (needed: readonly PriceList[]) => {
      for (const { id } of needed)
        if (!this.posted.has(id))
          this.posted.set(id, await readPostedColumns(reader, Number(id), columns.day, rows, rowsOf));
    };
    const read = (list: PriceList | undefined) => {
      const reading = list ? readAll([list, ...listsBehind(bulk.ws, list)]) : null;
      reading?.catch(() => undefined);
      return reading;
    };
    // the next list is read while one is priced and written
    let reading = read(lists[0]);
    const underWay: UnderWay[] = [];
    for (const [at, list] of lists.entries()) {
      const names: RowNames = { worksheet: this.worksheet, list: Number(list.id), items, packs };
      await reading;
      reading = read(lists[at + 1]);
      const posted = this.posted.get(list.id)!;
      const ready = bulk.list(list, posted);
      const become = parents.has(list.id);
      if (become) this.becoming.begin(list.id, posted);
      const counts = { ...noCounts(), explained: 0 };
      this.counts.set(names.list, counts);
      if (!ready) {
        for (let row = 0; row < rows; row++) this.open.push({ list, row, counts });
        continue;
      }
      for (const block of blocksOf({ figures: sharedFigures, list: shared(ready), names, rows, become })) {
        const priced = this.pool.run(block);
        // one that fails is met when its turn comes
        priced.catch(() => undefined);
        underWay.push({ list, start: block.start, rows: block.end - block.start, scale: ready.ladder.scale, priced });
        while (underWay.length > this.pool.options.maxThreads + 2) yield await this.take(underWay.shift()!);
      }
    }
    for (const block of underWay) yield await this.take(block);
  }

  private async take(block: UnderWay) {
    const { text, open, counts, become } = await block.priced;
    if (become) this.becoming.block(block.list.id, block.start, become, block.scale);
    const into = this.counts.get(Number(block.list.id))!;
    for (const [name, count] of Object.entries(counts)) into[name as keyof WorksheetCounts] += count as number;
    for (const row of open) this.open.push({ list: block.list, row, counts: into });
    this.done += block.rows - open.length;
    await this.look('soon');
    return text;
  }

  private async *explained(snapshot: Queries, bulk: BulkWorkspace, open: readonly OpenRow[]): AsyncGenerator<string> {
    for (const { list } of open) this.counts.get(Number(list.id))!.explained += 1;
    for await (const { text, rows } of explainRows(snapshot, bulk, this.worksheet, open, this.becoming)) {
      this.done += rows;
      yield text;
      await this.look('soon');
    }
  }

  /** Writes progress down now and then; ends the run where somebody asked for it. */
  private async look(when: 'now' | 'soon'): Promise<void> {
    if (when === 'soon' && performance.now() - this.lastLook < PROGRESS_MS) return;
    this.lastLook = performance.now();
    const [row] = await this.database.db
      .update(worksheets)
      .set({ done: this.done })
      .where(eq(worksheets.id, this.worksheet))
      .returning({ cancelAsked: worksheets.cancelAsked });
    if (!row || row.cancelAsked) throw new Cancelled();
  }

  private async finish(writer: PoolClient, behind: ReadonlyMap<PriceList, readonly PriceList[]>): Promise<void> {
    const madeFrom = new Map([...behind].map(([l, from]) => [Number(l.id), from.map((m) => m.id)]));
    const tx = drizzle(writer, { casing: 'snake_case' });
    for (const [listId, counts] of this.counts) {
      await tx
        .update(worksheetLists)
        .set({ ...counts, madeFrom: madeFrom.get(listId) ?? [] })
        .where(and(eq(worksheetLists.worksheetId, this.worksheet), eq(worksheetLists.listId, listId)));
    }
    const [ended] = await tx
      .update(worksheets)
      .set({ state: 'draft', done: this.done, endedAt: new Date() })
      .where(and(eq(worksheets.id, this.worksheet), eq(worksheets.cancelAsked, false)))
      .returning({ id: worksheets.id });
    if (!ended) throw new Cancelled();
  }
}
