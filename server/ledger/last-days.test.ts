import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { BuildUp, PostingDetail, Reversal } from '#contract/lists.ts';
import { plusDays } from '#core/numbers/day.ts';
import { Dice } from '#core/numbers/dice.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  linesOf,
  openWorkshop,
  postAll,
  signIn,
} from '../platform/tests/workshop.ts';
import { readPostedOf } from '../workspace/posted-rows.ts';

const shops: Workshop[] = [];
let shop: Workshop;
let admin: Person;
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const DAYS = Array.from({ length: 60 }, (_, n) => plusDays(TODAY, n));
/** The price of one pack on each of the next sixty days, as the database has it. */
async function priceByDay(n: number): Promise<(string | null)[]> {
  const out: (string | null)[] = [];
  for (const day of DAYS) {
    const posted = await readPostedOf(shop.database.db, day, [Number(shop.shop.items[n])]);
    out.push(posted.find((p) => p.list === shop.shop.counter)?.price ?? null);
  }
  return out;
}
const line = (n: number, before: string | null, after: string, more: object = {}) => ({
  item: shop.shop.items[n]!,
  pack: shop.shop.packs[n]!,
  before,
  after,
  handSet: { reason: 'asked for', lastDay: null },
  ...more,
});
const post = async (lines: object[], more: object = {}) => {
  const body = { effective: TODAY, reason: 'test', lines, ...more };
  const answer = await admin.post(`/lists/${shop.shop.counter}/postings`, body);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return (answer.body as { postings: string[] }).postings[0]!;
};
const reverse = (posting: string, more: object = {}) =>
  admin.post(`/postings/${posting}/reverse`, { reason: 'not meant', ...more });
const detail = async (posting: string) => (await admin.get(`/postings/${posting}`)).body as PostingDetail;

describe('prices posted until a day', () => {
  it('computed ones end too: what was due comes back, the list and the build-up say until when', async () => {
    const { counter, items, packs } = shop.shop;
    await postAll(admin, counter);
    const due = (await priceByDay(0))[0]!;
    await admin.post('/costs', {
      item: items[0],
      supplier: shop.shop.supplier,
      currency: 'GBP',
      packUnits: '220',
      amount: '500',
      validFrom: TODAY,
    });
    const row = (await admin.get(`/lists/${counter}/prices`)).body as { rows: { item: string; proposed: string }[] };
    const dearer = row.rows.find((r) => r.item === items[0])!.proposed;
    const last = plusDays(TODAY, 10);
    const posting = await post([line(0, due, dearer, { handSet: null })], { lastDay: last });
    const days = await priceByDay(0);
    expect([days[0], days[10], days[11]].map(Number)).toEqual([dearer, dearer, due].map(Number));
    const seen = (await admin.get(`/lists/${counter}/build-up/${items[0]}/${packs[0]}`)).body as BuildUp;
    expect([seen.posted!.lastDay, seen.posted!.handSet]).toEqual([last, null]);
    expect(seen.postedSteps!.length).toBeGreaterThan(1);
    const kept = await detail(posting);
    const lines = await linesOf(admin, posting);
    // the head says it for all of them
    expect([kept.lastDay, kept.dated, lines.map((l) => l.lastDay)]).toEqual([last, false, [last]]);
  });

  it('a last day before the first is refused, by its field', async () => {
    const body = { effective: TODAY, lastDay: '2026-03-01', reason: 'x', lines: [line(0, null, '2.00')] };
    const answer = await admin.post(`/lists/${shop.shop.counter}/postings`, body);
    expect((answer.body as { faults: { path: string }[] }).faults.map((f) => f.path)).toEqual(['lastDay']);
  });
});

