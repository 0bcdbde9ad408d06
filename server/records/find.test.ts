import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { FoundRecord } from '#contract/records/found.ts';
import { POINTED_TO } from '#contract/records/declare.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { FINDABLE } from './find.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  for (let n = 1; n <= 30; n++) {
    const body = { name: `Harbour office ${n}`, groups: [shop.shop.group].flatMap((g) => g ?? []), active: true };
    expect((await admin.post('/customers', body)).status).toBe(200);
  }
});
afterAll(() => shop.close());

const found = async (register: string, text: string, who = admin) =>
  (await who.get(`/records-found?register=${register}&text=${encodeURIComponent(text)}`)).body as FoundRecord[];

describe('a record that is chosen by its name', () => {
  it('is found among however many by words in any order, twelve at a time, those that begin with them first', async () => {
    expect(await found('customers', 'harbour')).toHaveLength(12);
    expect((await found('customers', 'office 17')).map((r) => r.name)).toEqual(['Harbour office 17']);
    expect((await found('customers', '17 harb')).map((r) => r.name)).toEqual(['Harbour office 17']);
    await admin.post('/customers', { name: 'Old harbour office', groups: [], active: true });
    expect((await found('customers', 'harbour office')).some((r) => r.name === 'Old harbour office')).toBe(false);
    expect((await found('customers', 'old harbour')).map((r) => r.name)).toEqual(['Old harbour office']);
    expect(await found('customers', '%')).toEqual([]);
    expect((await found('customers', '')).length).toBe(12);
  });

  it('says what tells it from others of its name', async () => {
    const rope = (await admin.post('/categories', { name: 'Rope', parent: null })).body as { id: string };
    await admin.post('/categories', { name: 'Braided', parent: rope.id });
    expect(await found('categories', 'braided')).toMatchObject([{ name: 'Braided', detail: 'Rope' }]);
  });

  it('is named by its id, also when it is no longer active and can no longer be chosen', async () => {
    const gone = (await admin.post('/customers', { name: 'Closed yard', groups: [], active: false })).body as {
      id: string;
    };
    expect(await found('customers', 'closed yard')).toEqual([]);
    const named = await admin.post('/records-named', { of: [{ register: 'customers', ids: [gone.id] }] });
    expect(named.body).toMatchObject([{ register: 'customers', records: [{ id: gone.id, name: 'Closed yard' }] }]);
    const hidden = await seller.post('/records-named', { of: [{ register: 'suppliers', ids: [shop.shop.supplier] }] });
    expect(hidden.body).toEqual([]);
  });

  it('is not found in a register that one may not read, nor in one that is none', async () => {
    const asked = async (register: string) => (await seller.get(`/records-found?register=${register}&text=`)).status;
    expect([await asked('suppliers'), await asked('customers'), await asked('people')]).toEqual([403, 200, 404]);
  });

  it('can be of every kind that a field may point to', () => {
    const registers = FINDABLE.map((f) => f.register);
    const pointed = POINTED_TO.filter((to) => to !== 'items').map((to) => (to === 'groups' ? 'customer-groups' : to));
    expect(pointed.filter((to) => !registers.includes(to))).toEqual([]);
  });
});
