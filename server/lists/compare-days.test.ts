import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ComparedDays } from '#contract/compare-days.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';

const LATER = '2026-03-20';
let shop: Workshop;
let admin: Person;
let first: Record<string, string | null>;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  const { counter, items, packs } = shop.shop;
  await postAll(admin, counter);
  first = await postedOn(admin, counter, TODAY);
  shop.setDay(LATER);
  const typed = (n: number, after: string) => ({
    item: items[n]!,
    pack: packs[n]!,
    before: first[`${items[n]}/${packs[n]}`],
    after,
    handSet: { reason: 'asked for', lastDay: null },
  });
  const posted = await admin.post(`/lists/${counter}/postings`, {
    effective: LATER,
    reason: 'spring',
    lines: [typed(0, '9.00'), typed(1, '1.00')],
  });
  expect(posted.status, JSON.stringify(posted.body)).toBe(200);
  const taken = await admin.post('/items/changes', {
    changes: [{ item: items[2], field: 'name', seen: 'Braided line 14 mm', value: 'Braided line of 14 mm' }],
  });
  expect(taken.status, JSON.stringify(taken.body)).toBe(200);
});
afterAll(() => shop.close());

const compare = async (query: string, as = admin) => {
  const { status, body } = await as.get(`/lists/${shop.shop.counter}/days?${query}`);
  if (status !== 200) throw new Error(JSON.stringify(body));
  return body as ComparedDays;
};

describe('two days of a list', () => {
  it('are compared as each was: what rose, what fell, and how many stayed', async () => {
    const found = await compare(`from=${TODAY}&to=${LATER}`);
    expect([found.from, found.to, found.counts]).toEqual([TODAY, LATER, { up: 1, down: 1, new: 0, gone: 0, same: 1 }]);
    const prices = Object.values(first);
    expect(found.rows.map((r) => [r.sku, r.kind, r.before, r.after])).toEqual([
      ['BL-10', 'up', { price: prices[0], source: 'posted' }, { price: '9.00', source: 'posted' }],
      ['BL-12', 'down', { price: prices[1], source: 'posted' }, { price: '1.00', source: 'posted' }],
    ]);
    expect(Number(found.rows[0]!.changePercent)).toBeGreaterThan(Math.abs(Number(found.rows[1]!.changePercent)));
  });

  it('before anything was posted every price is asked since', async () => {
    expect((await compare(`from=2026-03-01&to=${TODAY}`)).counts).toEqual({ up: 0, down: 0, new: 3, gone: 0, same: 0 });
    expect((await compare(`from=${TODAY}&to=2026-03-01`)).counts.gone).toBe(3);
  });

  it('show what is asked for, word by word and page by page', async () => {
    const days = `from=${TODAY}&to=${LATER}`;
    expect((await compare(`${days}&shows=down`)).rows.map((r) => r.sku)).toEqual(['BL-12']);
    expect((await compare(`${days}&find=line+10`)).rows.map((r) => r.sku)).toEqual(['BL-10']);
    const second = await compare(`${days}&at=1`);
    expect([second.count, second.rows.map((r) => r.sku)]).toEqual([2, ['BL-12']]);
  });

  it('are seen by whoever sees prices; a day or a list that is none is told', async () => {
    const reader = await signIn(shop.app, 'reader');
    expect((await compare(`from=${TODAY}`, reader)).count).toBe(2);
    const wrong = await admin.get(`/lists/${shop.shop.counter}/days?from=yesterday`);
    expect([wrong.status, (wrong.body as { faults: object[] }).faults]).toEqual([
      422,
      [{ path: 'from', message: 'must be a day such as 2026-03-09' }],
    ]);
    expect((await admin.get(`/lists/999/days?from=${TODAY}`)).status).toBe(404);
    expect((await admin.get(`/lists/${shop.shop.counter}/days?from=${TODAY}&shows=odd`)).status).toBe(422);
  });
});
