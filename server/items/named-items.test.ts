import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { NamedItem } from '#contract/items.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { items, packs } from './tables.ts';

let shop: Workshop;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  seller = await signIn(shop.app, 'seller');
  const [first, , third] = shop.shop.items.map(Number);
  const db = shop.database.db;
  await db.update(packs).set({ barcode: '4006381333931' }).where(eq(packs.itemId, third!));
  await db.update(items).set({ name: 'Line of 100 % hemp, like BL-12', model: 'Hemp' }).where(eq(items.id, first!));
});
afterAll(() => shop.close());

const found = async (text: string) =>
  ((await seller.get(`/items-found?text=${encodeURIComponent(text)}`)).body as NamedItem[]).map((i) => i.sku);

describe('an item that somebody looks for', () => {
  it('is found by words of its code and name in any order, the one with that very code first', async () => {
    expect(await found('braided 14')).toEqual(['BL-14']);
    expect(await found('LINE bl')).toEqual(['BL-10', 'BL-12', 'BL-14']);
    expect(await found('bl-12')).toEqual(['BL-12', 'BL-10']);
    expect(await found('   ')).toEqual([]);
  });

  it('is found by the barcode of a pack, with blanks or without', async () => {
    expect(await found('4006381333931')).toEqual(['BL-14']);
    expect(await found('4 006381 333931')).toEqual(['BL-14']);
  });

  it('holds what is typed for no pattern', async () => {
    expect(await found('100 %')).toEqual(['BL-10']);
    expect(await found('BL_10')).toEqual([]);
    expect(await found('\\')).toEqual([]);
  });

  it('is found no more once it is retired, and yet has its name in a line that it stands in', async () => {
    const id = Number(shop.shop.items[1]);
    await shop.database.db.update(items).set({ retiredFrom: '2026-03-01' }).where(eq(items.id, id));
    expect(await found('BL-12')).toEqual(['BL-10']);
    const named = (await seller.post('/items-named', { ids: [String(id)] })).body as NamedItem[];
    expect(named).toMatchObject([{ sku: 'BL-12', unit: 'metre', supplierName: 'Rope works', packs: [{ units: '1' }] }]);
  });
});

it('words that items are described by stand there once each', async () => {
  expect((await seller.get('/item-words?of=packs')).body).toEqual(['metre']);
  expect((await seller.get('/item-words?of=models')).body).toEqual(['Hemp']);
  expect((await seller.get('/item-words?of=colours')).status).toBe(422);
});
