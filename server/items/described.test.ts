import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

interface Kept {
  id: string;
  version: number;
  [field: string]: unknown;
}
const itemAt = async (n: number) => (await admin.get(`/items/${shop.shop.items[n]!}`)).body as Kept;
const put = async (n: number, more: object) => {
  const { id, ...item } = await itemAt(n);
  return admin.put(`/items/${id}`, { ...item, ...more });
};
const faults = (answer: { body: unknown }) => (answer.body as { faults: { path: string; message: string }[] }).faults;

describe('what items are described by', () => {
  it('is free until something is declared, and is then chosen: a value that was missed by a letter is told', async () => {
    expect((await put(0, { brand: 'Kelwik', attributes: { colour: 'navy' } })).status).toBe(200);
    expect((await put(1, { attributes: { colour: 'Navy ' } })).status).toBe(200);
    for (const [register, body] of [
      ['/brands', { name: 'Kelwick' }],
      ['/attributes', { name: 'colour', kind: 'choice', unit: null, values: ['navy', 'red'] }],
      ['/attributes', { name: 'length', kind: 'number', unit: 'm', values: [] }],
    ] as const)
      expect((await admin.post(register, body)).status).toBe(200);
    const wrong = { brand: 'Kelwik', attributes: { colour: 'Navy', length: '8 m', girth: '4' } };
    expect(faults(await put(2, wrong))).toEqual([
      { path: 'brand', message: '“Kelwik” is not declared; is “Kelwick” meant?' },
      { path: 'attributes.colour', message: '“Navy” is not declared; is “navy” meant?' },
      { path: 'attributes.length', message: '“8 m” must be a number, without its unit; is “8” meant?' },
      { path: 'attributes.girth', message: '“girth” is declared under Setup, Attributes, before items have it' },
    ]);
    expect((await put(2, { brand: 'Kelwick', attributes: { colour: 'red', length: '8' } })).status).toBe(200);
  });
  it('in the grid too', async () => {
    const change = { item: shop.shop.items[1]!, field: 'brand', seen: '', value: 'Kelwak' };
    expect((await admin.post('/items/changes', { changes: [change] })).status).toBe(422);
  });
  it('a name is there once, whatever its case', async () => {
    expect(faults(await admin.post('/brands', { name: 'KELWICK' }))).toEqual([
      { path: 'name', message: 'is there already, as “Kelwick”' },
    ]);
  });
});

describe('values that are written in several ways', () => {
  it('are written in one, with the record of what stood there; not while a rule is tied to the other way', async () => {
    const rule = { name: 'Blue', scope: { attributes: { colour: 'Navy' } }, kind: 'percent_off', value: '1' };
    const made = (await admin.post('/reductions', { ...rule, group: shop.shop.group })).body as Kept;
    const merge = () => admin.post('/items/merge-values', { of: 'colour', from: ['Navy', 'Navy '], to: 'navy' });
    expect((await merge()).body).toMatchObject({ code: 'in_use', message: expect.stringContaining('Blue') as string });
    await admin.delete(`/reductions/${made.id}`, { version: made.version });
    const before = await itemAt(1);
    const astray = { of: 'colour', from: ['Navy'], to: 'nayv' };
    expect(faults(await admin.post('/items/merge-values', astray))).toMatchObject([{ path: 'to' }]);
    expect((await merge()).body).toEqual({ items: 1 });
    expect(await itemAt(1)).toMatchObject({ version: before.version + 1, attributes: { colour: 'navy' } });
    const audit = (await admin.get('/audit?subject=items')).body as { action: string; before: unknown }[];
    expect(audit.find((a) => a.action === 'wrote colour in one way')).toMatchObject({
      before: [{ value: expect.stringMatching(/^Navy ?$/) as string }],
    });
  });
});

describe('a name that others say', () => {
  it('neither goes nor changes, and says who says it', async () => {
    const [colour] = (await admin.get('/attributes')).body as [Kept];
    const { id, ...body } = colour;
    expect((await admin.delete(`/attributes/${id}`, { version: body.version })).body).toMatchObject({ code: 'in_use' });
    expect((await admin.put(`/attributes/${id}`, { ...body, name: 'hue' })).body).toMatchObject({ code: 'in_use' });
    expect((await admin.put(`/attributes/${id}`, { ...body, values: ['navy', 'red', 'teal'] })).status).toBe(200);
  });
  it('a tax class is not left while rates and items are of it, and a rate is of one that is declared', async () => {
    const kept = (await admin.post('/taxClasses', { name: 'standard' })).body as Kept;
    expect((await admin.delete(`/taxClasses/${kept.id}`, { version: 1 })).body).toMatchObject({ code: 'in_use' });
    const rate = { taxClass: 'standrd', percent: '20', from: '2026-01-01' };
    expect(faults(await admin.post('/tax-rates', rate))[0]).toMatchObject({ path: 'taxClass' });
  });
  it('goes once nobody says it', async () => {
    const made = (await admin.post('/brands', { name: 'Norrvaag' })).body as Kept;
    expect((await admin.delete(`/brands/${made.id}`, { version: 1 })).status).toBe(200);
  });
});
