import { computePrice } from '#core/lists/list-price.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { dec, money, roundHalfUp } from '#core/numbers/decimal.ts';
import { orderOfShown } from '../lists/shown-order.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import type { PostingSummary, Reversal } from '#contract/lists.ts';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import {
  TODAY,
  type Person,
  type Workshop,
  linesOf,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const newCost = (item: string, amount: string, validFrom = TODAY) =>
  admin.post('/costs', { item, supplier: shop.shop.supplier, amount, currency: 'GBP', packUnits: '220', validFrom });
const code = (answer: { body: unknown }) => (answer.body as { code?: string }).code;

describe('posting', () => {
  it('posts what the recipe computes, with who, when, before, after and the build-up', async () => {
    const { counter, items, packs } = shop.shop;
    const posting = await postAll(admin, counter, TODAY, 'first prices');
    const { body } = (await admin.get(`/postings/${posting}`)) as {
      body: {
        by: string;
        reason: string;
        lines: number;
      };
    };
    expect([body.by, body.reason, body.lines]).toEqual(['Ada', 'first prices', 3]);
    expect((await linesOf(admin, posting))[0]).toMatchObject({ sku: 'BL-10', before: null, after: '2.40' });
    const why = (await admin.get(`/lists/${counter}/build-up/${items[0]}/${packs[0]}`)).body as {
      postedSteps: { kind: string; after: string }[];
    };
    expect(why.postedSteps.map((s) => s.kind)).toEqual([
      'cost',
      'unit_cost',
      'exchange',
      'freight',
      'duty',
      'handling',
      'overhead',
      'uplift',
      'tax',
      'ladder',
    ]);
    expect(why.postedSteps.at(-1)!.after).toBe('2.4');
  });

  it('is refused when a price has changed since it was looked at, and names it with both figures', async () => {
    const { counter, items, packs } = shop.shop;
    await newCost(items[1]!, '300.00');
    const stale = await admin.post(`/lists/${counter}/postings`, {
      effective: TODAY,
      reason: 'late',
      lines: [{ item: items[1], pack: packs[1], before: '2.90', after: '2.90' }],
    });
    expect([stale.status, code(stale)]).toEqual([409, 'prices_changed_meanwhile']);
    expect((stale.body as { current: { sku: string; now: { after: string } }[] }).current[0]).toMatchObject({
      sku: 'BL-12',
      seen: { after: '2.90' },
      now: { after: '3.35' },
    });
    expect((await postedOn(admin, counter, TODAY))[`${items[1]}/${packs[1]}`]).toBe('2.90');
  });

  it('cannot begin before today: days gone by stay as they were', async () => {
    const answer = await admin.post(`/lists/${shop.shop.counter}/postings`, {
      effective: '2026-03-08',
      reason: 'x',
      lines: [],
    });
    expect([answer.status, code(answer)]).toEqual([422, 'day_in_the_past']);
  });

  it('a typed price needs its reason, and then survives the recipe', async () => {
    const { counter, items, packs } = shop.shop;
    const line = { item: items[2], pack: packs[2], before: '3.45', after: '3.10' };
    expect(
      (
        await admin.post(`/lists/${counter}/postings`, {
          effective: TODAY,
          reason: 'fair',
          lines: [{ ...line, handSet: { reason: '', lastDay: null } }],
        })
      ).status,
    ).toBe(422);
    expect(
      (
        await admin.post(`/lists/${counter}/postings`, {
          effective: TODAY,
          reason: 'fair',
          lines: [{ ...line, handSet: { reason: 'boat fair', lastDay: '2026-03-20' } }],
        })
      ).status,
    ).toBe(200);
    const priceOn = async (day: string) =>
      (
        (await admin.get(`/lists/${counter}/prices?day=${day}`)).body as { rows: { item: string; proposed: string }[] }
      ).rows.find((r) => r.item === items[2])!.proposed;
    expect([await priceOn('2026-03-20'), await priceOn('2026-03-21')]).toEqual(['3.10', '3.45']);
  });
});

