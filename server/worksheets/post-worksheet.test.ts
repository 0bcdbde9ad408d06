import { eq } from 'drizzle-orm';
import pg from 'pg';
import { afterAll, beforeEach, describe, expect, it, vi } from 'vitest';
import type { BuildUp, PostingDetail } from '#contract/lists.ts';
import type { Worksheet, WorksheetPrices } from '#contract/worksheets.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';
import { carryOutOrder } from './carry-out.ts';
import { COMPUTING_LOCK, worksheets } from './tables.ts';

const shops: Workshop[] = [];
let shop: Workshop;
let admin: Person;
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const cost = (item: number, amount: string) =>
  admin.post('/costs', {
    item: shop.shop.items[item],
    supplier: shop.shop.supplier,
    amount,
    currency: 'GBP',
    packUnits: '220',
    validFrom: TODAY,
  });
const propose = async (more: object = {}) =>
  (await admin.post('/worksheets', { reason: 'new costs', day: TODAY, ...more })).body as Worksheet;
const post = (worksheet: string, lists: string[], more: object = {}) =>
  admin.post(`/worksheets/${worksheet}/postings`, { reason: 'as proposed', lists, share: 'changed', ...more });
const pricesOf = async (worksheet: string, list: string, shows = 'all') =>
  ((await admin.get(`/worksheets/${worksheet}/lists/${list}/prices?show=${shows}&count=2000`)).body as WorksheetPrices)
    .rows;
const code = (answer: { body: unknown }) => (answer.body as { code?: string }).code;
const buildUp = async (list: string, n: number) =>
  (await admin.get(`/lists/${list}/build-up/${shop.shop.items[n]}/${shop.shop.packs[n]}`)).body as BuildUp;

