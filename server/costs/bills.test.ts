import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BillBody, BillSummary, BillView } from '#contract/bills.ts';
import type { BuildUp } from '#contract/lists.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const line = (n: number, price: string, more: Partial<BillBody['lines'][number]> = {}) => ({
  item: shop.shop.items[n]!,
  kind: 'goods' as const,
  quantity: '2',
  packUnits: '220',
  price,
  ...more,
});
const bill = (number: string, lines: BillBody['lines'], more: Partial<BillBody> = {}): BillBody => ({
  supplier: shop.shop.supplier,
  number,
  day: TODAY,
  currency: 'GBP',
  note: null,
  lines,
  ...more,
});
const write = async (body: BillBody) => (await admin.post('/bills', body)).body as BillView;
const landedOf = async (n: number) =>
  ((await admin.get('/items')).body as { rows: { id: string; landed: string }[] }).rows.find(
    (i) => i.id === shop.shop.items[n],
  )!.landed;

describe('a supplier’s bill', () => {
  it('changes no cost while it is a draft, its costs once it is final, and nothing any more once taken back', async () => {
    const before = await landedOf(0);
    const draft = await write(bill('A-1', [line(0, '220.00'), line(1, '9.00', { kind: 'return' })]));
    expect(draft).toMatchObject({ state: 'draft', total: '422.00', lines: 2 });
    expect(draft.changes).toMatchObject([{ row: 1, kind: 'up', before: { amount: '214.50' }, changePercent: '2.56' }]);
    expect(await landedOf(0)).toBe(before);
    const final = (await admin.post(`/bills/${draft.id}/final`, { version: draft.version, looked: false }))
      .body as BillView;
    expect(final).toMatchObject({ state: 'final', finalBy: 'Ada', changes: draft.changes });
    expect(await landedOf(0)).not.toBe(before);
    expect((await admin.put(`/bills/${draft.id}`, { ...draft.body, version: final.version })).body).toMatchObject({
      code: 'bill_final',
    });
    const back = (await admin.post(`/bills/${draft.id}/take-back`, { version: final.version })).body as BillView;
    expect([back.state, await landedOf(0)]).toEqual(['draft', before]);
    // what counted once stays to be seen
    expect((await admin.delete(`/bills/${draft.id}`, { version: back.version })).body).toMatchObject({
      code: 'in_use',
    });
  });

  it('displaces a typed cost by its day, and a later price correction displaces it; what is sent back does not', async () => {
    await admin.post('/costs', {
      item: shop.shop.items[2],
      supplier: shop.shop.supplier,
      amount: '300.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: '2026-03-01',
    });
    const typed = await landedOf(2);
    const make = async (b: BillBody) => {
      const draft = await write(b);
      return admin.post(`/bills/${draft.id}/final`, { version: draft.version, looked: true });
    };
    await make(bill('A-2', [line(2, '310.00')]));
    const billed = await landedOf(2);
    expect(Number(billed)).toBeGreaterThan(Number(typed));
    await make(bill('A-3', [line(2, '305.00', { kind: 'correction', quantity: '1' })]));
    const corrected = await landedOf(2);
    expect(Number(corrected)).toBeLessThan(Number(billed));
    await make(bill('A-4', [line(2, '1.00', { kind: 'return' })]));
    expect(await landedOf(2)).toBe(corrected);
  });

  it('that asks a fee besides has its lines bear it by their amount; a price corrected later keeps that fee', async () => {
    const { counter, items, packs } = shop.shop;
    const feeIn = async () => {
      const why = (await admin.get(`/lists/${counter}/build-up/${items[1]}/${packs[1]}`)).body as BuildUp;
      return why.computed?.steps.find((s) => s.kind === 'order_fee')?.facts;
    };
    const draft = await write({ ...bill('F-1', [line(1, '300.00', { quantity: '2' })]), fee: '30' });
    await admin.post(`/bills/${draft.id}/final`, { version: draft.version, looked: true });
    expect(await feeIn()).toMatchObject({ 'fee of the bill': '30 GBP', 'over goods of': '600 GBP' });
    const later = await write(bill('F-2', [line(1, '290.00', { kind: 'correction' })]));
    await admin.post(`/bills/${later.id}/final`, { version: later.version, looked: true });
    expect(await feeIn()).toMatchObject({ 'fee of the bill': '30 GBP', 'over goods of': '600 GBP' });
  });

  it('whose costs look odd is not made final before somebody has looked', async () => {
    const draft = await write(bill('A-5', [line(1, '2.90'), line(1, '29.00')]));
    expect(draft.changes.map((c) => c.flags.includes('other_line'))).toEqual([true, true]);
    const refused = await admin.post(`/bills/${draft.id}/final`, { version: draft.version, looked: false });
    expect([refused.status, (refused.body as { code: string }).code]).toEqual([409, 'bill_looks_odd']);
    expect((await admin.post(`/bills/${draft.id}/final`, { version: draft.version, looked: true })).status).toBe(200);
  });

  it('is there once: the same number of the same supplier is refused, and so is what it lacks', async () => {
    expect((await admin.post('/bills', bill('A-1', [line(0, '1')]))).body).toMatchObject({ code: 'taken' });
    const wrong = { ...bill('A-6', [line(0, '1', { item: '99999' })]), supplier: '99999' };
    expect((await admin.post('/bills', wrong)).body).toMatchObject({ code: 'fields_wrong' });
    expect((await admin.post('/bills', bill('A-7', []))).status).toBe(422);
    expect((await admin.post('/bills', bill('A-7', [line(0, '1', { quantity: '0' })]))).status).toBe(422);
  });

  it('of two who change it one is told of the other, and a draft is thrown away', async () => {
    const draft = await write(bill('A-8', [line(0, '215.00')]));
    const change = (note: string) => admin.put(`/bills/${draft.id}`, { ...draft.body, note, version: draft.version });
    expect((await change('first')).status).toBe(200);
    expect((await change('second')).body).toMatchObject({ code: 'changed_meanwhile', current: { note: 'first' } });
    expect((await admin.delete(`/bills/${draft.id}`, { version: 2 })).status).toBe(200);
    const all = (await admin.get('/bills')).body as BillSummary[];
    expect(all.map((b) => b.number)).not.toContain('A-8');
  });
});