describe('reversing', () => {
  it('what took the place of a price until a day does not come back after that day', async () => {
    const { counter } = shop.shop;
    await postAll(admin, counter);
    const due = (await priceByDay(0))[0]!;
    const last = plusDays(TODAY, 10);
    await post([line(0, due, '1.95', { handSet: { reason: 'boat fair', lastDay: last } })]);
    const before = await priceByDay(0);
    const mistaken = await post([line(0, '1.95', '7.00')]);
    shop.setDay(plusDays(TODAY, 2));
    const reversal = (await reverse(mistaken)).body as { posting: string; lines: number };
    expect(reversal.lines).toBe(1);
    const after = await priceByDay(0);
    expect(after.slice(2)).toEqual(before.slice(2));
    expect(after.slice(0, 2).map(Number), 'days gone by stay').toEqual([7, 7]);
    const written = await detail(reversal.posting);
    // one price goes back; the second line is what follows it
    const lines = await linesOf(admin, reversal.posting);
    expect([written.lines, written.dated, lines.map((l) => [l.from, l.lastDay, Number(l.after)])]).toEqual([
      1,
      true,
      [
        [plusDays(TODAY, 2), last, 1.95],
        [plusDays(TODAY, 11), null, Number(due)],
      ],
    ]);
    expect((await detail(mistaken)).reversedLines).toBe(1);
  });

  it('a price that was overtaken before today is not brought back over what overtook it', async () => {
    const later = await post([line(0, null, '9.00')], { effective: plusDays(TODAY, 3) });
    const earlier = await post([line(0, null, '8.00', { handSet: { reason: 'x', lastDay: plusDays(TODAY, 1) } })]);
    shop.setDay(plusDays(TODAY, 4));
    expect((await reverse(earlier)).status).toBe(200);
    expect((await priceByDay(0))[5]).toBe('9.00');
    expect((await detail(later)).reversedBy).toEqual([]);
  });

  it('only the chosen prices go back, the rest can follow', async () => {
    const posting = await post([line(0, null, '2.00'), line(1, null, '3.00'), line(2, null, '4.00')]);
    const one = [{ item: shop.shop.items[1]!, pack: shop.shop.packs[1]! }];
    const would = (await admin.post(`/postings/${posting}/reversal`, { lines: one })).body as Reversal;
    expect([would.free, would.changed]).toEqual([1, 0]);
    expect((await reverse(posting, { lines: one })).body).toMatchObject({ lines: 1 });
    const now = await Promise.all([0, 1, 2].map(async (n) => (await priceByDay(n))[0]));
    expect(now).toEqual(['2.00', null, '4.00']);
    expect((await detail(posting)).reversedLines).toBe(1);
    expect(((await reverse(posting, { lines: one })).body as { code: string }).code).toBe('already_reversed');
    expect((await reverse(posting)).body).toMatchObject({ lines: 2 });
  });

  it.each([3, 11, 29, 58, 71, 84, 90, 133])(
    'leaves every day to come as if it had never been posted, whatever stood: %i',
    async (seed) => {
      const dice = new Dice(seed);
      const day = () => plusDays(TODAY, dice.whole(0, 40));
      const dated = async () => {
        const effective = day();
        const lastDay = dice.next() < 0.6 ? plusDays(effective, dice.whole(0, 20)) : null;
        const typed = dice.next() < 0.5;
        const { counter, items, packs } = shop.shop;
        const seen = (await readPostedOf(shop.database.db, effective, [Number(items[0])])).find(
          (p) => p.list === counter,
        );
        // as a worksheet of that day would write it, typed or not
        const head = await shop.database.pool.query<{ id: number }>(
          `insert into postings (list_id, kind, reason, effective, posted_by, posted_at)
         values ($1, 'post', 'x', $2, (select min(id) from people), now()) returning id`,
          [counter, effective],
        );
        const price = `${dice.whole(1, 99)}.00`;
        await shop.database.pool.query(
          `insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after, hand_set_reason, last_day)
         values ($1,$2,$3,$4,$5,$6,$7,$8,$9)`,
          [
            head.rows[0]!.id,
            counter,
            items[0],
            packs[0],
            effective,
            seen?.price ?? null,
            price,
            typed ? 'x' : null,
            lastDay,
          ],
        );
        return String(head.rows[0]!.id);
      };
      for (let n = 0; n < 6; n++) await dated();
      const before = await priceByDay(0);
      const mistaken = await dated();
      if (dice.next() < 0.5) expect((await reverse(await dated())).status).toBe(200);
      const later = dice.whole(0, 45);
      shop.setDay(plusDays(TODAY, later));
      expect((await reverse(mistaken)).status).toBe(200);
      const begins = (await detail(mistaken)).effective;
      const from = begins > plusDays(TODAY, later) ? begins : plusDays(TODAY, later);
      const at = DAYS.indexOf(from);
      expect((await priceByDay(0)).slice(at)).toEqual(before.slice(at));
    },
  );
});
