import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TODAY, type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { packs } from '../items/tables.ts';

let shop: Workshop;
let admin: Person;
let line: string;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  line = shop.shop.items[0]!;
  // the first item is sold by the drum too
  await shop.context.db.insert(packs).values({ itemId: Number(line), name: 'drum', units: '220' });
});
afterAll(() => shop.close());

interface Refused {
  faults?: { path: string; message: string }[];
}
const faults = async (path: string, body: object) =>
  ((await admin.post(path, body)).body as Refused).faults?.map((f) => `${f.path}: ${f.message}`) ?? [];
const kept = async (path: string, body: object) => {
  const answer = await admin.post(path, body);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as { id: string; version: number };
};

describe('what an id or the order of rows would decide is refused when it is saved', () => {
  it('two tables of breaks for the same', async () => {
    const table = {
      list: shop.shop.counter,
      way: 'whole',
      count: 'line',
      rows: [{ from: '5', kind: 'percent_off', value: '5' }],
    };
    const first = await kept('/breaks', { ...table, name: 'First' });
    expect(await faults('/breaks', { ...table, name: 'Second' })).toEqual([
      'name: “First” is for the same items and buyers, so only one of the two would count: choose another item, category, pack or buyer',
    ]);
    await kept('/breaks', { ...table, name: 'Second', group: shop.shop.group });
    const { id, ...same } = first;
    expect((await admin.put(`/breaks/${id}`, same)).status).toBe(200);
  });

  it('a second default ladder of a currency', async () => {
    const rungs = [
      { from: '0', to: null, step: '1', endings: ['0.90'], direction: 'up', downUntil: null, upFrom: null },
    ];
    const ladder = { currency: 'EUR', byDefault: true, rungs };
    await kept('/ladders', { ...ladder, name: 'Retail' });
    expect(await faults('/ladders', { ...ladder, name: 'Other' })).toEqual([
      'byDefault: “Retail” is the default ladder of EUR already: make it no longer the default first',
    ]);
    await kept('/ladders', { ...ladder, name: 'Crowns', currency: 'SEK' });
  });

  it('a second exchange rate or tax rate of one day, which names what is known', async () => {
    const rate = { from: 'SEK', to: 'EUR', day: TODAY, rate: '0.0900' };
    const { id, ...first } = await kept('/exchange-rates', rate);
    expect(await faults('/exchange-rates', { ...rate, rate: '0.0910' })).toEqual([
      'day: SEK to EUR is known for this day already (0.0900): change that rate instead',
    ]);
    expect((await admin.put(`/exchange-rates/${id}`, { ...first, rate: '0.0910' })).status).toBe(200);
    const tax = { taxClass: 'standard', from: '2027-01-01', percent: '21', region: null };
    await kept('/tax-rates', tax);
    expect(await faults('/tax-rates', { ...tax, percent: '22' })).toEqual([
      'from: the rate of standard from this day is known already (21 %): change that rate instead',
    ]);
  });

  it('a list that ends before it begins, and a currency that does not exist', async () => {
    const list = {
      name: 'L',
      currency: 'EUR',
      taxIn: true,
      advertised: false,
      active: false,
      groups: [],
      recipe: null,
      rank: 5,
    };
    expect(
      (await faults('/lists', { ...list, from: '2026-05-02', to: '2026-05-01' })).map((f) => f.split(':')[0]),
    ).toEqual(['to']);
    expect(await faults('/lists', { ...list, currency: 'EUX' })).toEqual([
      'currency: “EUX” is no currency: write it like EUR',
    ]);
    await kept('/lists', { ...list, from: '2026-05-01', to: '2026-05-01' });
  });
});

describe('an exact price for an item of several packs says which one it is for', () => {
  const entry = (more: object) => ({ list: shop.shop.counter, kind: 'price', value: '2.05', ...more });
  const asks =
    'perUnit: BL-10 has several packs (metre, drum): name the pack this price is for, or mark it as a price per unit';

  it('in an entry', async () => {
    expect(await faults('/entries', entry({ scope: { item: line } }))).toEqual([asks]);
    await kept('/entries', entry({ scope: { item: line, pack: 'metre' } }));
    await kept('/entries', entry({ scope: { model: 'none has it' } }));
  });
  it('per unit it is for all of them', () => kept('/entries', entry({ scope: { item: line }, perUnit: true })));
  it('a percentage is for every pack', () =>
    kept('/entries', { ...entry({ scope: { item: line } }), kind: 'percent_off', value: '5', onTop: true }));
  it('an item of one pack leaves nothing open', () =>
    kept('/entries', entry({ scope: { item: shop.shop.items[1]! } })));
  it('for a category with everything below it', async () =>
    expect(await faults('/entries', entry({ scope: { category: shop.shop.category } }))).toEqual([asks]));
  it('in a discount', async () =>
    expect(
      await faults('/reductions', {
        name: 'R',
        group: shop.shop.group,
        scope: { item: line },
        kind: 'price',
        value: '2.05',
      }),
    ).toEqual([asks]));
  it('in a rule, unless its condition names the pack', async () => {
    const rule = { id: '1', name: 'r', effects: [{ kind: 'set_price', value: '2.05' }] };
    const set = { name: 'S', active: true, mode: 'first' };
    expect((await faults('/rules', { ...set, rules: [rule] }))[0]).toContain(
      'rules[0].effects[0].perUnit: BL-10 has several packs',
    );
    const when = { fact: 'line.pack', operator: 'is', value: 'metre' };
    await kept('/rules', { ...set, rules: [{ ...rule, when }] });
    await kept('/rules', { ...set, name: 'T', rules: [{ ...rule, effects: [{ ...rule.effects[0], perUnit: true }] }] });
  });
});
