import { sql } from 'drizzle-orm';
import { pino } from 'pino';
import { EVERYTHING, type Arranged, type Stretch, windowQuery } from '#contract/windows.ts';
import { itemPage } from '#server/items/item-page.ts';
import { itemWindow } from '#server/items/item-window.ts';
import { listWindow } from '#server/lists/list-window.ts';
import { wouldPost } from '#server/lists/would-post.ts';
import { postPrices } from '#server/ledger/post-prices.ts';
import { audit } from '#server/ledger/audit.ts';
import { inTransaction } from '#server/platform/database.ts';
import type { Context } from '#server/platform/context.ts';
import type { Database } from '#server/platform/database.ts';
import { stateThread } from '#server/beside/beside.ts';
import { standingTables } from '#server/windows/standing-tables.ts';
import { stateNameOn, stateOn } from '#server/workspace/asked-day.ts';
import { withLargeDatabase } from './large-database.ts';
import { say } from './measure.ts';
import { orderEverything } from './posted.ts';

const DAY = '2026-03-09';
const SIZES = [1_000, 10_000, 100_000].filter((n) => n <= Number(process.env['MOST_ITEMS'] ?? Infinity));
const TIMES = 20;

/** What screens ask for, with every price of twelve lists posted: at the server, answers written out as JSON. */
export async function benchApplication(): Promise<void> {
  for (const items of SIZES) await withLargeDatabase(items, (database, url) => run(items, database, url));
}

async function milliseconds(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  JSON.stringify(await work());
  return performance.now() - start;
}

/** The slowest but one in twenty. */
async function p95(work: (n: number) => Promise<unknown>): Promise<number> {
  const took: number[] = [];
  for (let n = 0; n < TIMES; n++) took.push(await milliseconds(() => work(n)));
  return took.sort((a, b) => a - b)[Math.ceil(TIMES * 0.95) - 1]!;
}

async function run(items: number, database: Database, url: string): Promise<void> {
  const log = pino({ level: 'silent' });
  const now = () => new Date(`${DAY}T09:00:00Z`);
  const beside = stateThread(url);
  const tables = standingTables(beside.table, { log, now });
  const context = { db: database.db, now, log, tables } as unknown as Context;
  const { lists, post } = await orderEverything(database, context, url, DAY);
  await post();
  const { rows: some } = await database.pool.query<{ id: number }>('select id from items order by id limit 1000');
  const list = lists[0]!;
  const asked = (a: Partial<Arranged>, stretch: Stretch) =>
    Object.fromEntries(
      Object.entries(windowQuery(DAY, { ...EVERYTHING, ...a }, stretch)).flatMap(([k, v]) =>
        v === null ? [] : [[k, v]],
      ),
    );
  const first = { from: 0, count: 300 };
  const end = { from: Math.max(0, items - 300), count: 300 };
  const ofList = (a: Partial<Arranged>, stretch = first) => listWindow(context, list, asked(a, stretch), true);
  const ofItems = (a: Partial<Arranged>, stretch = first) => itemWindow(context, asked(a, stretch), true);
  const above = (n: number) => [{ column: 'asks', filter: `>${n * 10}` }];
  say(`the application with ${items.toLocaleString('en-GB')} items, all prices of twelve lists posted`);
  const ms = (value: number) => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;
  const tell = async (what: string, took: Promise<number>) => say(`  ${what.padEnd(44)} ${ms(await took)}`);
  await tell(
    'a list for the first time, nothing read yet',
    milliseconds(() => ofList({})),
  );
  await tell(
    'items for the first time',
    milliseconds(() => ofItems({})),
  );
  say(`  p95 of ${TIMES}:`);
  await tell(
    'a list’s first screen',
    p95(() => ofList({})),
  );
  await tell(
    'sorted',
    p95((n) => ofList({ sort: ['change', 'sku', 'cost', 'marginAfter'][n % 4]!, down: n % 2 === 0 })),
  );
  await tell(
    'filtered',
    p95((n) => ofList({ filters: above(n) })),
  );
  await tell(
    'searched',
    p95((n) => ofList({ find: `item ${n}` })),
  );
  await tell(
    'its end',
    p95(() => ofList({}, end)),
  );
  await tell(
    'what posting it would come to',
    p95(() => wouldPost(context, list, { day: DAY }, { arranged: EVERYTHING, typed: [], what: 'changes' })),
  );
  await tell(
    'the items’ first screen',
    p95(() => ofItems({})),
  );
  await tell(
    'items sorted',
    p95((n) => ofItems({ sort: ['name', 'landed', 'supplier'][n % 3]!, down: n % 2 === 0 })),
  );
  await tell(
    'items searched',
    p95((n) => ofItems({ find: `item ${n}` })),
  );
  await tell(
    'their end',
    p95(() => ofItems({}, end)),
  );
  await tell(
    'one item’s page',
    p95(async (n) => itemPage(context.db, await stateOn(context, DAY), some[n]!.id, true)),
  );
  const { rows: shown } = await ofList({});
  const postOne = (n: number) =>
    postPrices(
      context,
      1,
      {
        effective: DAY,
        lastDay: null,
        reason: 'bench',
        lists: [
          {
            list: Number(list),
            lines: [
              {
                item: shown[n]!.item,
                pack: shown[n]!.pack,
                before: shown[n]!.posted,
                after: `${Number(shown[n]!.posted) + 1}`,
                release: false,
                fall: false,
                handSet: { reason: 'bench', lastDay: null },
              },
            ],
          },
        ],
      },
      DAY,
    );
  await tell('one price posted', p95(postOne));
  await tell(
    'the list right after it',
    milliseconds(() => ofList({})),
  );
  const until = async (what: string, right: () => Promise<boolean>) => {
    const start = performance.now();
    while (!(await right())) await new Promise((done) => setTimeout(done, 50));
    say(`  ${what.padEnd(44)} ${ms(performance.now() - start)}`);
  };
  const listRight = async () => !(await ofList({})).stale;
  const allRight = async () => !tables.counts(lists, DAY, await stateNameOn(context, DAY)).stale;
  await until('until its order is of now again', listRight);
  await until('and all lists are', allRight);
  await postOne(TIMES);
  await until('all lists, after one more price', allRight);
  await inTransaction(database.db, async (tx) => {
    await tx.execute(sql`
      update uplift_rows u set value = value + 0.5 from price_lists l
      where l.id = ${list} and u.recipe_id = l.recipe_id
        and u.position = (select min(o.position) from uplift_rows o where o.recipe_id = u.recipe_id)`);
    await audit(tx, { at: now(), personId: 1, action: 'changed', subject: 'recipes', subjectId: '1' });
  });
  await until('a list, after an uplift row of its recipe', listRight);
  await until('and all lists are', allRight);
  await tables.stop();
  await beside.stop();
}
