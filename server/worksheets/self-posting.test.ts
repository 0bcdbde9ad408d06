import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { SheetView } from '#contract/costs.ts';
import type { PostingDetail } from '#contract/lists.ts';
import type { Today } from '#contract/today.ts';
import type { Worksheet } from '#contract/worksheets.ts';
import { bringFile } from '../platform/tests/bring-sheet.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';
import { decideByItself, undecided } from './self-posting.ts';
import { worksheets } from './tables.ts';

const shops: Workshop[] = [];
let shop: Workshop;
let admin: Person;
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
  await postAll(admin, shop.shop.yards);
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const say = (lists: { list: string; most: string }[]) =>
  admin.put(`/cost-suppliers/${shop.shop.supplier}/self-posting`, { lists });
const take = async (content: string) => {
  const sheet: SheetView = await bringFile(shop, admin, content);
  const answer = await admin.post(`/cost-sheets/${sheet.id}/take-in`, {
    version: sheet.version,
    rows: null,
    rest: 'left_out',
  });
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as { costs: number; worksheet: string | null };
};
const worksheetOf = async (id: string | null) => (await admin.get(`/worksheets/${id}`)).body as Worksheet;
const told = async (kind: string) =>
  ((await admin.get('/today')).body as Today).lines.filter((l) => l.kind === kind).map((l) => l.text);

/** The three items at new costs: +2.6 %, +1.9 %, +1.6 %. */
const NEXT = 'Code,Net price,Pack size\nR1,220.00,220\nR2,265.00,220\nR3,315.00,220\n';
const both = (most: string) => [shop.shop.counter, shop.shop.yards].map((list) => ({ list, most }));

