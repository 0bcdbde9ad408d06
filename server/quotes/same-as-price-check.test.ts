import type { PriceCheck, QuoteTried } from '#contract/quotes.ts';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TODAY, type Person, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
let own: string;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter, TODAY, 'first prices');
  own = await made({ name: 'Own of one customer', customers: [shop.shop.customers[0]!], rank: 3 });
});
afterAll(() => shop.close());

const LIST = { currency: 'EUR', taxIn: true, advertised: false, active: false, groups: [], recipe: null };

/** A list that answers at once: a new one begins inactive. */
async function made(list: object): Promise<string> {
  const answer = await admin.post('/lists', { ...LIST, ...list });
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  const { id, ...kept } = answer.body as { id: string };
  expect((await admin.put(`/lists/${id}`, { ...kept, active: true })).status).toBe(200);
  return id;
}

const line = (quantity = '1') => ({
  item: shop.shop.items[0]!,
  pack: shop.shop.packs[0]!,
  quantity,
  section: null,
  reductionKind: null,
  reductionValue: null,
});
const tried = async (list: string | null, quantity?: string) =>
  (
    await admin.post('/quotes/figures', {
      ...{ customer: shop.shop.customers[0]!, list, listReason: list && 'asked for' },
      lines: [line(quantity)],
    })
  ).body as QuoteTried;
const checked = async () => {
  const { item, pack, quantity } = line();
  const asked = { customer: shop.shop.customers[0]!, group: null, country: null, channel: null };
  return (await admin.post('/price-check', { ...asked, item, pack, quantity, day: TODAY })).body as PriceCheck;
};

describe('a quote prices a line as the price check does', () => {
  it('where the customer’s own list has no price for the item: from the next list', async () => {
    const quote = await tried(null);
    expect(quote.list).toBe(own);
    const [asked] = quote.figures.lines;
    const [price] = (await checked()).figures.lines;
    expect(price!.unitPrice).not.toBeNull();
    expect([asked!.unitPrice, asked!.otherList]).toEqual([price!.unitPrice, price!.otherList]);
  });

  it('also where the seller chose that very list: it says itself that the next one answers', async () => {
    expect((await tried(own)).figures.lines[0]!.unitPrice).toBe((await checked()).figures.lines[0]!.unitPrice);
  });

  it('with the breaks of the list that its price is taken from', async () => {
    const parent = { list: shop.shop.counter, percent: null, factor: null, rate: null };
    const child = await made({ name: 'Falls back', customers: [shop.shop.customers[0]!], rank: 2, parent });
    const breaks = { name: 'from 10', list: shop.shop.counter, way: 'whole', count: 'line' };
    await admin.post('/breaks', { ...breaks, rows: [{ from: '10', kind: 'percent_off', value: '10' }] });
    const before = await tried(null, '9');
    expect([before.list, before.figures.lines[0]!.listPrice]).toEqual([child, before.figures.lines[0]!.unitPrice]);
    const reached = (await tried(null, '10')).figures.lines[0]!;
    expect(Number(reached.unitPrice)).toBeLessThan(Number(before.figures.lines[0]!.unitPrice));
    expect(reached.breakWords).toContain('10 and more: 10 % off');
    expect(reached.breakWords).toContain('from Counter');
  });
});

describe('a posting that is reversed leaves the price as if it had never been posted', () => {
  it('so that the parent answers again: only what was taken off a list is not sold from it', async () => {
    const parent = { list: shop.shop.counter, percent: '50', factor: null, rate: null };
    const child = await made({ name: 'Posted once', customers: [shop.shop.customers[0]!], rank: 1, parent });
    const asks = async () => (await tried(null)).figures.lines[0]!.unitPrice;
    const before = await asks();
    const { item, pack } = line();
    const posted = await admin.post(`/lists/${child}/postings`, {
      ...{ effective: TODAY, reason: 'by mistake' },
      lines: [{ item, pack, before: null, after: '99.00', handSet: { reason: 'by mistake' } }],
    });
    expect(posted.status, JSON.stringify(posted.body)).toBe(200);
    expect(await asks()).toBe('99.00');
    const [posting] = (posted.body as { postings: string[] }).postings;
    expect((await admin.post(`/postings/${posting}/reverse`, { reason: 'as it was' })).status).toBe(200);
    expect([before === null, await asks()]).toEqual([false, before]);
  });
});

describe('a price check that no list answers', () => {
  it('says which lists there are and why each does not', async () => {
    const lists = (await admin.get('/lists')).body as { id: string; version: number; active: boolean }[];
    for (const { id, ...list } of lists.filter((l) => l.active))
      expect((await admin.put(`/lists/${id}`, { ...list, active: false })).status).toBe(200);
    const found = await checked();
    expect(found.list).toBeNull();
    expect(found.figures.lines[0]!.reason).toContain('No price list is meant for');
    expect(found.leftOut).toContainEqual({ name: 'Counter', why: 'not active' });
  });
});
