import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import type { BuildUp } from '#contract/lists.ts';
import { bringFile } from '../platform/tests/bring-sheet.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

const shops: Workshop[] = [];
let shop: Workshop;
let admin: Person;
beforeEach(async () => {
  shop = await openWorkshop();
  shops.push(shop);
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => Promise.all(shops.map((s) => s.close())));

const bring = (row: string, heading: string) => bringFile(shop, admin, `${heading}\n${row}\n`);

describe('what more at once costs', () => {
  /** Facts of the cost a price is made from. */
  const costFacts = async () =>
    (
      (await admin.get(`/lists/${shop.shop.counter}/build-up/${shop.shop.items[0]}/${shop.shop.packs[0]}`))
        .body as BuildUp
    ).computed?.steps.find((s) => s.kind === 'cost')?.facts;
  const HEADING = 'Code,Net price,Pack size,Price 5+,Price 20+';

  it('is taken in with its cost, and counts once it is said how many are ordered at once', async () => {
    const sheet = await bring('R1,220.00,220,210.00,200.00', HEADING);
    expect(sheet.changes[0]!.after.quantityPrices).toEqual([
      { from: '5', cost: '210.00' },
      { from: '20', cost: '200.00' },
    ]);
    const { id: sheetId, version } = sheet;
    const taken = await admin.post(`/cost-sheets/${sheetId}/take-in`, { version, rows: null, rest: 'left_out' });
    expect(taken.status, JSON.stringify(taken.body)).toBe(200);
    const supplier = (
      (await admin.get('/suppliers')).body as { id: string; version: number; [name: string]: unknown }[]
    ).find((s) => s.id === shop.shop.supplier)!;
    const { id, ...body } = supplier;
    expect(
      (await admin.put(`/suppliers/${id}`, { ...body, landed: { ...(body['landed'] as object), usualOrder: '6' } }))
        .status,
    ).toBe(200);
    expect(await costFacts()).toMatchObject({
      'cost packs ordered at once': '6',
      'from 5 cost packs': '210.00 GBP',
      'for fewer': '220.00 GBP',
    });
    // the same again says nothing new, another price for more does
    const same = await bring('R1,220.00,220,210.00,200.00', HEADING);
    expect(same.changes[0]!.kind).toBe('unchanged');
    const cheaper = await bring('R1,220.00,220,209.00,200.00', HEADING);
    expect(cheaper.changes[0]).toMatchObject({ kind: 'down', changePercent: '-0.48' });
    const beyond = await bring('R1,220.00,220,210.00,199.00', HEADING);
    expect(beyond.changes[0]).toMatchObject({ kind: 'new', changePercent: '0' });
  });

  it('is typed too, once for each quantity', async () => {
    const typed = { item: shop.shop.items[0], supplier: shop.shop.supplier, currency: 'GBP', packUnits: '220' };
    const post = (quantityPrices: object[]) =>
      admin.post('/costs', { ...typed, amount: '220', validFrom: TODAY, quantityPrices });
    expect((await post([{ from: '5', cost: '210' }])).status).toBe(200);
    const kept = (await admin.get(`/items/${shop.shop.items[0]}/costs`)).body as { quantityPrices: object[] }[];
    expect(kept.at(-1)!.quantityPrices).toEqual([{ from: '5', cost: '210' }]);
    const twice = await post([
      { from: '5', cost: '210' },
      { from: '5.0', cost: '200' },
    ]);
    expect(twice.status).toBe(422);
  });
});