describe('reversing', () => {
  it('restores every price, and an earlier day can still be shown', async () => {
    const { counter, items } = shop.shop;
    const shown = await postedOn(admin, counter, TODAY);
    // the price set for the fair has ended by then
    const before = await postedOn(admin, counter, '2026-03-25');
    shop.setDay('2026-04-01');
    for (const [i, item] of items.entries()) await newCost(item, `${330 + i * 20}.00`, '2026-04-01');
    const posting = await postAll(admin, counter, '2026-04-01', 'dearer');
    const dearer = await postedOn(admin, counter, '2026-04-01');
    expect(dearer).not.toEqual(before);
    shop.setDay('2026-04-03');
    const reversed = await admin.post(`/postings/${posting}/reverse`, { reason: 'wrong sheet' });
    expect(reversed.status).toBe(200);
    expect(await postedOn(admin, counter, '2026-04-03')).toEqual(before);
    expect(await postedOn(admin, counter, '2026-04-02')).toEqual(dearer);
    expect(await postedOn(admin, counter, TODAY)).toEqual(shown);
    expect(code(await admin.post(`/postings/${posting}/reverse`, { reason: 'again' }))).toBe('already_reversed');
  });

  it('is refused while a later posting is the last word on one of its prices', async () => {
    const { counter } = shop.shop;
    const first = await postAll(admin, counter, '2026-04-03', 'one');
    shop.setDay('2026-04-10');
    await newCost(shop.shop.items[0]!, '500.00', '2026-04-10');
    const second = await postAll(admin, counter, '2026-04-10', 'two');
    const refused = await admin.post(`/postings/${first}/reverse`, { reason: 'x' });
    expect(code(refused)).toBe('cannot_reverse');
    expect((refused.body as { message: string }).message).toContain(
      `one of its prices, changed since by posting ${second}`,
    );
    const way = (await admin.post(`/postings/${first}/reversal`, {})).body as Reversal;
    expect([way.changed, way.inTheWay.map((w) => [w.sku, w.posting]), way.postings.map((p) => p.posting)]).toEqual([
      1,
      [['BL-10', second]],
      [second],
    ]);
    // the others go back, the one in the way stays
    const dearer = await postedOn(admin, counter, '2026-04-10');
    expect((await admin.post(`/postings/${first}/reverse`, { reason: 'x', leaveChanged: true })).body).toMatchObject({
      lines: way.free,
    });
    const now = await postedOn(admin, counter, '2026-04-10');
    expect(Object.keys(now).filter((key) => now[key] !== dearer[key])).toHaveLength(way.free);
    expect(((await admin.get(`/postings/${first}`)).body as PostingSummary).reversedLines).toBe(way.free);
    // and once what came after it is undone, the rest can follow
    expect((await admin.post(`/postings/${second}/reverse`, { reason: 'x' })).status).toBe(200);
    expect((await admin.post(`/postings/${first}/reverse`, { reason: 'x' })).body).toMatchObject({ lines: 1 });
    expect(code(await admin.post(`/postings/${first}/reverse`, { reason: 'x' }))).toBe('already_reversed');
  });
});

describe('the ledger is only added to', () => {
  it.each([
    ['postings', 'reason'],
    ['posting_lines', 'before'],
    ['audit_entries', 'action'],
    ['quote_decisions', 'note'],
  ])('the database itself refuses to change, delete or empty %s', async (table, column) => {
    const owner = new pg.Client({ connectionString: shop.owner });
    await owner.connect();
    try {
      for (const statement of [
        `update ${table} set ${column} = null`,
        `delete from ${table}`,
        `truncate ${table} cascade`,
      ]) {
        await expect(shop.database.pool.query(statement), 'by the application').rejects.toMatchObject({
          code: '42501',
        });
        await expect(owner.query(statement), 'by its owner').rejects.toMatchObject({ code: '23001' });
      }
    } finally {
      await owner.end();
    }
  });
  it('the application can neither switch that off nor change a table', async () => {
    const { pool } = shop.database;
    const refusedTo = (statement: string) =>
      expect(pool.query(statement), statement).rejects.toMatchObject({ code: '42501' });
    await refusedTo('alter table postings disable trigger all');
    await refusedTo('drop trigger postings_only_added_to on postings');
    await refusedTo(
      'create or replace function refuse_ledger_change() returns trigger language sql as $$ select null $$',
    );
    await refusedTo('alter table items add column x int');
    await refusedTo("set session_replication_role = 'replica'");
    const { rows } = await pool.query<{ rolsuper: boolean }>(
      'select rolsuper from pg_roles where rolname = current_user',
    );
    expect(rows).toEqual([{ rolsuper: false }]);
  });
});

