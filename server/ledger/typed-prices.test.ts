import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { BuildUp, WouldPost } from '#contract/lists.ts';
import type { Posted } from '#contract/posting-requests.ts';
import { EVERYTHING } from '#contract/windows.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { Dice } from '#core/numbers/dice.ts';
import { readPostedOf } from '../workspace/posted-rows.ts';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
  waitingFor,
} from '../platform/tests/workshop.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());

const line = (n: number, before: string | null, after: string, more: object = {}) => ({
  item: shop.shop.items[n],
  pack: shop.shop.packs[n],
  before,
  after,
  ...more,
});
const post = (lines: object[], effective = TODAY) =>
  admin.post(`/lists/${shop.shop.counter}/postings`, { effective, reason: 'test', lines });
const priceOn = async (n: number, day: string) =>
  (await postedOn(admin, shop.shop.counter, day))[`${shop.shop.items[n]}/${shop.shop.packs[n]}`];
const rowOn = async (n: number, day: string) =>
  ((await admin.get(`/lists/${shop.shop.counter}/prices?day=${day}`)).body as { rows: ListPriceRow[] }).rows.find(
    (r) => r.item === shop.shop.items[n],
  )!;
const faults = (answer: { body: unknown }) =>
  (answer.body as { faults?: { path: string }[] }).faults?.map((f) => f.path);

describe('a typed price', () => {
  it('ends after its last day: the price that was due then is in force, and is what the buyer pays', async () => {
    const due = (await priceOn(0, TODAY))!;
    const hand = { reason: 'boat fair', lastDay: '2026-03-20' };
    expect((await post([line(0, due, '1.95', { handSet: hand })])).status).toBe(200);
    expect([await priceOn(0, '2026-03-20'), await priceOn(0, '2026-03-21')]).toEqual(['1.95', due]);
    const asked = {
      customer: shop.shop.customers[1],
      item: shop.shop.items[0],
      pack: shop.shop.packs[0],
      quantity: '1',
    };
    const paid = async (day: string) =>
      ((await admin.post('/price-check', { ...asked, day })).body as { figures: { lines: { unitPrice: string }[] } })
        .figures.lines[0]!.unitPrice;
    expect([await paid('2026-03-20'), await paid('2026-03-21')]).toEqual(['1.95', due]);
    const today = await waitingFor(admin);
    expect(today.find((w) => w.kind === 'prices_end')).toBeUndefined();
    shop.setDay('2026-03-18');
    const soon = await waitingFor(admin);
    expect(soon.find((w) => w.kind === 'prices_end')).toMatchObject({ count: 1 });
    shop.setDay(TODAY);
  });

  it('holds against a posting that was made before it for a later day', async () => {
    const due = (await priceOn(1, TODAY))!;
    const cost = { item: shop.shop.items[1], supplier: shop.shop.supplier, currency: 'GBP', packUnits: '220' };
    await admin.post('/costs', { ...cost, amount: '400', validFrom: '2026-04-01' });
    await postAll(admin, shop.shop.counter, '2026-04-01', 'dearer from April');
    const scheduled = await priceOn(1, '2026-04-02');
    expect(scheduled).not.toBe(due);
    expect((await post([line(1, due, '2.49', { handSet: { reason: 'promised', lastDay: null } })])).status).toBe(200);
    expect([await priceOn(1, TODAY), await priceOn(1, '2026-04-02')]).toEqual(['2.49', '2.49']);
    expect((await rowOn(1, '2026-04-02')).handSet).toBe('promised');
  });

  it('is released: what the recipe makes is posted, and it no longer stands by hand', async () => {
    const { item, pack } = line(1, null, '');
    const seen = (await admin.get(`/lists/${shop.shop.counter}/build-up/${item}/${pack}?day=${TODAY}`)).body as BuildUp;
    expect([seen.posted!.handSet, seen.posted!.lastDay]).toEqual([{ reason: 'promised' }, null]);
    const made = seen.computed!.recipePrice;
    expect((await post([line(1, '2.49', made)])).status, 'without saying so the typed price stands').toBe(409);
    expect((await post([line(1, '2.49', made, { release: true })])).status).toBe(200);
    const row = await rowOn(1, TODAY);
    expect([row.posted, row.handSet]).toEqual([made, null]);
  });

  it('is released with others at once: all that a look shows follow their recipe again', async () => {
    const all = [0, 1, 2];
    const dues = await Promise.all(all.map((n) => priceOn(n, TODAY)));
    const high = (n: number) => (Number(dues[n]) + 9).toFixed(2);
    const fair = { handSet: { reason: 'fair', lastDay: null } };
    expect((await post(all.map((n) => line(n, dues[n]!, high(n), fair)))).status).toBe(200);
    const released = { arranged: { ...EVERYTHING, show: 'hand' }, typed: [], what: 'releases' };
    const would = await vi.waitFor(async () => {
      const told = (await admin.post(`/lists/${shop.shop.counter}/to-post`, released)).body as WouldPost;
      if (told.stale) throw new Error('not worked out yet');
      return told;
    });
    expect([would.lines, would.typed]).toEqual([3, 0]);
    const made = new Map(would.largest.map((l) => [l.row.item, l.after]));
    const body = {
      ...released,
      effective: TODAY,
      lastDay: null,
      reason: 'fair is over',
      typedReason: '',
      state: would.state,
    };
    const answer = await admin.post(`/lists/${shop.shop.counter}/shown-postings`, body);
    expect([answer.status, (answer.body as Posted).lines]).toEqual([200, 3]);
    for (const n of all) {
      const row = await rowOn(n, TODAY);
      expect([row.posted, row.handSet]).toEqual([made.get(row.item), null]);
    }
  });
});

