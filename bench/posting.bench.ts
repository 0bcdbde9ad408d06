import { pino } from 'pino';
import type { PoolClient } from 'pg';
import { reversePosting } from '#server/ledger/reverse-posting.ts';
import { copyIn, copyOut } from '#server/platform/copy.ts';
import type { Context } from '#server/platform/context.ts';
import type { Database } from '#server/platform/database.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';
import { orderEverything } from './posted.ts';
import type { SignedIn } from '#server/platform/http/signed-in.ts';

const DAY = '2026-03-09';
const SIZES = [1_000, 10_000, 100_000].filter((n) => n >= Number(process.env['LEAST_ITEMS'] ?? 0));

/** A worksheet posted and reversed, against a bare COPY of its lines into the same table. */
export async function benchPosting(): Promise<void> {
  for (const items of SIZES) await withLargeDatabase(items, run);
}

async function seconds(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}

async function run(database: Database, url: string): Promise<void> {
  const { pool, db } = database;
  const context = { db, now: () => new Date(`${DAY}T09:00:00Z`), log: pino({ level: 'silent' }) } as unknown as Context;
  const { whole, prices, lists, person: by, post } = await orderEverything(database, context, url, DAY);
  const person = { id: by } as SignedIn;
  const posted = await seconds(post);
  const { rows: made } = await pool.query<{ id: number; lines: number }>(
    'select h.id, (select count(*)::int from posting_lines l where l.posting_id = h.id) as lines from postings h order by h.id',
  );
  const client = await pool.connect();
  const bare = await bareCopy(client);
  client.release();
  let reversed = 0;
  for (const p of made)
    reversed += await seconds(() =>
      reversePosting(context, person, p.id, { reason: 'bench', lines: null, leaveChanged: false }, DAY),
    );
  const lines = made.reduce((sum, p) => sum + p.lines, 0);
  const n = (value: number) => value.toLocaleString('en-GB');
  say(
    `posting ${n(lines)} of ${n(prices)} proposed prices on ${lists.length} lists (proposed in ${whole.toFixed(1)} s)`,
  );
  say(
    `  bare COPY of the same lines into the same table ${bare.toFixed(1)} s; posted in ${posted.toFixed(1)} s: ${(posted / bare).toFixed(2)} times; reversed in ${reversed.toFixed(1)} s: ${(reversed / bare).toFixed(2)} times`,
  );
}

/** Seconds to copy the lines that are there into their own table once more, in a transaction that is taken back. */
async function bareCopy(client: PoolClient): Promise<number> {
  const columns = 'posting_id, list_id, item_id, pack_id, effective, before, after, margin';
  const chunks: Buffer[] = [];
  const { rows } = await client.query<{ id: number }>(
    `insert into postings (list_id, kind, reason, effective, posted_by, posted_at)
     select list_id, 'post', 'bare', effective, posted_by, posted_at from postings order by id returning id`,
  );
  const shift = rows.length;
  const query = `select posting_id + ${shift}, list_id, item_id, pack_id, effective, before, after, margin from posting_lines order by posting_id, item_id, pack_id`;
  for await (const lines of copyOut(client, query)) chunks.push(Buffer.from(`${lines.join('\n')}\n`));
  await client.query('begin');
  const took = await seconds(() => copyIn(client, `posting_lines (${columns})`, chunks));
  await client.query('rollback');
  return took;
}
