import { execFile } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import type { PoolClient } from 'pg';
import { copyIn, copyOut } from '#server/platform/copy.ts';
import type { Database } from '#server/platform/database.ts';
import type { Proposed } from '#server/worksheets/propose-prices.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';

const once = fileURLToPath(new URL('./propose-once.ts', import.meta.url));
const ITEMS = 100_000;

/** From costs in the database to proposed prices in the database, against a bare COPY of the same rows. */
export const benchPipeline = (): Promise<void> => withLargeDatabase(ITEMS, run);

async function run(database: Database, url: string): Promise<void> {
  const first = await propose(database, url);
  say(`the pipeline: ${first.prices.toLocaleString('en-GB')} prices of ${ITEMS.toLocaleString('en-GB')} items`);
  await postAll(database, first.id);
  // what a morning brings: another rate, so that a third of the prices moves
  await database.pool.query("update exchange_rates set rate = rate * 1.03 where to_currency in ('NOK', 'SEK')");
  const client = await database.pool.connect();
  try {
    for (let round = 0; round < 2; round++) {
      const one = await propose(database, url, 1);
      const both = await propose(database, url);
      const shared = await proposeTogether(database, url);
      const bare = await bareCopy(client, both.id);
      say(
        `  read ${both.read.toFixed(1)} s, in all ${both.whole.toFixed(1)} s, ${both.explained} decided the explained way, at most ${both.megabytes.toFixed(0)} MB`,
      );
      say(
        `    bare COPY of the same rows: ${bare.same.toFixed(1)} s into the same table, ${bare.plain.toFixed(1)} s into one without its key: ${(both.whole / bare.same).toFixed(2)} and ${(both.whole / bare.plain).toFixed(2)} times`,
      );
      say(
        `    with one worker thread ${one.whole.toFixed(1)} s: two are ${(one.whole / both.whole).toFixed(2)} times as fast`,
      );
      say(
        `    two processes with one worker thread each, as two servers would: ${shared.toFixed(1)} s, ${(one.whole / shared).toFixed(2)} times as fast as one`,
      );
    }
  } finally {
    client.release();
  }
}

async function laid(database: Database): Promise<number> {
  const { rows } = await database.pool.query<{ id: number }>(
    "insert into worksheets (reason, day, made_by, made_at) select 'bench', '2026-03-09', min(id), now() from people returning id",
  );
  const id = rows[0]!.id;
  await database.pool.query('insert into worksheet_lists (worksheet_id, list_id) select $1, id from price_lists', [id]);
  return id;
}

/** Seconds in which two processes price one worksheet; the second joins as soon as it can. */
async function proposeTogether(database: Database, url: string): Promise<number> {
  const id = await laid(database);
  const joins = () => promisify(execFile)(process.execPath, ['--import', 'tsx', once, url, String(id), '1']);
  const first = joins();
  for (let begun = false; !begun;) {
    const { rows } = await database.pool.query<{ begun: boolean }>(
      'select snapshot is not null as begun from worksheets where id = $1',
      [id],
    );
    begun = rows[0]!.begun;
  }
  const [{ stdout }] = await Promise.all([first, joins()]);
  return (JSON.parse(stdout) as Proposed).whole;
}

async function propose(database: Database, url: string, threads?: number) {
  const id = await laid(database);
  const args = ['--import', 'tsx', once, url, String(id), ...(threads === undefined ? [] : [String(threads)])];
  const { stdout } = await promisify(execFile)(process.execPath, args);
  return { id, ...(JSON.parse(stdout) as Proposed & { megabytes: number }) };
}

/** Makes a worksheet's prices the posted ones. */
async function postAll(database: Database, worksheet: number): Promise<void> {
  await database.pool.query(
    `with heads as (
       insert into postings (list_id, kind, reason, effective, posted_by, posted_at)
       select l.list_id, 'post', 'bench', '2026-03-01', (select min(id) from people), now() from worksheet_lists l where l.worksheet_id = $1
       returning id, list_id)
     insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, after)
     select h.id, p.list_id, p.item_id, p.pack_id, '2026-03-01', p.after
     from worksheet_prices p join heads h on h.list_id = p.list_id where p.worksheet_id = $1 and p.after is not null
     order by p.list_id, p.item_id, p.pack_id`,
    [worksheet],
  );
  await database.pool.query('vacuum analyze');
}

/** Seconds to copy the rows of a worksheet into an empty table like its own, and into one without a key. */
async function bareCopy(client: PoolClient, worksheet: number): Promise<{ same: number; plain: number }> {
  const chunks: Buffer[] = [];
  const query = `select * from worksheet_prices where worksheet_id = ${worksheet} order by 1, 2, 3, 4`;
  for await (const lines of copyOut(client, query)) chunks.push(Buffer.from(`${lines.join('\n')}\n`));
  const into = async (like: string) => {
    await client.query(`create table bare (like worksheet_prices ${like})`);
    const start = performance.now();
    await client.query('begin');
    await copyIn(client, 'bare', chunks);
    await client.query('commit');
    const seconds = (performance.now() - start) / 1000;
    await client.query('drop table bare');
    return seconds;
  };
  const same = await into('including all');
  return { same, plain: await into('') };
}