describe('lines that are refused, each by its field', () => {
  it.each([
    ['a pack that stands twice', () => [line(2, '3.45', '3.50', hand), line(2, '3.45', '3.60', hand)], 'lines[1].pack'],
    ['a pack of another item', () => [{ ...line(2, null, '3.50', hand), pack: shop.shop.packs[0] }], 'lines[0].pack'],
    ['more decimals than the list keeps', () => [line(2, '3.45', '7.129', hand)], 'lines[0].after'],
    ['a price of 0', () => [line(2, '3.45', '0.00', hand)], 'lines[0].after'],
    [
      'a last day before the first',
      () => [line(2, '3.45', '3.50', { handSet: { reason: 'x', lastDay: '2026-03-01' } })],
      'lines[0].handSet.lastDay',
    ],
  ])('%s', async (_, lines, path) => {
    const answer = await post(lines());
    expect([answer.status, faults(answer)]).toEqual([422, expect.arrayContaining([path])]);
  });
  const hand = { handSet: { reason: 'x', lastDay: null } };
});

it('the database and the core agree which price is in force, on any day', async () => {
  const { pool } = shop.database;
  const dice = new Dice(7);
  const { counter, items, packs } = shop.shop;
  const posting = (await pool.query<{ id: number }>('select max(id) as id from postings')).rows[0]!.id;
  const head = await pool.query<{ id: number }>(
    `insert into postings (list_id, kind, reason, effective, posted_by, posted_at)
     select list_id, kind, reason, effective, posted_by, posted_at from postings, generate_series(1, 60) where id = $1 returning id`,
    [posting],
  );
  const day = () => `2026-0${dice.whole(3, 5)}-${String(dice.whole(1, 28)).padStart(2, '0')}`;
  for (const { id } of head.rows) {
    const [from, hand] = [day(), dice.next() < 0.4];
    const last = hand && dice.next() < 0.6 ? `2026-0${dice.whole(5, 6)}-15` : null;
    await pool.query(
      `insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, after, hand_set_reason, last_day) values ($1,$2,$3,$4,$5,$6,$7,$8)`,
      [
        id,
        counter,
        items[2],
        packs[2],
        from,
        dice.next() < 0.1 ? null : `${dice.whole(1, 99)}`,
        hand ? 'x' : null,
        last,
      ],
    );
  }
  const all = await pool.query<{
    after: string | null;
    effective: string;
    id: string;
    reason: string | null;
    last: string | null;
  }>(
    `select after, effective::text, id, hand_set_reason as reason, last_day::text as last from posting_lines where pack_id = $1 and list_id = $2`,
    [packs[2], counter],
  );
  const posted = all.rows.map((r) => ({
    list: counter,
    item: items[2]!,
    pack: packs[2]!,
    price: r.after,
    from: r.effective,
    posting: '1',
    entry: Number(r.id),
    handSet: r.reason === null ? null : { reason: r.reason, by: 'x', lastDay: r.last },
  }));
  const ws = new Prepared({ ...emptyWorkspace(), posted });
  for (let n = 0; n < 60; n++) {
    const on = day();
    const found = (await readPostedOf(shop.database.db, on, [Number(items[2])])).find((p) => p.list === counter);
    expect([on, found?.price ?? null]).toEqual([on, ws.postedOn(counter, items[2]!, packs[2]!, on)?.price ?? null]);
  }
});
