import { and, eq, sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import type { PoolClient } from 'pg';
import type { Piscina } from 'piscina';
import type { WorksheetCounts } from '#contract/worksheets.ts';
import type { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import type { PostedColumns } from '#core/bulk/posted-columns.ts';
import { FLAGS } from '#core/bulk/price-rows.ts';
import { listsBehind } from '#core/lists/lists-behind.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { copyIn, copyOut } from '../platform/copy.ts';
import type { Database, Queries } from '../platform/database.ts';
import type { Becoming } from './becoming.ts';
import { blocksOf } from './blocks.ts';
import { type PricedBlock, type RowNames, noCounts } from './encode-prices.ts';
import { type OpenRow, explainRows } from './explain-rows.ts';
import type { Block } from './price-block.ts';
import { readPostedColumns, rowsOfPacks } from './read-posted.ts';
import type { SharedLists } from './share-lists.ts';
import { shared } from './shared.ts';
import { worksheetLists, worksheets } from './tables.ts';

/** How often progress is written down, and whether somebody asked to stop is looked up. */
const PROGRESS_MS = 250;

/** Somebody asked for an end, or whoever began it is gone: nothing of what is not written down yet counts. */
export class Cancelled extends Error {}

interface UnderWay {
  readonly list: PriceList;
  readonly start: number;
  readonly rows: number;
  readonly scale: number;
  readonly priced: Promise<PricedBlock>;
}

type Counts = WorksheetCounts & { explained: number };

export interface PartOf {
  readonly database: Database;
  readonly pool: Piscina<Block, PricedBlock>;
  readonly worksheet: number;
  /** Names the state of the database that everything is read from, whoever prices it. */
  readonly snapshot: string;
  /** Reads that state. */
  readonly reader: PoolClient;
  readonly queries: Queries;
  readonly lists: SharedLists;
  readonly bulk: BulkWorkspace;
  readonly becoming: Becoming;
  readonly posted: Map<string, PostedColumns>;
}

/** What one process prices of a worksheet: lists that no other prices, until there are none. */
export class Part {
  /** Lists that others on the worksheet are made from. */
  private readonly parents: ReadonlySet<string>;
  private readonly items: Int32Array;
  private readonly packs: Int32Array;
  private readonly rowsOf: ReturnType<typeof rowsOfPacks>;
  private readonly figures: Block['figures'];
  private taken: { list: PriceList; counts: Counts }[] = [];
  private open: OpenRow[] = [];
  private done = 0;
  private lastLook = 0;
  /** Rows that the bulk way left open. */
  explained = 0;

  constructor(private readonly of: PartOf) {
    this.parents = new Set([...of.lists.behind.values()].flat().map((l) => l.id));
    const { rows, ...figures } = of.bulk.columns;
    [this.figures, this.items, this.packs] = shared([
      figures,
      Int32Array.from(rows, (r) => Number(r.item)),
      Int32Array.from(rows, (r) => Number(r.pack)),
    ] as const);
    this.rowsOf = rowsOfPacks([...this.packs]);
  }

  /** Prices lists as long as there are some, and writes them down in one transaction; false: there was none. */
  async turn(): Promise<boolean> {
    const first = await this.of.lists.next();
    if (!first) return false;
    [this.taken, this.open] = [[], []];
    const writer = await this.of.database.pool.connect();
    try {
      await writer.query('begin');
      await copyIn(writer, 'worksheet_prices', this.blocks(first));
      await copyIn(writer, 'worksheet_prices', this.explain());
      await this.look('now');
      await this.writeDown(writer);
      await writer.query('commit');
      writer.release();
    } catch (error) {
      // without the connection the database forgets what was written
      writer.release(true);
      throw error;
    }
    for (const { list } of this.taken) this.of.becoming.end(list.id);
    await this.of.lists.written(this.taken.map((t) => t.list));
    return true;
  }

  /** Texts of rows for COPY, in order; while one list is priced, the next is read and made ready. */
  private async *blocks(first: PriceList): AsyncGenerator<Uint8Array> {
    const { bulk, becoming, pool, worksheet, lists } = this.of;
    const rows = bulk.columns.rows.length;
    const read = (list: PriceList | null) => {
      const reading = list ? this.readAll(list) : null;
      reading?.catch(() => undefined);
      return reading;
    };
    const underWay: UnderWay[] = [];
    let [list, reading]: [PriceList | null, Promise<void> | null] = [first, read(first)];
    while (list) {
      await reading;
      const next: PriceList | null = await lists.next();
      reading = read(next);
      const names: RowNames = { worksheet, list: Number(list.id), items: this.items, packs: this.packs };
      const posted = this.of.posted.get(list.id)!;
      const ready = bulk.list(list, posted);
      const become = this.parents.has(list.id);
      if (become) becoming.begin(list.id, posted);
      const counts = { ...noCounts(), explained: 0 };
      this.taken.push({ list, counts });
      if (ready)
        for (const block of blocksOf({ figures: this.figures, list: shared(ready), names, rows, become })) {
          const priced = pool.run(block);
          // one that fails is met when its turn comes
          priced.catch(() => undefined);
          underWay.push({ list, start: block.start, rows: block.end - block.start, scale: ready.ladder.scale, priced });
          while (underWay.length > pool.options.maxThreads + 2) yield await this.take(underWay.shift()!);
        }
      else for (let row = 0; row < rows; row++) this.open.push({ list, row, counts });
      list = next;
    }
    for (const block of underWay) yield await this.take(block);
  }

  /** What is posted on a list and on those it is made from; of these what they become, where another process priced them. */
  private async readAll(list: PriceList): Promise<void> {
    const { bulk, posted, reader, becoming, lists } = this.of;
    const { rows, day } = bulk.columns;
    for (const { id } of [list, ...listsBehind(bulk.ws, list)])
      if (!posted.has(id)) posted.set(id, await readPostedColumns(reader, Number(id), day, rows.length, this.rowsOf));
    for (const { id } of lists.behind.get(list)!)
      if (!becoming.columns(id) && !this.taken.some((t) => t.list.id === id)) await this.readBecoming(id);
  }

  private async readBecoming(list: string): Promise<void> {
    const { database, becoming, posted, worksheet, bulk } = this.of;
    const { rows } = bulk.columns;
    const client = await database.pool.connect();
    try {
      becoming.begin(list, posted.get(list)!);
      const held = FLAGS.indexOf('floor_above_ceiling');
      const query = `select item_id, pack_id, after from worksheet_prices
        where worksheet_id = ${worksheet} and list_id = ${Number(list)} and after is not null and flag <> ${held}`;
      for await (const lines of copyOut(client, query))
        for (const line of lines) {
          const [item, pack, price] = line.split('\t') as [string, string, string];
          let row = this.rowsOf.last[Number(pack)] ?? -1;
          while (row >= 0 && rows[row]!.item !== item) row = this.rowsOf.before[row]!;
          if (row >= 0) becoming.written(list, row, price);
        }
      becoming.end(list);
    } finally {
      client.release();
    }
  }

  private async take(block: UnderWay) {
    const { text, open, counts, become } = await block.priced;
    if (become) this.of.becoming.block(block.list.id, block.start, become, block.scale);
    const into = this.taken.find((t) => t.list === block.list)!.counts;
    for (const [name, count] of Object.entries(counts)) into[name as keyof WorksheetCounts] += count as number;
    for (const row of open) this.open.push({ list: block.list, row, counts: into });
    this.done += block.rows - open.length;
    await this.look('soon');
    return text;
  }

  private async *explain(): AsyncGenerator<string> {
    for (const { counts } of this.open) (counts as Counts).explained += 1;
    this.explained += this.open.length;
    const { queries, bulk, worksheet, becoming } = this.of;
    for await (const { text, rows } of explainRows(queries, bulk, worksheet, this.open, becoming)) {
      this.done += rows;
      yield text;
      await this.look('soon');
    }
  }

  /** Writes progress down now and then; ends the work where somebody asked for it, or where it is no longer wanted. */
  async look(when: 'now' | 'soon'): Promise<void> {
    if (when === 'soon' && performance.now() - this.lastLook < PROGRESS_MS) return;
    this.lastLook = performance.now();
    const { database, worksheet, snapshot } = this.of;
    const fresh = this.done;
    this.done = 0;
    const [row] = await database.db
      .update(worksheets)
      .set({ done: sql`${worksheets.done} + ${fresh}` })
      .where(and(eq(worksheets.id, worksheet), eq(worksheets.state, 'computing'), eq(worksheets.snapshot, snapshot)))
      .returning({ cancelAsked: worksheets.cancelAsked });
    if (!row || row.cancelAsked) throw new Cancelled();
  }

  private async writeDown(writer: PoolClient): Promise<void> {
    const { worksheet, snapshot, lists } = this.of;
    const tx = drizzle(writer, { casing: 'snake_case' });
    for (const { list, counts } of this.taken) {
      const madeFrom = lists.behind.get(list)!.map((m) => m.id);
      await tx
        .update(worksheetLists)
        .set({ ...counts, madeFrom, computed: true })
        .where(and(eq(worksheetLists.worksheetId, worksheet), eq(worksheetLists.listId, Number(list.id))));
    }
    // who ends it for all waits until this is written, and takes it back with the rest
    const [wanted] = await tx
      .select({ id: worksheets.id })
      .from(worksheets)
      .where(and(eq(worksheets.id, worksheet), eq(worksheets.state, 'computing'), eq(worksheets.snapshot, snapshot)))
      .for('share');
    if (!wanted) throw new Cancelled();
  }
}
