import { getPriority } from 'node:os';
import { eq } from 'drizzle-orm';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { ListPrices } from '#contract/lists.ts';
import type { Worksheet, WorksheetPrices } from '#contract/worksheets.ts';
import { startJobs } from '../platform/jobs.ts';
import { TODAY, type Person, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import proposePrices from './propose-prices.ts';
import { PROPOSALS, proposalProcess } from './proposals.ts';
import { leftWorksheets } from './store.ts';
import { COMPUTING_LOCK, worksheetPrices } from './tables.ts';
import { laidWorksheet } from './tests/laid.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const propose = async (more: object = {}) => {
  const answer = await admin.post('/worksheets', { reason: 'new costs', day: TODAY, ...more });
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as Worksheet;
};
const pricesOf = async (worksheet: string, list: string, shows = 'all') =>
  (await admin.get(`/worksheets/${worksheet}/lists/${list}/prices?show=${shows}&count=2000`)).body as WorksheetPrices;
const written = async (worksheet: string) =>
  (
    await shop.context.db
      .select()
      .from(worksheetPrices)
      .where(eq(worksheetPrices.worksheetId, Number(worksheet)))
  ).length;
const code = (answer: { body: unknown }) => (answer.body as { code?: string }).code;

/** A worksheet that nobody has begun to compute. */
const laid = (state: 'waiting' | 'computing' = 'waiting', cancelAsked = false) =>
  laidWorksheet(shop, { state, cancelAsked });
const stateOf = async (id: number) => ((await admin.get(`/worksheets/${id}`)).body as Worksheet).state;