describe('prices that post themselves after costs were taken in', () => {
  it('do not where nobody said so', async () => {
    expect(await take(NEXT)).toMatchObject({ costs: 3, worksheet: null });
    expect((await admin.get('/worksheets')).body).toEqual([]);
  });

  it('do within what was said, lists made from others with them; Today tells it, and it can be reversed', async () => {
    const { counter, yards } = shop.shop;
    const before = await postedOn(admin, counter, TODAY);
    expect((await say(both('5'))).status).toBe(200);
    const { worksheet } = await take(NEXT);
    const made = await worksheetOf(worksheet);
    expect(made).toMatchObject({ state: 'posted', trouble: null, day: TODAY });
    expect(made.byItself).toEqual({ decided: true, lists: both('5').map((l) => ({ ...l, left: null })) });
    const after = await postedOn(admin, counter, TODAY);
    expect(after).not.toEqual(before);
    expect((await told('posted_by_itself')).map((t) => t.replace(/: .*/, '')).sort()).toEqual(['Counter', 'Yards']);
    expect(await told('left_by_itself')).toEqual([]);
    expect(made.lists.map((l) => l.list).sort()).toEqual([counter, yards].sort());
    for (const list of [yards, counter]) {
      const posting = made.lists.find((l) => l.list === list)!.postings[0]!.id;
      expect((await admin.post(`/postings/${posting}/reverse`, { reason: 'looked again' })).status).toBe(200);
    }
    expect(await postedOn(admin, counter, TODAY)).toEqual(before);
  });

  it('a list waits whole where one price would move too far, and lists made from it with it', async () => {
    const { counter, yards } = shop.shop;
    const before = await postedOn(admin, counter, TODAY);
    await say([
      { list: counter, most: '2' },
      { list: yards, most: '5' },
    ]);
    const made = await worksheetOf((await take(NEXT)).worksheet);
    expect(made.state).toBe('draft');
    const left = Object.fromEntries(made.byItself!.lists.map((l) => [l.list, l.left]));
    expect(left[counter]).toMatch(/^one price would move by more than 2 %$/);
    expect(left[yards]).toBe('it is made from Counter, which waits');
    expect(await postedOn(admin, counter, TODAY)).toEqual(before);
    expect(await told('left_by_itself')).toHaveLength(2);
    // a person may
    expect(
      (
        await admin.post(`/worksheets/${made.id}/postings`, {
          reason: 'yes',
          lists: [counter, yards],
          share: 'changed',
        })
      ).status,
    ).toBe(200);
    expect(await told('left_by_itself')).toEqual([]);
  });

  it('wait where a second person has to agree, however little they move', async () => {
    const { counter } = shop.shop;
    const lists = (await admin.get('/lists')).body as { id: string }[];
    const { id: _, ...row } = lists.find((l) => l.id === counter)!;
    expect((await admin.put(`/lists/${counter}`, { ...row, secondPersonBeyond: '2' })).status).toBe(200);
    await say([{ list: counter, most: '50' }]);
    const made = await worksheetOf((await take(NEXT)).worksheet);
    expect([made.state, made.byItself!.lists[0]!.left]).toEqual([
      'draft',
      'a second person has to agree to posting it',
    ]);
  });

  it('wait where a proof would no longer hold with them', async () => {
    const [item, pack] = [shop.shop.items[1]!, shop.shop.packs[1]!];
    const price = (await postedOn(admin, shop.shop.counter, TODAY))[`${item}/${pack}`]!;
    const question = { kind: 'price', item, pack, quantity: '1', day: TODAY, list: shop.shop.counter };
    const kept = await admin.post('/proofs', {
      name: 'promised in writing',
      question,
      expect: { price, reason: null, floor: null },
      good: null,
    });
    expect(kept.status, JSON.stringify(kept.body)).toBe(200);
    await say(both('5'));
    const made = await worksheetOf((await take(NEXT)).worksheet);
    expect(made.state).toBe('draft');
    expect(made.byItself!.lists.map((l) => l.left)).toEqual([
      'with it the proof “promised in writing” would fail',
      'with it the proof “promised in writing” would fail',
    ]);
    // one that fails as it is holds up everything, until somebody has looked
    await postAll(admin, shop.shop.counter);
    const next = await worksheetOf((await take(NEXT.replace('265', '268'))).worksheet);
    expect(next.byItself!.lists.map((l) => l.left)).toEqual([
      'the proof “promised in writing” fails',
      'the proof “promised in writing” fails',
    ]);
  });

  it('wait where it would be the first price', async () => {
    const fresh = await openWorkshop();
    shops.push(fresh);
    [shop, admin] = [fresh, await signIn(fresh.app, 'administrator')];
    await say(both('5'));
    const made = await worksheetOf((await take(NEXT)).worksheet);
    expect(made.byItself!.lists[0]!.left).toBe('3 prices would be posted for the first time');
  });

  it('follow a bill that is made final too', async () => {
    await say(both('5'));
    const line = { item: shop.shop.items[0], kind: 'goods', quantity: '1', packUnits: '220', price: '219.00' };
    const head = {
      supplier: shop.shop.supplier,
      number: 'B-7',
      day: TODAY,
      currency: 'GBP',
      note: null,
      lines: [line],
    };
    const bill = (await admin.post('/bills', head)).body as { id: string; version: number };
    const done = await admin.post(`/bills/${bill.id}/final`, { version: bill.version, looked: true });
    expect(done.status, JSON.stringify(done.body)).toBe(200);
    const [made] = (await admin.get('/worksheets')).body as Worksheet[];
    expect(made).toMatchObject({ state: 'posted', bill: { id: bill.id, number: 'B-7' }, costSheet: null });
    expect(made!.lists.map((l) => l.rises)).toEqual([1, 1]);
  });

  it('say nothing where no price moves', async () => {
    await say(both('5'));
    // a hair dearer: every price is rounded to where it stands
    const made = await worksheetOf((await take('Code,Net price,Pack size\nR1,214.51,220\n')).worksheet);
    expect(made).toMatchObject({ state: 'draft', trouble: null });
    expect(made.lists.map((l) => l.rises + l.falls)).toEqual([0, 0]);
    expect([await told('posted_by_itself'), await told('left_by_itself')]).toEqual([[], []]);
  });

  it('wait where it was taken back that they post themselves, before they were looked at', async () => {
    await say([{ list: shop.shop.counter, most: '1' }]);
    const made = await worksheetOf((await take(NEXT)).worksheet);
    await shop.database.db
      .update(worksheets)
      .set({ byItself: { decided: false, lists: [{ list: shop.shop.counter, most: '50', left: null }] } });
    await say([]);
    expect(await decideByItself(shop.context, Number(made.id))).toBe(false);
    expect((await worksheetOf(made.id)).byItself!.lists[0]!.left).toBe('it is no longer to post itself');
  });

  it('are posted in the name of who said so, whoever took the costs in', async () => {
    await say(both('5'));
    const { people } = shop.shop;
    // somebody else brings them in
    await shop.asOwner(
      `update self_postings set said_by = ${people['approver']} where supplier_id = ${shop.shop.supplier}`,
    );
    const made = await worksheetOf((await take(NEXT)).worksheet);
    const posting = made.lists[0]!.postings[0]!.id;
    const detail = (await admin.get(`/postings/${posting}`)).body as PostingDetail;
    expect([made.madeBy, detail.by]).toEqual(['Ada', 'Bo']);
  });

  it('are looked at by the next server where the first ended between computing and posting, and once only', async () => {
    await say(both('5'));
    const made = await worksheetOf((await take(NEXT)).worksheet);
    await shop.database.db
      .update(worksheets)
      .set({ state: 'draft', byItself: { decided: false, lists: made.byItself!.lists } });
    expect(await undecided(shop.database.db)).toEqual([Number(made.id)]);
    const ways = await Promise.all([1, 2].map(() => decideByItself(shop.context, Number(made.id))));
    expect(ways.filter((w) => w)).toHaveLength(1);
    expect(await undecided(shop.database.db)).toEqual([]);
  });

  it('is said by those alone who may post, of lists that have a recipe, once each', async () => {
    const { counter, supplier } = shop.shop;
    const twice = await say([...both('5'), { list: counter, most: '3' }]);
    expect(twice.status).toBe(422);
    expect((await say([{ list: counter, most: '1.234' }])).status).toBe(422);
    expect((await say([{ list: '999', most: '5' }])).status).toBe(404);
    const seller = await signIn(shop.app, 'seller');
    expect((await seller.put(`/cost-suppliers/${supplier}/self-posting`, { lists: [] })).status).toBe(403);
  });
});