describe('a worksheet that is posted', () => {
  it('puts every proposed price in force, list by list, and the ledger says where it came from', async () => {
    const { counter, yards } = shop.shop;
    const made = await propose();
    const answer = await post(made.id, [yards, counter]);
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    const after = answer.body as Worksheet;
    expect([after.state, after.trouble]).toEqual(['posted', null]);
    for (const list of [counter, yards]) {
      const proposed = await pricesOf(made.id, list);
      expect(await postedOn(admin, list, TODAY)).toEqual(
        Object.fromEntries(proposed.map((p) => [`${p.item}/${p.pack}`, p.after])),
      );
      const posting = after.lists.find((l) => l.list === list)!.postings[0]!.id;
      const detail = (await admin.get(`/postings/${posting}`)).body as PostingDetail;
      expect([detail.reason, detail.lines, detail.effective]).toEqual(['as proposed', 3, TODAY]);
    }
  });

  it('has lists that are made from others follow at what those become, in one go, each explained down to the cost', async () => {
    const { counter, yards } = shop.shop;
    await post((await propose()).id, [counter, yards]);
    await cost(0, '300.00');
    const made = await propose();
    const [first] = await pricesOf(made.id, counter, 'changed');
    const [follows] = await pricesOf(made.id, yards, 'changed');
    // twelve per cent under what the counter becomes, without its tax of 20 %
    expect(Number(follows!.after)).toBeCloseTo((Number(first!.after) / 1.2) * 0.88, 2);
    expect(code(await post(made.id, [yards]))).toBe('worksheet_needs_list');
    expect(((await post(made.id, [counter, yards])).body as Worksheet).state).toBe('posted');
    const explained = await buildUp(yards, 0);
    expect(explained.posted!.price).toBe(follows!.after);
    const [basis] = explained.postedSteps!;
    expect([basis!.kind, Number(basis!.after)]).toEqual(['basis', Number(first!.after)]);
    // what it was made of stays told, whatever becomes of the costs
    await cost(0, '100.00');
    expect((await buildUp(yards, 0)).postedSteps).toEqual(explained.postedSteps);
  });

  it('has a list follow whose recipe starts there for some items alone, and past prices that only entries decide', async () => {
    const { counter, yards, items, category } = shop.shop;
    await post((await propose()).id, [counter, yards]);
    const lists = (await admin.get('/lists')).body as { id: string; version: number; recipe: string }[];
    const { id: _, version: __, ...like } = lists.find((l) => l.id === counter)!;
    const recipes = [{ category, item: null, recipe: lists.find((l) => l.id === yards)!.recipe }];
    const added = await admin.post('/lists', { ...like, name: 'Club', recipes, active: false });
    expect(added.status, JSON.stringify(added.body)).toBe(200);
    const { id: club, ...kept } = added.body as { id: string; version: number };
    expect((await admin.put(`/lists/${club}`, { ...kept, active: true })).status).toBe(200);
    // an entry on the list that others start from: the explained way alone can say what those become
    const entry = { list: counter, scope: { item: items[1] }, kind: 'percent_off', value: '10' };
    expect((await admin.post('/entries', entry)).status).toBe(200);
    await cost(0, '300.00');
    await cost(1, '310.00');
    const made = await propose();
    expect([made.state, made.trouble]).toEqual(['draft', null]);
    const of = async (list: string, n: number) =>
      Number((await pricesOf(made.id, list)).find((p) => p.item === items[n])!.after);
    for (const [n, share] of [
      [0, 0.88],
      [1, 0.88 * 0.9],
    ] as const) {
      expect(await of(yards, n)).toBeCloseTo(((await of(counter, n)) / 1.2) * share, 2);
      // with tax in, to the ladder of its own list
      expect(await of(club, n)).toBeCloseTo((await of(counter, n)) * share, 1);
    }
    expect(code(await post(made.id, [club]))).toBe('worksheet_needs_list');
    expect(((await post(made.id, [club, counter, yards])).body as Worksheet).state).toBe('posted');
    for (const list of [yards, club])
      for (const n of [0, 1]) {
        const { posted, postedSteps } = await buildUp(list, n);
        expect(Number(postedSteps!.at(-1)!.after)).toBe(Number(posted!.price));
      }
  });

  it('can be posted in shares: the rises first, and what is left stays a draft', async () => {
    const { counter } = shop.shop;
    await post((await propose({ lists: [counter] })).id, [counter]);
    await cost(0, '300.00');
    await cost(1, '150.00');
    const made = await propose({ lists: [counter] });
    const part = (await post(made.id, [counter], { share: 'rises' })).body as Worksheet;
    expect([part.state, part.outdated, part.lists[0]!.postings.length]).toEqual(['draft', false, 1]);
    const whole = (await post(made.id, [counter])).body as Worksheet;
    expect([whole.state, whole.lists[0]!.postings.length]).toEqual(['posted', 2]);
    expect(code(await post(made.id, [counter]))).toBe('worksheet_not_a_draft');
  });

  it('is refused once something has changed since, unless it is meant as it was computed', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    await cost(0, '300.00');
    expect(((await admin.get(`/worksheets/${made.id}`)).body as Worksheet).outdated).toBe(true);
    expect(code(await post(made.id, [counter]))).toBe('worksheet_outdated');
    const proposed = await pricesOf(made.id, counter);
    expect(((await post(made.id, [counter], { asComputed: true })).body as Worksheet).state).toBe('posted');
    const explained = await buildUp(counter, 0);
    expect(explained.posted!.price).toBe(proposed[0]!.after);
    // explained by the cost that it was computed from, not by the later one
    expect(explained.postedSteps![0]!.after).not.toBe('300');
    expect(explained.computed!.price).not.toBe(explained.posted!.price);
  });

  it('writes nothing where others have posted the same prices, and says so', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    await postAll(admin, counter);
    const before = await postedOn(admin, counter, TODAY);
    const left = (await post(made.id, [counter], { asComputed: true })).body as Worksheet;
    expect([left.state, left.trouble]).toEqual([
      'draft',
      '3 of the prices on Counter have been posted by others since: have the prices proposed anew.',
    ]);
    expect(await postedOn(admin, counter, TODAY)).toEqual(before);
  });

  it('is posted once, though two are asked and a server ended in the middle', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    const answers = await Promise.all([post(made.id, [counter]), post(made.id, [counter])]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    const order = {
      reason: 'again',
      lists: [counter],
      share: 'changed' as const,
      lastDay: null,
      asComputed: false,
      person: 1,
    };
    await shop.database.db.update(worksheets).set({ state: 'posting', order });
    await carryOutOrder(shop.context, Number(made.id));
    const after = (await admin.get(`/worksheets/${made.id}`)).body as Worksheet;
    expect([after.state, after.trouble, after.lists[0]!.postings.length]).toEqual([
      'draft',
      'There is nothing to post.',
      1,
    ]);
  });

  it('goes back as a whole by reversing what was posted, build-up and all', async () => {
    const { counter } = shop.shop;
    await post((await propose({ lists: [counter] })).id, [counter]);
    const before = await buildUp(counter, 0);
    await cost(0, '300.00');
    const made = (await post((await propose({ lists: [counter] })).id, [counter])).body as Worksheet;
    await admin.post(`/postings/${made.lists[0]!.postings[0]!.id}/reverse`, { reason: 'too early' });
    const back = await buildUp(counter, 0);
    expect(back.posted!.price).toBe(before.posted!.price);
    expect(back.postedSteps).toEqual(before.postedSteps);
  });

  it('is reversed in one go on all its lists, keeping what was posted since where that is meant', async () => {
    const { counter, yards } = shop.shop;
    await post((await propose()).id, [counter, yards]);
    const before = [await postedOn(admin, counter, TODAY), await postedOn(admin, yards, TODAY)];
    await cost(0, '300.00');
    const second = await propose();
    await post(second.id, [counter, yards]);
    const moved = await postedOn(admin, counter, TODAY);
    expect(moved).not.toEqual(before[0]);
    // one of its prices is posted anew by a person
    const [key, price] = Object.entries(moved).find(([k, v]) => before[0]![k] !== v)!;
    const [item, pack] = key.split('/');
    const typed = { item, pack, before: price, after: '9.95', handSet: { reason: 'agreed', lastDay: null } };
    await admin.post(`/lists/${counter}/postings`, { effective: TODAY, reason: 'agreed', lines: [typed] });
    const reverse = async (more: object) =>
      (await admin.post(`/worksheets/${second.id}/reversals`, { reason: 'wrong', ...more })).body as Worksheet;
    const refused = await reverse({});
    expect([refused.state, refused.trouble]).toEqual(['posted', expect.stringContaining('one of its prices')]);
    expect(await postedOn(admin, yards, TODAY), 'none goes back where not all may').not.toEqual(before[1]);
    const after = await reverse({ leaveChanged: true });
    // what was left can still be reversed later
    const stands = Object.fromEntries(after.lists.map((l) => [l.list, l.postings.map((p) => p.stands)]));
    expect([after.state, after.trouble, stands]).toEqual(['posted', null, { [counter]: [true], [yards]: [false] }]);
    expect(await postedOn(admin, yards, TODAY)).toEqual(before[1]);
    expect(await postedOn(admin, counter, TODAY)).toEqual({ ...before[0], [key]: '9.95' });
    expect(code(await admin.post(`/worksheets/${(await propose()).id}/reversals`, { reason: 'x' }))).toBe(
      'nothing_to_reverse',
    );
  });

  it('is posted though who computed it still holds it when that is ordered: no order is lost', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    const now = async () => (await admin.get(`/worksheets/${made.id}`)).body as Worksheet;
    const computing = new pg.Client({ connectionString: shop.owner });
    await computing.connect();
    await computing.query('select pg_advisory_lock($1, $2)', [COMPUTING_LOCK, Number(made.id)]);
    const ordered = post(made.id, [counter]).then((answer) => answer.status);
    await vi.waitFor(async () => expect((await now()).state).toBe('posting'));
    // it is looked at while it is held
    const looks = vi.spyOn(shop.context.db, 'transaction');
    await vi.waitFor(() => expect(looks.mock.calls.length).toBeGreaterThan(1));
    looks.mockRestore();
    expect((await now()).state).toBe('posting');
    await computing.end();
    expect(await ordered).toBe(200);
    expect((await now()).lists[0]!.postings).toHaveLength(1);
  });

  it('cancelled while its prices are written is a draft as before, and nothing of it is in force', async () => {
    const { counter, yards } = shop.shop;
    const made = await propose();
    const lists = [yards, counter];
    const order = { reason: 'x', lists, share: 'changed' as const, lastDay: null, asComputed: false, person: 1 };
    const key = eq(worksheets.id, Number(made.id));
    const now = async () => (await admin.get(`/worksheets/${made.id}`)).body as Worksheet;
    await shop.database.db.update(worksheets).set({ state: 'posting', order }).where(key);
    // it gets as far as its first lines, and waits there
    const holder = new pg.Client({ connectionString: shop.owner });
    await holder.connect();
    await holder.query('begin');
    await holder.query('lock table posting_lines in share mode');
    const done = carryOutOrder(shop.context, Number(made.id));
    await vi.waitFor(async () => {
      const { rows } = await holder.query(
        "select 1 from pg_locks where relation = 'posting_lines'::regclass and not granted",
      );
      expect(rows).toHaveLength(1);
    });
    expect((await now()).underWay).toEqual({ postings: 2, written: 0 });
    expect(((await admin.post(`/worksheets/${made.id}/cancel`)).body as Worksheet).state).toBe('posting');
    await holder.end();
    await done;
    const after = await now();
    expect([after.state, after.trouble, after.underWay, after.lists.flatMap((l) => l.postings)]).toEqual([
      'draft',
      null,
      null,
      [],
    ]);
    // one that waits in the queue is cancelled at once; it can be posted afterwards
    await shop.database.db.update(worksheets).set({ state: 'posting', order }).where(key);
    expect(((await admin.post(`/worksheets/${made.id}/cancel`)).body as Worksheet).state).toBe('draft');
    expect(((await post(made.id, lists)).body as Worksheet).state).toBe('posted');
  });

  it('discarded afterwards, leaves its postings in the ledger, which no longer lead to it', async () => {
    const { counter } = shop.shop;
    const made = (await post((await propose({ lists: [counter] })).id, [counter])).body as Worksheet;
    const { id } = made.lists[0]!.postings[0]!;
    const worksheetOf = async () => ((await admin.get(`/postings/${id}`)).body as PostingDetail).worksheet;
    expect(await worksheetOf()).toEqual({ id: made.id, lists: 1 });
    expect((await admin.delete(`/worksheets/${made.id}`)).status).toBe(200);
    expect(await worksheetOf()).toBeNull();
  });

  it('can hold until a day, like any posting', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    expect(code(await post(made.id, [counter], { lastDay: '2026-03-01' }))).toBe('fields_wrong');
    await post(made.id, [counter], { lastDay: '2026-03-20' });
    const on = async (day: string) =>
      Object.values(await postedOn(admin, counter, day)).filter((p) => p !== null).length;
    expect([await on('2026-03-20'), await on('2026-03-21')]).toEqual([3, 0]);
  });

  it('is posted by nobody who may not, and not for a day gone by', async () => {
    const { counter } = shop.shop;
    const made = await propose({ lists: [counter] });
    const seller = await signIn(shop.app, 'seller');
    const body = { reason: 'x', lists: [counter], share: 'changed' };
    expect((await seller.post(`/worksheets/${made.id}/postings`, body)).status).toBe(403);
    shop.setDay('2026-12-31');
    expect(code(await post(made.id, [counter], { asComputed: true }))).toBe('worksheet_day_gone');
    expect(code(await post(made.id, ['999']))).toBe('worksheet_day_gone');
  });
});
