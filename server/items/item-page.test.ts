import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ItemPage, ItemRow } from '#contract/items.ts';
import { dec } from '#core/numbers/decimal.ts';
import type { Found } from '#contract/today.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());

interface Body {
  id: string;
  version: number;
  packs: { id: string; name: string }[];
  [field: string]: unknown;
}
const page = async (id: string, person = admin, day = TODAY) =>
  (await person.get(`/items/${id}/page?day=${day}`)).body as ItemPage;
const record = async (id: string) => (await admin.get(`/items/${id}`)).body as Body;
const put = async (id: string, more: object) => {
  const { id: _, ...body } = await record(id);
  return admin.put(`/items/${id}`, { ...body, ...more });
};
const faultsOf = (answer: { body: unknown }) =>
  ((answer.body as { faults?: { path: string }[] }).faults ?? []).map((f) => f.path);
const codeOf = (answer: { body: unknown }) => (answer.body as { code?: string }).code;

const NEW = {
  sku: 'LAMP-1',
  name: 'Anchor light',
  category: '',
  unit: 'each',
  brand: 'Lusk',
  model: null,
  supplier: null,
  supplierCode: null,
  weightKg: '0.2',
  taxClass: 'standard',
  packs: [
    {
      id: '1',
      name: 'each',
      units: '1',
      barcode: '4006381333931',
      deposit: null,
      depositTaxClass: null,
      unitDeposit: null,
      unitDepositTaxClass: null,
    },
    {
      id: '2',
      name: 'crate',
      units: '12',
      barcode: null,
      deposit: { amount: '3', currency: 'EUR' },
      depositTaxClass: null,
      unitDeposit: { amount: '0.25', currency: 'EUR' },
      unitDepositTaxClass: 'standard',
    },
  ],
  rrp: { amount: '24', currency: 'GBP', taxIn: true },
  map: null,
  attributes: { colour: 'white' },
  order: { least: '2', most: null, step: null, for: [] as object[] },
  retiredFrom: null,
};

