import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ItemFileCheck, ItemFileTaken } from '#contract/item-file.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const out = async (decimal = '') => (await admin.get(`/item-file${decimal}`)).text;
const check = async (text: string, more = '') =>
  admin.bytes(`/item-file/check?file=items.csv${more}`, Buffer.from(text));
const seen = async (text: string, more = '') => (await check(text, more)).body as ItemFileCheck;
const take = (text: string, { state, decimal }: ItemFileCheck) =>
  admin.bytes(
    `/item-files?file=items.csv&state=${state}&decimal=${decimal === ',' ? 'comma' : 'point'}`,
    Buffer.from(text),
  );
const itemOf = async (sku: string) => {
  const rows = ((await admin.get('/items')).body as { rows: { id: string; sku: string }[] }).rows;
  const id = rows.find((r) => r.sku === sku)?.id;
  return id === undefined ? null : ((await admin.get(`/items/${id}`)).body as Record<string, unknown>);
};

describe('items as a file', () => {
  it.each(['', '?decimal=comma'])('that comes back as it went out changes nothing%s', async (form) => {
    const text = await out(form);
    expect(text.split('\r\n')[0]).toContain('SKU');
    expect((await seen(text)).counts).toEqual({ new: 0, changed: 0, same: 3, faulty: 0 });
  });

  it('shows each change before it is taken, makes new items, leaves alone what has no column, and is taken back whole', async () => {
    const before = [await itemOf('BL-10'), await itemOf('BL-12')];
    const text = [
      'sku;name;weight kg;Unit;Category;Tax class;RRP;RRP currency;Pack 1;Units 1;Pack 2;Units 2;Deposit 2;Deposit tax class 2;Unit deposit 2;colour of the shelf',
      'BL-10;Braided line 10 mm;0,071;metre;Rope;standard;;;metre;1;drum;220;3,60;standard;0,25 SEK;red',
      'BL-12;Braided line 12 mm;0,064;metre;Rope;standard;4,20;GBP;metre;1;;;;;;red',
      'BL-16;Braided line 16 mm;0,1;metre;Rope;standard;;;metre;1;;;;;;blue',
    ].join('\n');
    const found = await seen(text);
    expect([found.decimal, found.unknown, found.counts]).toEqual([
      ',',
      ['colour of the shelf'],
      { new: 1, changed: 2, same: 0, faulty: 0 },
    ]);
    expect(found.rows[0]).toMatchObject({ row: 2, sku: 'BL-10' });
    expect(found.rows[0]!.changes).toEqual([
      { column: 'Weight, kg', before: '0.064', after: '0.071' },
      { column: 'Pack 2', before: '', after: 'drum' },
      { column: 'Units 2', before: '', after: '220' },
      { column: 'Deposit 2', before: '', after: '3.60 EUR' },
      { column: 'Deposit tax class 2', before: '', after: 'standard' },
      { column: 'Unit deposit 2', before: '', after: '0.25 SEK' },
    ]);
    expect(await itemOf('BL-16')).toBeNull();
    const taken = (await take(text, found)).body as ItemFileTaken;
    expect(taken).toMatchObject({ new: 1, changed: 2, takenBy: 'Ada' });
    expect(await itemOf('BL-10')).toMatchObject({
      weightKg: '0.071',
      supplierCode: 'R1',
      packs: [{}, { name: 'drum' }],
    });
    expect(await itemOf('BL-12')).toMatchObject({ rrp: { amount: '4.20', currency: 'GBP' } });
    expect(await itemOf('BL-16')).toMatchObject({ name: 'Braided line 16 mm', packs: [{ name: 'metre', units: '1' }] });
    expect((await seen(text)).counts.same).toBe(3);
    expect((await admin.post(`/item-files/${taken.id}/take-back`, {})).body).toEqual({ items: 3 });
    const after = [await itemOf('BL-10'), await itemOf('BL-12')];
    expect(after.map((i) => ({ ...i, version: 0 }))).toEqual(before.map((i) => ({ ...i, version: 0 })));
    expect(await itemOf('BL-16')).toBeNull();
    expect(((await admin.get('/item-files')).body as ItemFileTaken[])[0]).toMatchObject({ takenBack: true });
  });

  it('takes a figure that differs in its last digit, however many it has', async () => {
    const weights = ['12345678.0000000001', '12345678.0000000002'];
    const text = (weight: string) => `SKU,"Weight, kg"\nBL-14,${weight}\n`;
    for (const weight of weights) {
      const found = await seen(text(weight));
      expect([weight, found.counts.changed]).toEqual([weight, 1]);
      await take(text(weight), found);
    }
    expect(await itemOf('BL-14')).toMatchObject({ weightKg: weights[1] });
    const back = text('0.064');
    await take(back, await seen(back));
  });

  it('tells what is wrong by row and column, and takes the rows that are right', async () => {
    const text = [
      'SKU,Name,Weight,Category,Tax class,Unit,Barcode 1,Units 1,Pack 1',
      'BL-10,,heavy,Rope,standard,metre,,1,metre',
      'BL-12,Line of twelve,0.064,Sails,standard,metre,,1,metre',
      'BL-12,Line of twelve,0.064,Rope,standard,metre,,1,metre',
      'BL-14,Line of fourteen,0.064,Rope,standard,metre,123,1,metre',
      'BL-18,,0.2,Rope,luxury,metre,,1,metre',
      'BL-20,Line of twenty,0.2,Rope,standard,metre,,1,metre',
    ].join('\n');
    const found = await seen(text.replace('Weight', 'Weight (kg)'));
    expect(found.counts).toEqual({ new: 1, changed: 0, same: 0, faulty: 5 });
    expect(found.faults.map((f) => `${f.row} ${f.column}: ${f.value}`)).toEqual([
      '2 Name: ',
      '2 Weight, kg: heavy',
      '3 Category: Sails',
      '4 SKU: BL-12',
      '5 Packs it is sold in: ',
      '6 Name: ',
      '6 Tax class: luxury',
    ]);
    expect(found.faults.map((f) => f.message)).toContain('is no number with a decimal point');
  });

  it('makes a new item like one that is there, but for what the row says and for its codes', async () => {
    const text =
      'SKU,Like,Name,Weight kg\nBL-10-R,BL-10,Braided line 10 mm red,0.07\nBL-10-G,BL-11,Green,\nBL-12,BL-10,Twelve,\n';
    const found = await seen(text);
    expect(found.faults).toMatchObject([
      { row: 3, column: 'Like', value: 'BL-11' },
      { row: 4, column: 'SKU', value: 'BL-12', message: 'is there already' },
    ]);
    const taken = (await take(text, found)).body as ItemFileTaken;
    const { supplierCode, ...of } = (await itemOf('BL-10'))!;
    expect([supplierCode, (await itemOf('BL-10-R'))!['supplierCode']]).toEqual(['R1', null]);
    expect(await itemOf('BL-10-R')).toMatchObject({
      ...{ category: of['category'], unit: of['unit'], supplier: of['supplier'], taxClass: of['taxClass'] },
      ...{ name: 'Braided line 10 mm red', weightKg: '0.07', packs: [{ name: 'metre', units: '1', barcode: null }] },
    });
    expect((await admin.post(`/item-files/${taken.id}/take-back`, {})).status).toBe(200);
  });

  it('is refused where the books changed since it was looked at, and where it is no table of items', async () => {
    const text = 'SKU,Name\nBL-10,Another name\n';
    const found = await seen(text);
    await admin.post('/categories', { name: 'Sails', parent: null });
    expect((await take(text, found)).body).toMatchObject({ code: 'item_file_state' });
    expect((await itemOf('BL-10'))?.['name']).toBe('Braided line 10 mm');
    for (const [file, why] of [
      ['', 'empty'],
      ['code,name\n1,2\n', 'SKU'],
      ['%PDF-1.7', 'PDF'],
    ] as const)
      expect((await check(file)).body).toMatchObject({
        code: 'sheet_unreadable',
        message: expect.stringContaining(why),
      });
  });

  it('is not taken back over what somebody changed since, nor where what it made has a cost', async () => {
    const text =
      'SKU,Name,Category,Unit,Tax class\nBL-14,Fourteen,Rope,metre,standard\nBL-22,Twenty-two,Rope,metre,standard\n';
    const taken = (await take(text, await seen(text))).body as ItemFileTaken;
    const made = (await itemOf('BL-22'))!;
    const cost = { item: made['id'], supplier: shop.shop.supplier, amount: '3', reduced: null, currency: 'EUR' };
    await admin.post('/costs', { ...cost, packUnits: '1', validFrom: '2026-03-01' });
    expect((await admin.post(`/item-files/${taken.id}/take-back`, {})).body).toMatchObject({ code: 'in_use' });
    const { id, ...body } = (await itemOf('BL-14'))!;
    await admin.put(`/items/${String(id)}`, { ...body, name: 'Fourteen millimetres' });
    expect((await admin.post(`/item-files/${taken.id}/take-back`, {})).body).toMatchObject({
      code: 'item_file_outdated',
    });
    expect((await itemOf('BL-14'))?.['name']).toBe('Fourteen millimetres');
  });
});
