import { pino } from 'pino';
import { rightsOf } from '#contract/people.ts';
import { costWork } from '#server/costs/cost-thread.ts';
import { costThreads } from '#server/costs/cost-threads.ts';
import { viewSheet } from '#server/costs/look-at-sheet.ts';
import { receiveSheet } from '#server/costs/receive-sheet.ts';
import { takeIn } from '#server/costs/take-in.ts';
import type { Context } from '#server/platform/context.ts';
import type { Database } from '#server/platform/database.ts';
import { copyOut } from '#server/platform/copy.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';
import type { SignedIn } from '#server/platform/http/signed-in.ts';

const DAY = '2026-03-09';
const SIZES = [1_000, 10_000, 100_000].filter((n) => n >= Number(process.env['LEAST_ITEMS'] ?? 0));

/** A cost sheet of as many rows as there are items: received, looked at, what it would move, taken in. */
export async function benchIntake(): Promise<void> {
  for (const items of SIZES) await withLargeDatabase(items, run);
}

async function timed<T>(work: () => Promise<T>): Promise<[T, number]> {
  const start = performance.now();
  const done = await work();
  return [done, (performance.now() - start) / 1000];
}

/** Every item with a cost three per cent up, as its supplier would list it. */
async function sheetOf({ pool }: Database): Promise<{ supplier: number; content: Buffer; rows: number }> {
  const client = await pool.connect();
  const lines = ['Code,Cost,Pack size,Currency,Valid from'];
  const { rows } = await client.query<{ id: number }>('select id from suppliers order by id limit 1');
  const supplier = rows[0]!.id;
  const query = `select distinct on (i.id) i.sku, round(c.amount * 1.03, 2), c.pack_units, c.currency
    from items i join costs c on c.item_id = i.id order by i.id, c.valid_from desc, c.id desc`;
  for await (const part of copyOut(client, query))
    for (const line of part) lines.push(`${line.replaceAll('\t', ',')},${DAY}`);
  client.release();
  return { supplier, content: Buffer.from(`${lines.join('\n')}\n`), rows: lines.length - 1 };
}

async function run(database: Database, url: string): Promise<void> {
  const { pool, db } = database;
  const context = {
    db,
    now: () => new Date(`${DAY}T09:00:00Z`),
    log: pino({ level: 'silent' }),
    costs: costThreads(url, costWork),
  } as unknown as Context;
  const { rows: people } = await pool.query<{ id: number }>('select min(id) as id from people');
  const rights = rightsOf({ role: 'administrator', seesCost: true });
  const person = { id: people[0]!.id, rights } as SignedIn;
  const { supplier, content, rows } = await sheetOf(database);
  const [arrived, received] = await timed(() =>
    receiveSheet(context, person, { supplierId: supplier, fileName: 'bench.csv', content, origin: 'file' }, DAY),
  );
  const id = arrived!.id;
  const [view, looked] = await timed(() => viewSheet(context, Number(id)));
  const [{ effect }, moved] = await timed(() => context.costs.effect(Number(id), DAY, 'bench'));
  const [taken, took] = await timed(() =>
    takeIn(context, person, Number(id), { version: view.version, rows: null, rest: 'left_out' }, DAY),
  );
  const n = (value: number) => value.toLocaleString('en-GB');
  const s = (value: number) => `${value.toFixed(1)} s`;
  say(`intake of ${n(rows)} rows (${(content.length / 1e6).toFixed(1)} MB), ${n(taken.costs)} costs`);
  say(
    `  received ${s(received)}, looked at ${s(looked)}, ${n(effect.prices)} prices it would move ${s(moved)}, taken in ${s(took)}; ${(((received + took) / rows) * 1e6).toFixed(0)} µs a row received and taken in`,
  );
}