describe('a worksheet', () => {
  it('proposes for every list the price that the list itself shows, and says how each was reached', async () => {
    const { counter, yards } = shop.shop;
    const made = await propose();
    expect([made.state, made.done, made.total, made.madeBy]).toEqual(['draft', 6, 6, 'Ada']);
    for (const list of [counter, yards]) {
      const shown = (await admin.get(`/lists/${list}/prices`)).body as ListPrices;
      const proposed = await pricesOf(made.id, list);
      expect(proposed.rows.map((r) => [r.sku, r.after, r.reason])).toEqual(
        shown.rows.map((r) => [r.sku, r.proposed, r.reason]),
      );
      expect(proposed.rows.map((r) => r.margin)).toEqual(shown.rows.map((r) => r.marginAfter));
    }
  });

  it('counts what rises, falls and stays against the posted prices, list by list', async () => {
    const { counter, supplier, items } = shop.shop;
    await postAll(admin, counter, TODAY, 'first prices');
    const cost = (item: string, amount: string) =>
      admin.post('/costs', { item, supplier, amount, currency: 'GBP', packUnits: '220', validFrom: TODAY });
    await cost(items[0]!, '250.00');
    await cost(items[1]!, '240.00');
    const made = await propose({ lists: [counter] });
    expect(made.lists).toMatchObject([{ name: 'Counter', rises: 1, falls: 1, unchanged: 1, first: 0, without: 0 }]);
    const changed = await pricesOf(made.id, counter, 'changed');
    expect(changed.rows.map((r) => [r.sku, r.before, r.after, r.changePercent])).toEqual([
      ['BL-10', '2.40', '2.80', '16.67'],
      ['BL-12', '2.90', '2.70', '-6.9'],
    ]);
    expect((await pricesOf(made.id, counter, 'falls')).rows.map((r) => r.sku)).toEqual(['BL-12']);
    expect((await pricesOf(made.id, counter)).fits).toBe(3);
  });

  it('is looked at in any order, by words and figures, a stretch at a time; what is not there is refused', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    const asked = async (query: string) =>
      (await admin.get(`/worksheets/${made.id}/lists/${counter}/prices?${query}`)).body as WorksheetPrices;
    const skus = async (query: string) => (await asked(query)).rows.map((r) => r.sku);
    const all = await asked('');
    expect([all.fits, all.total, all.stale, all.rows.length]).toEqual([3, 3, false, 3]);
    const byMargin = [...all.rows].sort((a, b) => Number(b.margin) - Number(a.margin)).map((r) => r.sku);
    expect(await skus('sort=margin&down=1')).toEqual(byMargin);
    expect(await skus('sort=margin&down=1&from=1&count=1')).toEqual([byMargin[1]]);
    expect(await skus('find=bl-12')).toEqual(['BL-12']);
    const [first] = all.rows;
    const above = JSON.stringify([{ column: 'after', filter: `>${first!.after}` }]);
    expect(await skus(`filters=${encodeURIComponent(above)}`)).toEqual(
      all.rows.filter((r) => Number(r.after) > Number(first!.after)).map((r) => r.sku),
    );
    const { place } = await asked(`sort=margin&down=1&key=${first!.item}-${first!.pack}`);
    expect(place).toBe(byMargin.indexOf(first!.sku));
    for (const wrong of ['show=best', 'sort=luck'])
      expect((await admin.get(`/worksheets/${made.id}/lists/${counter}/prices?${wrong}`)).status).toBe(422);
  });

  it('shows its prices once they are computed, though somebody asked before', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    const { pool } = shop.database;
    const aside = await pool.query('delete from worksheet_prices where worksheet_id = $1 returning *', [made.id]);
    await pool.query(`update worksheets set state = 'computing', ended_at = null where id = $1`, [made.id]);
    expect((await pricesOf(made.id, counter)).total).toBe(0);
    await pool.query(
      'insert into worksheet_prices select * from json_populate_recordset(null::worksheet_prices, $1::json)',
      [JSON.stringify(aside.rows)],
    );
    await pool.query(`update worksheets set state = 'draft', ended_at = now() where id = $1`, [made.id]);
    expect((await pricesOf(made.id, counter)).total).toBe(3);
  });

  it('keeps a typed price, and shows an item without a cost with the reason', async () => {
    const { counter, category, supplier, items, packs } = shop.shop;
    const line = { item: items[2], pack: packs[2], before: '3.45', after: '3.99' };
    const hand = { ...line, handSet: { reason: 'boat fair', lastDay: '2026-03-20' } };
    const posted = await admin.post(`/lists/${counter}/postings`, { effective: TODAY, reason: 'fair', lines: [hand] });
    expect(posted.status, JSON.stringify(posted.body)).toBe(200);
    await shop.database.pool.query(
      `with i as (insert into items (sku, name, unit, category_id, supplier_id, tax_class) values ('NEW-1', 'No cost yet', 'each', $1, $2, 'standard') returning id)
       insert into packs (item_id, name, units) select id, 'each', '1' from i`,
      [category, supplier],
    );
    const made = await propose({ lists: [counter] });
    expect(made.lists[0]).toMatchObject({ without: 1, unchanged: 1 });
    const fair = (await pricesOf(made.id, counter)).rows.find((r) => r.sku === 'BL-14');
    expect(fair).toMatchObject({ before: '3.99', after: '3.99' });
    const after = await propose({ lists: [counter], day: '2026-03-21' });
    // the day after its last day the price that was due is in force
    const ended = (await pricesOf(after.id, counter)).rows.find((r) => r.sku === 'BL-14');
    expect(ended).toMatchObject({ before: '3.45', after: '3.45' });
    const [without] = (await pricesOf(made.id, counter, 'without')).rows;
    expect(without).toMatchObject({ sku: 'NEW-1', after: null });
    expect(without!.reason).toContain('NEW-1');
  });

  it('is refused for a day gone by, for a list without a recipe, and for a reason left out', async () => {
    const ask = async (body: object) => code(await admin.post('/worksheets', { reason: 'x', day: TODAY, ...body }));
    expect(await ask({ day: '2026-03-08' })).toBe('propose_in_the_past');
    expect(await ask({ lists: ['999'] })).toBe('not_found');
    expect(await ask({ reason: ' ' })).toBe('fields_wrong');
  });

  it('is discarded with all its prices, and the audit keeps what it was', async () => {
    const made = await propose();
    expect(await written(made.id)).toBeGreaterThan(0);
    expect((await admin.delete(`/worksheets/${made.id}`)).status).toBe(200);
    expect([await written(made.id), (await admin.get(`/worksheets/${made.id}`)).status]).toEqual([0, 404]);
  });
});