describe('a server that ends in the middle of a posting', () => {
  let child: ChildProcess | undefined;
  let other: Workshop;
  let holder: pg.Client;
  beforeEach(async () => {
    other = await openWorkshop();
    holder = new pg.Client({ connectionString: other.url });
    await holder.connect();
  });
  afterEach(async () => {
    child?.kill('SIGKILL');
    await holder.end();
    await other.close();
  });

  /** A server of its own over the workshop's database; its posting gets as far as its lines and then waits for a lock that this test holds. */
  async function postingThatWaits(): Promise<{ answer: Promise<Response | null> }> {
    const main = fileURLToPath(new URL('../main.ts', import.meta.url));
    child = spawn(process.execPath, ['--import', 'tsx', main, '--port', '0'], {
      env: { ...process.env, DATABASE_URL: other.url, MIGRATIONS_URL: other.owner },
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const address = await new Promise<string>((done) =>
      child!.stdout!.on('data', (text: Buffer) => {
        const found = /http:\/\/127\.0\.0\.1:\d+/.exec(String(text));
        if (found) done(found[0]);
      }),
    );
    const cookieOf = (r: Response) => r.headers.get('set-cookie')?.split(';')[0] ?? '';
    const first = await fetch(`${address}/api/session`);
    const { token } = (await first.json()) as { token: string };
    const signed = await fetch(`${address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: cookieOf(first), 'x-session-token': token },
      body: JSON.stringify({ signIn: 'administrator', password: 'a long enough password' }),
    });
    const headers = {
      'content-type': 'application/json',
      cookie: cookieOf(signed),
      'x-session-token': ((await signed.json()) as { token: string }).token,
    };
    const list = other.shop.counter;
    // the day is the workspace's, in its own time zone
    const { rows, day: effective } = (await (
      await fetch(`${address}/api/lists/${list}/prices`, { headers })
    ).json()) as {
      day: string;
      rows: { item: string; pack: string; proposed: string }[];
    };
    await holder.query('begin');
    await holder.query('select pg_advisory_xact_lock(7302)');
    const posting = fetch(`${address}/api/lists/${list}/postings`, {
      method: 'POST',
      headers,
      body: JSON.stringify({
        effective,
        reason: 'ends',
        lines: rows.map((r) => ({ item: r.item, pack: r.pack, before: null, after: r.proposed })),
      }),
    }).catch(() => null);
    const waiting = () =>
      count(
        // of this database, and of this lock: other tests run beside this one
        "select count(*) n from pg_locks where locktype = 'advisory' and not granted and objid = 7302 and database = (select oid from pg_database where datname = current_database())",
      );
    await vi.waitFor(async () => expect(await waiting()).toBe(1), { timeout: 20_000 });
    return { answer: posting };
  }
  const count = async (query: string) => Number((await holder.query<{ n: string }>(query)).rows[0]!.n);

  it('killed, leaves nothing half posted', async () => {
    const posting = await postingThatWaits();
    child!.kill('SIGKILL');
    await posting.answer;
    await holder.query('rollback');
    const busy =
      "select count(*) n from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and state <> 'idle'";
    await vi.waitFor(async () => expect(await count(busy)).toBe(0), { timeout: 20_000 });
    expect([
      await count('select count(*) n from postings'),
      await count('select count(*) n from posting_lines'),
    ]).toEqual([0, 0]);
    const person = await signIn(other.app, 'administrator');
    expect(await postAll(person, other.shop.counter)).toBeTruthy();
  });

  it('asked to stop, answers the posting first, and then ends', async () => {
    const posting = await postingThatWaits();
    const ended = new Promise<number | null>((done) => child!.on('exit', (code) => done(code)));
    child!.kill('SIGTERM');
    await holder.query('rollback');
    const answer = await posting.answer;
    expect(answer?.status).toBe(200);
    expect(await ended).toBe(0);
    expect(await count('select count(*) n from postings')).toBe(1);
  });
});

describe('a long posting', () => {
  it('is posted in a thread as it is on the spot, and what is refused there is refused', async () => {
    const { counter, items, packs } = shop.shop;
    const line = (n: number, after: string, before: string | null) => ({
      ...{ item: items[n]!, pack: packs[n]!, before, after, release: false, fall: false },
      handSet: { reason: 'fair', lastDay: null },
    });
    const now = await postedOn(admin, counter, TODAY);
    const head = { effective: TODAY, lastDay: null, reason: 'fair' };
    const lines = [0, 1, 2].map((n) => line(n, `${n + 7}.90`, now[`${items[n]}/${packs[n]}`] ?? null));
    const person = Number((await admin.get('/session')).body.person.id);
    const asked = { person, today: TODAY, of: 'order' as const };
    const order = { ...head, lists: [{ list: Number(counter), lines }] };
    const { postings } = await shop.context.beside.post({ ...asked, order });
    const written = await linesOf(admin, postings[0]!);
    expect(written.map((l) => [l.item, l.before, l.after, l.handSet])).toEqual(
      lines.map((l) => [l.item, l.before, l.after, 'fair']),
    );
    // what it achieves is kept as it is shown
    const { ws } = await stateOn(shop.context, TODAY);
    for (const l of written) {
      const achieved = achievedAt(ws, { item: l.item, pack: l.pack, list: counter, day: TODAY }, dec(l.after!));
      expect(l.margin).toBe(achieved.ok ? roundHalfUp(achieved.value.margin!, 2).toFixed(2) : null);
    }
    const moved = { ...order, lists: [{ list: Number(counter), lines: [line(0, '5.5', null)] }] };
    await expect(shop.context.beside.post({ ...asked, order: moved })).rejects.toMatchObject({
      problem: { code: 'prices_changed_meanwhile' },
    });
  });

  it('has what is shown computed there exactly, and only in the state that was seen', async () => {
    const { counter, items, packs } = shop.shop;
    const loaded = await stateOn(shop.context, TODAY);
    const of = [2, 0, 1];
    const shown = {
      ...{ effective: TODAY, lastDay: null, reason: 'fair', typedReason: 'round', list: Number(counter), day: TODAY },
      ...{ revision: loaded.revision, what: 'changes' as const, typed: new Map([[1, '9.10']]) },
      items: Uint32Array.from(of, (n) => Number(items[n])),
      packs: Uint32Array.from(of, (n) => Number(packs[n])),
    };
    const { lists } = await orderOfShown(loaded, shown);
    const made = of.map((n) => {
      const found = computePrice(loaded.ws, { item: items[n]!, pack: packs[n]!, list: counter, day: TODAY });
      return found.ok ? money(found.value.price, 2) : null;
    });
    expect(lists[0]!.lines.map((l) => [l.item, l.after, l.handSet?.reason ?? null])).toEqual([
      [items[2], made[0], null],
      [items[0], '9.10', 'round'],
      [items[1], made[2], null],
    ]);
    const recipePrices = of.map((n) => {
      const found = computePrice(loaded.ws, { item: items[n]!, pack: packs[n]!, list: counter, day: TODAY });
      return found.ok ? money(found.value.recipePrice, 2) : null;
    });
    const released = await orderOfShown(loaded, { ...shown, what: 'releases' });
    expect(released.lists[0]!.lines.map((l) => [l.after, l.release])).toEqual(recipePrices.map((p) => [p, true]));
    await expect(orderOfShown(loaded, { ...shown, revision: '1.1.1' })).rejects.toMatchObject({
      problem: { code: 'list_moved_on' },
    });
  });
});
