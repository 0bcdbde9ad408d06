import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import type { PostingRequest, Posted, RequestedPrices } from '#contract/posting-requests.ts';
import { sql } from 'drizzle-orm';
import { needsSecondPerson } from '#core/lists/second-person.ts';
import { dec } from '#core/numbers/decimal.ts';
import { Dice } from '#core/numbers/dice.ts';
import { movesBeyond } from '../worksheets/post-worksheet.ts';
import type { AuditRow, PostingSummary } from '#contract/lists.ts';
import { EVERYTHING } from '#contract/windows.ts';
import type { Worksheet } from '#contract/worksheets.ts';
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

let shop: Workshop;
let admin: Person;
let approver: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  approver = await signIn(shop.app, 'approver');
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());
beforeEach(async () => beyond(shop.shop.counter, '5'));

async function beyond(list: string, percent: string | null): Promise<void> {
  const lists = (await admin.get('/lists')).body as ({ id: string } & Record<string, unknown>)[];
  const { id, ...row } = lists.find((l) => l.id === list)!;
  const kept = await admin.put(`/lists/${id}`, { ...row, secondPersonBeyond: percent });
  expect(kept.status, JSON.stringify(kept.body)).toBe(200);
}
const priceOf = async (n: number, list = shop.shop.counter) =>
  (await postedOn(admin, list, TODAY))[`${shop.shop.items[n]}/${shop.shop.packs[n]}`] ?? null;
/** Types a price so many per cent higher. */
async function typed(n: number, percent: number, who = admin) {
  const before = (await priceOf(n))!;
  const after = (Number(before) * (1 + percent / 100)).toFixed(2);
  const handSet = { reason: 'fair', lastDay: null };
  const line = { item: shop.shop.items[n], pack: shop.shop.packs[n], before, after, handSet };
  const answer = await who.post(`/lists/${shop.shop.counter}/postings`, {
    effective: TODAY,
    reason: 'fair',
    lines: [line],
  });
  return { answer, before, after, done: answer.body as Posted };
}
const request = async (id: string | null, who = admin) =>
  (await who.get(`/posting-requests/${id}`)).body as PostingRequest;
const told = async (id: string | null) =>
  ((await admin.get(`/audit?subject=posting-requests&of=${id}`)).body as AuditRow[]).map((a) => [a.by, a.action]);
const agree = (id: string | null, who = approver) => who.post(`/posting-requests/${id}/agree`, {});