describe('a computation that does not come to its end', () => {
  it('leaves no price behind when somebody cancels it, and cannot be begun again', async () => {
    const id = await laid('waiting', true);
    expect((await proposePrices({ url: shop.url, worksheet: id, threads: 1 })).state).toBe('cancelled');
    expect([await written(String(id)), await stateOf(id)]).toEqual([0, 'cancelled']);
    expect((await proposePrices({ url: shop.url, worksheet: id, threads: 1 })).prices).toBe(0);
    expect(await stateOf(id)).toBe('cancelled');
  });

  it('leaves no price behind when the database refuses a row half way, and says why', async () => {
    const id = await laid();
    const last = shop.shop.packs.at(-1)!;
    await shop.asOwner(`alter table worksheet_prices add constraint no_more check (pack_id <> ${last}) not valid`);
    try {
      await expect(proposePrices({ url: shop.url, worksheet: id, threads: 1 })).rejects.toThrow('no_more');
    } finally {
      await shop.asOwner('alter table worksheet_prices drop constraint no_more');
    }
    const found = (await admin.get(`/worksheets/${id}`)).body as Worksheet;
    expect([found.state, await written(String(id))]).toEqual(['failed', 0]);
    expect(found.trouble).toContain('no_more');
  });

  it('is taken up again where a server ended in the middle of it', async () => {
    const id = await laid('computing');
    expect((await proposePrices({ url: shop.url, worksheet: id, threads: 1 })).state).toBe('draft');
    expect(await stateOf(id)).toBe('draft');
  });

  it('can be cancelled while it waits, or when the server that computed it is gone', async () => {
    for (const state of ['waiting', 'computing'] as const) {
      const id = await laid(state);
      expect((await leftWorksheets(shop.context.db)).map((w) => w.id)).toContain(id);
      expect(((await admin.post(`/worksheets/${id}/cancel`)).body as Worksheet).state).toBe('cancelled');
      expect((await leftWorksheets(shop.context.db)).map((w) => w.id)).not.toContain(id);
    }
  });

  it('is neither begun a second time nor thrown away while somebody computes it; a cancel is heard', async () => {
    const running = await laid('computing');
    const somebody = await shop.database.pool.connect();
    await somebody.query('select pg_advisory_lock($1, $2)', [COMPUTING_LOCK, running]);
    expect((await proposePrices({ url: shop.url, worksheet: running, threads: 1 })).prices).toBe(0);
    expect((await leftWorksheets(shop.context.db)).map((w) => w.id)).not.toContain(running);
    expect(code(await admin.delete(`/worksheets/${running}`))).toBe('worksheet_under_way');
    expect(((await admin.post(`/worksheets/${running}/cancel`)).body as Worksheet).state).toBe('computing');
    somebody.release(true);
    await vi.waitFor(async () => expect((await leftWorksheets(shop.context.db)).map((w) => w.id)).toContain(running));
    expect((await proposePrices({ url: shop.url, worksheet: running, threads: 1 })).state).toBe('cancelled');
    expect([await written(String(running)), await stateOf(running)]).toEqual([0, 'cancelled']);
    expect((await admin.delete(`/worksheets/${running}`)).status).toBe(200);
  });
});

describe('the queue', () => {
  it('computes a worksheet in a process of its own, and goes on after one that failed', async () => {
    const log = pino({ level: 'silent' });
    const thread = proposalProcess(shop.url);
    const failing = vi.fn(() => Promise.reject(new Error('cannot')));
    const jobs = await startJobs(shop.url, log, { [PROPOSALS]: thread.work, failing });
    try {
      await jobs.enqueue('failing', 1);
      const id = await laid();
      await jobs.enqueue(PROPOSALS, id);
      await vi.waitFor(async () => expect(await stateOf(id)).toBe('draft'), { timeout: 25_000, interval: 100 });
      expect(await written(String(id))).toBeGreaterThan(0);
      expect(failing).toHaveBeenCalledWith(1);
    } finally {
      await thread.stop();
      await jobs.stop();
    }
  });
});

it('what the database writes down for a worksheet stands back behind what it reads for answers', async () => {
  const computing = proposalProcess(shop.url);
  const id = await laid();
  const holding = await shop.database.pool.connect();
  try {
    await holding.query('begin');
    await holding.query('lock table worksheet_prices in access exclusive mode');
    const work = computing.work(id);
    const own = getPriority((holding as unknown as { processID: number }).processID);
    const waiting = await vi.waitFor(
      async () => {
        const { rows } = await shop.database.pool.query<{ pid: number }>(
          `select l.pid from pg_locks l where not l.granted and l.relation = 'worksheet_prices'::regclass`,
        );
        expect(rows).not.toEqual([]);
        return rows.map((r) => getPriority(r.pid));
      },
      { timeout: 20_000 },
    );
    expect(waiting.every((priority) => priority === Math.min(19, own + 5))).toBe(true);
    await holding.query('commit');
    await work;
    expect(await stateOf(id)).toBe('draft');
  } finally {
    holding.release(true);
    await computing.stop();
  }
});

describe('a lockstep group', () => {
  it('is proposed beside what is posted for its lead, for every member: none looks as if it had no price yet', async () => {
    const { counter, yards, items } = shop.shop;
    for (const list of [counter, yards]) await postAll(admin, list, TODAY, 'before they are joined').catch(() => null);
    const group = { name: 'as one', lead: items[0], members: [items[1], items[2]] };
    expect((await admin.post('/lockstep', group)).status).toBe(200);
    const made = await propose({ lists: [counter, yards] });
    for (const list of [counter, yards]) {
      const rows = (await pricesOf(made.id, list)).rows.filter((r) => items.includes(r.item));
      expect(rows).toHaveLength(3);
      expect(rows[0]!.before).not.toBeNull();
      expect(rows.map((r) => r.before)).toEqual(rows.map(() => rows[0]!.before));
    }
  });
});