describe('an item', () => {
  let id: string;
  it('is made with packs, deposits, a barcode and what it is like, and comes back as it was sent', async () => {
    const answer = await admin.post('/items', { ...NEW, category: shop.shop.category });
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    id = (answer.body as Body).id;
    const { packs, ...kept } = await record(id);
    const { packs: sent, ...rest } = NEW;
    expect(kept).toMatchObject({ ...rest, category: shop.shop.category, version: 1 });
    expect(packs).toMatchObject(sent.map(({ id: _, ...p }) => p));
    const { rows } = await shop.database.pool.query<{ action: string }>(
      `select action from audit_entries where subject = 'items' and subject_id = $1`,
      [id],
    );
    expect(rows.map((r) => r.action)).toEqual(['created']);
  });
  it('is priced by what it is: the deposits of pack and units are in its price', async () => {
    const answer = await admin.post('/costs', {
      item: id,
      supplier: shop.shop.supplier,
      amount: '10',
      currency: 'EUR',
      packUnits: '1',
      validFrom: TODAY,
    });
    expect(answer.status).toBe(200);
    const { packs } = await record(id);
    const [each, crate] = await Promise.all(
      packs.map(
        async (p) =>
          (await admin.get(`/lists/${shop.shop.counter}/build-up/${id}/${p.id}`)).body as {
            computed: { price: string };
          },
      ),
    );
    // 12 units, and 3.00 + 12 × 0.25 of deposit, with the tax that goes on them
    expect(Number(crate!.computed.price)).toBeGreaterThan(12 * Number(each!.computed.price) + 6);
  });
  it('is found by its barcode, typed with spaces as it is printed', async () => {
    const found = (await admin.get(`/search?text=${encodeURIComponent('4 006381 333931')}`)).body as Found[];
    expect(found[0]).toMatchObject({ kind: 'item', id, to: `/items/${id}` });
  });
  it.each([
    ['a barcode with a slipped digit', { packs: [{ ...NEW.packs[0], barcode: '4006381333932' }] }, 'packs[0].barcode'],
    ['a category that is not there', { category: '999' }, 'category'],
    ['a tax class that has no rate', { taxClass: 'luxury' }, 'taxClass'],
    ['no pack at all', { packs: [] }, 'packs'],
    ['two packs of one name', { packs: [NEW.packs[0], { ...NEW.packs[1], name: 'Each' }] }, 'packs[1].name'],
    [
      'a limit for nobody',
      { order: { for: [{ customer: null, group: null, least: '5', most: null, step: null }] } },
      'order.for[0].customer',
    ],
    ['an amount without a currency', { rrp: { amount: '5', currency: null, taxIn: true } }, 'rrp.currency'],
  ])('is refused with %s', async (_, more, path) => {
    expect(faultsOf(await put(id, more))).toContain(path);
  });
  it('does not take the barcode or the SKU of another', async () => {
    const other = { ...NEW, category: shop.shop.category, sku: 'LAMP-2' };
    const answer = await admin.post('/items', other);
    expect(faultsOf(answer)).toEqual(['packs[0].barcode']);
    const again = await admin.post('/items', { ...other, sku: 'LAMP-1', packs: [{ ...NEW.packs[1], id: '1' }] });
    expect(codeOf(again)).toBe('taken');
  });
  it('keeps a pack that was posted, and loses one that never was', async () => {
    const [first] = shop.shop.items;
    const body = await record(first!);
    const drum = { ...NEW.packs[1]!, id: '99', name: 'drum', units: '220' };
    expect((await put(first!, { packs: [...body.packs, drum] })).status).toBe(200);
    const after = await record(first!);
    expect(after.packs.map((p) => p.name)).toEqual(['metre', 'drum']);
    expect(codeOf(await put(first!, { packs: [after.packs[1]!] }))).toBe('in_use');
    expect((await put(first!, { packs: [after.packs[0]!] })).status).toBe(200);
    expect((await record(first!)).packs.map((p) => p.name)).toEqual(['metre']);
  });
  it('is retired from a day on: sold before, not after, never while others follow it', async () => {
    const shown = async (day: string) =>
      ((await admin.get(`/items?day=${day}`)).body as { rows: ItemRow[] }).rows.some((i) => i.id === id);
    const group = await admin.post('/lockstep', { name: 'lamps', lead: id, members: [shop.shop.items[1]] });
    expect(group.status, JSON.stringify(group.body)).toBe(200);
    expect(codeOf(await put(id, { retiredFrom: '2026-04-01' }))).toBe('in_use');
    const { id: groupId, version } = group.body as { id: string; version: number };
    await admin.delete(`/lockstep/${groupId}`, { version });
    expect((await put(id, { retiredFrom: '2026-04-01' })).status).toBe(200);
    expect([await shown('2026-03-31'), await shown('2026-04-01')]).toEqual([true, false]);
    const gone = await page(id, admin, '2026-04-01');
    expect(gone).toMatchObject({ retiredFrom: '2026-04-01', lists: [] });
    expect((await put(id, { retiredFrom: null })).status).toBe(200);
    expect(await shown('2026-04-01')).toBe(true);
  });
});

