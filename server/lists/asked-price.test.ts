import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PriceCheck } from '#contract/quotes.ts';
import type { ListPrices } from '#contract/lists.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());

const rows = async (list: string, day = TODAY) =>
  ((await admin.get(`/lists/${list}/prices?day=${day}`)).body as ListPrices).rows;
async function put(path: string, body: object): Promise<void> {
  const answer = await admin.post(path, body);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
}
const entry = (item: number, more: object) => ({
  list: shop.shop.counter,
  scope: { item: shop.shop.items[item] },
  kind: 'percent_off',
  onTop: false,
  zeroConfirmed: false,
  ladder: null,
  least: null,
  most: null,
  leastQuantity: null,
  order: null,
  from: null,
  to: null,
  ...more,
});

describe('what a list asks on the day', () => {
  it('is the posted price where nothing else stands', async () => {
    for (const r of await rows(shop.shop.counter))
      expect(r).toMatchObject({ asks: r.posted, source: 'posted', from: null, dated: null, usual: null });
  });
  it('is what the price check says anybody pays', async () => {
    for (const r of await rows(shop.shop.counter)) {
      const asked = { customer: null, item: r.item, pack: r.pack, quantity: '1', day: TODAY };
      const { figures } = (await admin.post('/price-check', asked)).body as PriceCheck;
      expect([r.sku, figures.lines[0]!.unitPrice]).toEqual([r.sku, r.asks]);
    }
  });
  it('is the dated price on its days, with the usual one beside it, and the posted one again after them', async () => {
    await put('/entries', entry(0, { value: '10', from: TODAY, to: '2026-03-20' }));
    const [first, second] = await rows(shop.shop.counter);
    expect(first).toMatchObject({ source: 'entry', dated: { from: TODAY, to: '2026-03-20' }, usual: first!.posted });
    expect(Number(first!.asks)).toBeCloseTo(Number(first!.posted) * 0.9, 2);
    expect(second).toMatchObject({ dated: null });
    expect((await rows(shop.shop.counter, '2026-03-21'))[0]).toMatchObject({ asks: first!.posted, dated: null });
  });
  it('is a typed price where one is kept, whatever is posted', async () => {
    await put('/entries', entry(1, { kind: 'price', value: '4.44' }));
    expect((await rows(shop.shop.counter))[1]).toMatchObject({ asks: '4.44', source: 'entry', dated: null });
  });
  it('is inherited with the change where the list has none, and says from which', async () => {
    expect((await rows(shop.shop.yards)).map((r) => r.source)).toEqual([null, null, null]);
    const lists = (await admin.get('/lists')).body as { id: string; version: number }[];
    const { id, version, ...body } = lists.find((l) => l.id === shop.shop.yards)!;
    const parent = { list: shop.shop.counter, percent: '-8', factor: null, rate: null };
    expect((await admin.put(`/lists/${id}`, { ...body, version, parent })).status).toBe(200);
    const inherited = await rows(shop.shop.yards);
    const above = await rows(shop.shop.counter);
    expect(inherited[2]).toMatchObject({ posted: null, source: 'parent', from: 'Counter' });
    // tax goes out, 8 % go off
    expect(Number(inherited[2]!.asks)).toBeCloseTo((Number(above[2]!.asks) / 1.2) * 0.92, 1);
    // a special of the parent is handed down as long as it stands
    expect(inherited[0]!.source).toBe('parent');
    expect(Number(inherited[0]!.asks)).toBeCloseTo((Number(above[0]!.asks) / 1.2) * 0.92, 1);
  });
});