describe('a list that says when a second person has to agree', () => {
  it('posts a small move at once', async () => {
    const { done, after } = await typed(0, 2);
    expect([done.postings.length, done.request]).toEqual([1, null]);
    expect(await priceOf(0)).toBe(after);
  });

  it('changes nothing by a large one until somebody else has agreed; the ledger names both', async () => {
    const { done, before, after } = await typed(0, 20);
    expect(done).toMatchObject({ postings: [], lines: 1 });
    expect(await priceOf(0)).toBe(before);
    const waiting = (await waitingFor(approver)).filter((w) => w.kind === 'posting_to_agree');
    expect(waiting.map((w) => w.to)).toEqual([`/ledger/requests/${done.request}`]);
    const own = await agree(done.request, admin);
    expect([own.status, (own.body as { code: string }).code]).toEqual([403, 'second_person_only']);
    const prices = (await approver.get(`/posting-requests/${done.request}/prices`)).body as RequestedPrices;
    expect(prices.rows).toMatchObject([{ before, after, handSet: 'fair', changePercent: '20' }]);
    expect(Number(prices.rows[0]!.margin)).toBeGreaterThan(0);
    expect((await agree(done.request)).body).toMatchObject({ state: 'posted', own: false });
    expect(await priceOf(0)).toBe(after);
    const [posting] = (await admin.get('/postings')).body as PostingSummary[];
    expect([posting!.by, posting!.agreedBy].every(Boolean) && posting!.by !== posting!.agreedBy).toBe(true);
    expect((await request(done.request)).postings).toEqual([posting!.id]);
    // who asked and who agreed stand in the record of changes, each with what they did
    expect(await told(done.request)).toEqual([
      [posting!.agreedBy, 'agreed to prices that somebody asked for'],
      [posting!.by, 'asked a second person to agree to prices'],
    ]);
    expect((await waitingFor(approver)).some((w) => w.kind === 'posting_to_agree')).toBe(false);
  });

  it('is decided once: who agrees at the same moment as another refuses is told', async () => {
    const { done, after } = await typed(1, 20);
    const answers = await Promise.all([
      agree(done.request),
      approver.post(`/posting-requests/${done.request}/refuse`, { why: 'too much' }),
    ]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    expect((await priceOf(1)) === after).toBe((await request(done.request)).state === 'posted');
  });

  it('tells whoever asked why it was refused, and posts nothing', async () => {
    const { done, before } = await typed(2, 30);
    const noReason = await approver.post(`/posting-requests/${done.request}/refuse`, { why: '' });
    expect(noReason.status).toBe(422);
    await approver.post(`/posting-requests/${done.request}/refuse`, { why: 'after the season' });
    expect(await priceOf(2)).toBe(before);
    const told = (await waitingFor(admin)).find((w) => w.kind === 'posting_refused');
    expect(told?.text).toContain('after the season');
    expect((await agree(done.request)).status).toBe(409);
  });

  it('can be withdrawn by whoever asked, and by nobody else', async () => {
    const { done } = await typed(2, 30);
    expect((await approver.post(`/posting-requests/${done.request}/withdraw`, {})).status).toBe(403);
    expect((await admin.post(`/posting-requests/${done.request}/withdraw`, {})).body).toMatchObject({
      state: 'withdrawn',
    });
  });

  it('is not posted where the price is another one by then: it says so and goes on waiting', async () => {
    const { done } = await typed(2, 30);
    await beyond(shop.shop.counter, null);
    const { after } = await typed(2, 1);
    const answer = await agree(done.request);
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([409, 'prices_changed_meanwhile']);
    expect([await priceOf(2), (await request(done.request)).state]).toEqual([after, 'waiting']);
    await admin.post(`/posting-requests/${done.request}/withdraw`, {});
  });

  it('asks for every posting at 0', async () => {
    await beyond(shop.shop.counter, '0');
    const { done } = await typed(0, 1);
    expect(done.request).not.toBeNull();
    await admin.post(`/posting-requests/${done.request}/withdraw`, {});
  });

  it('tells before it is posted that it will wait', async () => {
    const [item, pack] = [shop.shop.items[0]!, shop.shop.packs[0]!];
    const would = async (after: string) =>
      (
        await admin.post(`/lists/${shop.shop.counter}/to-post`, {
          arranged: EVERYTHING,
          typed: [{ item, pack, after }],
        })
      ).body as { secondPerson: boolean; lines: number };
    const now = Number(await priceOf(0));
    expect(await would((now * 1.04).toFixed(2))).toMatchObject({ secondPerson: false });
    expect(await would((now * 1.06).toFixed(2))).toMatchObject({ secondPerson: true });
  });
});

describe('a worksheet over such a list', () => {
  beforeEach(() => beyond(shop.shop.yards, '5'));
  const propose = async (amount: string) => {
    const cost = { item: shop.shop.items[0], supplier: shop.shop.supplier, amount, currency: 'GBP', packUnits: '220' };
    expect((await admin.post('/costs', { ...cost, validFrom: TODAY })).status).toBe(200);
    return (await admin.post('/worksheets', { reason: 'spring', day: TODAY, lists: [shop.shop.yards] }))
      .body as Worksheet;
  };
  const order = async (id: string) =>
    (await admin.post(`/worksheets/${id}/postings`, { reason: 'spring', lists: [shop.shop.yards], share: 'changed' }))
      .body as Worksheet;

  it('waits as a whole, is asked about once, and is posted by the consent', async () => {
    const { id } = await propose('900.00');
    const asked = await order(id);
    expect([asked.state, asked.request === null]).toEqual(['draft', false]);
    expect(await order(id)).toMatchObject({ code: 'request_waits' });
    expect(await request(asked.request)).toMatchObject({ worksheet: id, state: 'waiting' });
    expect((await agree(asked.request)).status).toBe(200);
    const [posting] = (await admin.get('/postings')).body as PostingSummary[];
    expect([posting!.worksheet?.id, posting!.agreedBy === null]).toEqual([id, false]);
    expect(await request(asked.request)).toMatchObject({ state: 'posted', postings: [posting!.id] });
    expect((await admin.get(`/worksheets/${id}`)).body).toMatchObject({ request: null });
  });

  it('that is discarded takes its request with it', async () => {
    const { id } = await propose('1900.00');
    const { request: asked } = await order(id);
    expect((await admin.delete(`/worksheets/${id}`)).status).toBe(200);
    expect(await request(asked)).toMatchObject({ state: 'withdrawn', decided: { why: 'the worksheet was discarded' } });
    expect((await told(asked))[0]).toEqual([expect.any(String), 'withdrew a posting']);
  });
});

it('the database and the core agree which moves lie beyond', async () => {
  const dice = new Dice(11);
  const figure = (most: number) => (dice.next() < 0.15 ? '0' : (dice.whole(1, most) / 100).toFixed(2));
  for (let n = 0; n < 300; n++) {
    const beyond = dice.next() < 0.2 ? '0' : (dice.whole(0, 300) / 10).toFixed(1);
    const before = dice.next() < 0.1 ? null : figure(2_000);
    // near the edge as often as not
    const edge = before === null ? null : dec(before).times(dec(beyond).div(100).plus(1)).toFixed(2);
    const after = edge !== null && dice.next() < 0.5 ? edge : figure(2_000);
    const { rows } = await shop.database.db.execute<{ beyond: boolean }>(
      sql`select ${movesBeyond(beyond)} as beyond from (select ${before}::numeric as before, ${after}::numeric as after) w`,
    );
    expect({ beyond, before, after, is: rows[0]!.beyond }).toEqual({
      ...{ beyond, before, after },
      is: needsSecondPerson(beyond, [{ before, after }]),
    });
  }
});