describe('the page of an item', () => {
  it('shows every list’s price with its source, what reaches it, its quotes and its history', async () => {
    const [first] = shop.shop.items;
    await admin.post('/entries', {
      list: shop.shop.counter,
      scope: { item: first },
      kind: 'percent_off',
      value: '10',
      from: TODAY,
      to: '2026-03-20',
    });
    await admin.post('/quotes', {
      customer: shop.shop.customers[1],
      lines: [{ item: first, pack: shop.shop.packs[0], quantity: '3' }],
    });
    const found = await page(first!);
    const counter = found.lists.find((l) => l.id === shop.shop.counter)!.prices[0]!;
    expect(counter).toMatchObject({ source: 'entry', usual: counter.posted, lowest: counter.posted });
    expect(found.rules[0]).toMatchObject({ kind: 'entry', names: true });
    expect(found.quotes[0]).toMatchObject({ customer: 'Passer-by', quantity: '3', state: 'draft' });
    expect(found.history[0]).toMatchObject({ list: 'Counter', after: counter.posted, by: 'Ada' });
    expect(found.landed).not.toBeNull();
  });
  it('the lowest of 30 days counts a typed price on its days, and no longer than its last', async () => {
    const [item, pack] = [shop.shop.items[2]!, shop.shop.packs[2]!];
    const price = async (day: string) =>
      (await page(item, admin, day)).lists.find((l) => l.id === shop.shop.counter)!.prices[0]!;
    const usual = (await price(TODAY)).posted!;
    const typed = { reason: 'agreed', lastDay: '2026-03-12' };
    const lines = [{ item, pack, before: usual, after: '1.00', handSet: typed }];
    const sent = await admin.post(`/lists/${shop.shop.counter}/postings`, {
      effective: TODAY,
      reason: 'agreed',
      lines,
    });
    expect(sent.status, JSON.stringify(sent.body)).toBe(200);
    expect((await price('2026-03-12')).lowest).toBe('1.00');
    // thirty days after its last it is no earlier price any more
    expect(await price('2026-05-20')).toMatchObject({ posted: usual, lowest: usual });
  });
  it('names a rule by the SKU it asks for, never for a figure that looks like a number of ours, and ties of any channel', async () => {
    const id = shop.shop.items[1]!;
    const rule = (name: string, when: object) => ({ id: name, name, when, effects: [{ kind: 'ask' }] });
    const rules = [
      rule('by quantity', { fact: 'line.quantity', operator: 'at_least', value: id }),
      rule('by code', { any: [{ fact: 'item.sku', operator: 'one_of', values: ['BL-12'] }] }),
    ];
    const made = await admin.post('/rules', { name: 'both', active: true, mode: 'every', rules });
    expect(made.status, JSON.stringify(made.body)).toBe(200);
    const scope = { item: id, channel: 'fair' };
    await admin.post('/entries', { list: shop.shop.counter, scope, kind: 'percent_off', value: '3' });
    const found = (await page(id)).rules;
    expect(found.filter((r) => r.kind === 'attribute rule').map((r) => r.name)).toEqual(['by code']);
    expect(found.filter((r) => r.kind === 'entry' && r.detail.includes('fair'))).toHaveLength(1);
  });
  it('counts what is paid for now where a supplier’s cost is reduced, and keeps the usual one beside it', async () => {
    const item = shop.shop.items[1]!;
    const usual = {
      item,
      supplier: shop.shop.supplier,
      amount: '220',
      currency: 'GBP',
      packUnits: '220',
      validFrom: TODAY,
    };
    await admin.post('/costs', usual);
    const before = (await page(item)).landed!;
    await admin.post('/costs', { ...usual, reduced: '110' });
    const after = (await page(item)).landed!;
    expect(dec(after).lt(before)).toBe(true);
    const costs = (await admin.get(`/items/${item}/costs`)).body as { amount: string; reduced: string | null }[];
    expect(costs.at(-1)).toMatchObject({ amount: '220', reduced: '110' });
    const wrong = await admin.post('/costs', { ...usual, reduced: '-1' });
    expect(faultsOf(wrong)).toEqual(['reduced']);
  });
  it('shows neither cost nor the rules that are made from it to a seller', async () => {
    const seen = await page(shop.shop.items[0]!, seller);
    expect(seen.landed).toBeNull();
    expect(seen.rules.map((r) => r.kind)).not.toContain('floor');
    expect((await seller.put(`/items/${shop.shop.items[0]}`, { ...NEW, version: 1 })).status).toBe(403);
  });
  it('says so where there is no such item', async () => {
    expect((await admin.get('/items/99999/page')).status).toBe(404);
  });
});
