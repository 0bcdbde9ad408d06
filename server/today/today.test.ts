import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Found } from '#contract/today.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  signIn,
  waitingFor,
} from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
let approver: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  approver = await signIn(shop.app, 'approver');
});
afterAll(() => shop.close());

/** What the check finds comes when it is done: it has a test of its own. */
const waiting = async (person: Person) => (await waitingFor(person)).filter((w) => w.kind !== 'findings');
const kinds = async (person: Person) => (await waiting(person)).map((w) => `${w.kind} ${w.count}`);
const cost = (item: number, amount: string) =>
  admin.post('/costs', {
    item: shop.shop.items[item],
    supplier: shop.shop.supplier,
    amount,
    currency: 'GBP',
    packUnits: '220',
    validFrom: TODAY,
  });

describe('what waits for whom', () => {
  it('prices that have never been posted, until they are', async () => {
    expect(await kinds(admin)).toEqual(['without_price 3', 'without_price 3']);
    await postAll(admin, shop.shop.counter);
    await postAll(admin, shop.shop.yards);
    expect(await kinds(admin)).toEqual([]);
  });

  it('a cost that moved: the list priced from cost first, the one that follows it after that is posted', async () => {
    await cost(0, '290.00');
    const [only] = await waiting(admin);
    expect(only).toMatchObject({ kind: 'price_changes', count: 1, to: `/lists/${shop.shop.counter}?show=changed` });
    await postAll(admin, shop.shop.counter);
    expect((await waiting(admin)).map((w) => w.to)).toEqual([`/lists/${shop.shop.yards}?show=changed`]);
    await postAll(admin, shop.shop.yards);
  });

  it('a posted price that lies below cost, and one that can no longer be computed', async () => {
    const { items, packs, counter, recipe } = shop.shop;
    await admin.post(`/lists/${counter}/postings`, {
      effective: TODAY,
      reason: 'clearance',
      lines: [
        {
          item: items[1],
          pack: packs[1],
          before: '2.90',
          after: '1.00',
          handSet: { reason: 'clearance', lastDay: null },
        },
      ],
    });
    expect(await kinds(admin)).toContain('below_floor 1');
    const seen = ((await admin.get('/recipes')).body as ({ id: string } & Record<string, unknown>)[]).find(
      (r) => r.id === recipe,
    )!;
    const { id: _, ...body } = seen;
    await admin.put(`/recipes/${recipe}`, { ...body, basis: { kind: 'rrp' } });
    expect(await kinds(admin)).toContain('without_cost 3');
    await admin.put(`/recipes/${recipe}`, { ...body, version: 2 });
  });

  it('a cost sheet in the inbox, for those who may see costs', async () => {
    await admin.bytes(
      `/cost-sheets?supplier=${shop.shop.supplier}&file=march.csv`,
      Buffer.from('Code,Cost\nR1,1.00\n'),
    );
    expect((await waiting(admin)).find((w) => w.kind === 'cost_sheet')?.text).toContain('march.csv from Rope works');
    expect(await kinds(seller)).toEqual([]);
  });

  it('a quote waits for the approver, and then for its writer', async () => {
    await admin.post('/floors', { name: 'Least margin', kind: 'margin', value: '60', outcome: 'ask', active: true });
    const line = {
      item: shop.shop.items[0],
      pack: shop.shop.packs[0],
      quantity: '10',
      reductionKind: null,
      reductionValue: null,
    };
    const quote = (await seller.post('/quotes', { customer: shop.shop.customers[0], lines: [line], note: '' }))
      .body as { id: string; version: number };
    const asked = (await seller.post(`/quotes/${quote.id}/ask`, { version: quote.version })).body as {
      version: number;
    };
    expect((await waiting(approver)).filter((w) => w.kind === 'quote_to_approve').map((w) => w.to)).toEqual([
      `/quotes/${quote.id}`,
    ]);
    await approver.post(`/quotes/${quote.id}/decide`, { version: asked.version, decision: 'approved' });
    expect((await waiting(approver)).some((w) => w.kind === 'quote_to_approve')).toBe(false);
    expect((await waiting(seller)).map((w) => w.kind)).toEqual(['quote_approved']);
  });
});

describe('one search', () => {
  const find = async (person: Person, text: string) =>
    (await person.get(`/search?text=${encodeURIComponent(text)}`)).body as Found[];
  it('finds items by code and name, lists, quotes by number and customer', async () => {
    expect((await find(admin, 'bl-1')).map((f) => f.detail)).toEqual(['BL-10', 'BL-12', 'BL-14']);
    expect((await find(admin, '14 mm')).map((f) => f.to)).toEqual([`/items/${shop.shop.items[2]}`]);
    expect((await find(admin, 'yard')).map((f) => f.kind)).toEqual(['quote', 'record', 'record', 'record', 'record']);
    expect((await find(admin, '2026-0001')).map((f) => f.title)).toEqual(['2026-0001']);
  });
  it('shows recipes only to those who may see costs', async () => {
    const told = async (person: Person) => (await find(person, 'counter')).map((f) => f.detail.split(' · ')[0]);
    expect(await told(seller)).toEqual(['list']);
    expect(await told(admin)).toEqual(['list', 'recipe', 'ladder']);
  });
  it('takes what was typed as text: signs of a pattern mean themselves', async () => {
    expect(await find(admin, '%')).toEqual([]);
    expect(await find(admin, '_')).toEqual([]);
    expect(await find(admin, "'; drop table items; --")).toEqual([]);
    expect(await find(admin, '   ')).toEqual([]);
  });
});
