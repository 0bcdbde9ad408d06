import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { Findings, FindingsOfChange, MovesOfChange } from '#contract/findings.ts';
import type { ListPrices } from '#contract/lists.ts';
import type { Found } from '#contract/today.ts';
import { type Person, TODAY, type Workshop, openWorkshop, signIn, waitingFor } from '../platform/tests/workshop.ts';

interface Stored {
  id: string;
  version: number;
}

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const checked = () =>
  vi.waitFor(async () => {
    const now = (await admin.get('/findings')).body as Findings;
    if (now.stale !== false || now.running) throw new Error(`not checked yet: ${JSON.stringify(now)}`);
    return now;
  });

it('what is wrong in the set-up is found again after every change, named with its places, and counted on Today', async () => {
  const before = await checked();
  const region = { countries: ['NO'], currency: 'EUR', tax: 'charged' };
  for (const name of ['North', 'Coast']) await admin.post('/regions', { ...region, name });
  const stale = (await admin.get('/findings')).body as Findings;
  // until the next check is done the last one stays readable, and says so
  expect([stale.stale, stale.findings]).toEqual([true, before.findings]);
  const { findings, at } = await checked();
  expect(at).not.toBeNull();
  const two = findings.find((f) => f.code === 'country_in_two_regions')!;
  expect(two.places.map((p) => p.title).sort()).toEqual(['Coast', 'North']);
  expect(two.places[0]!.to).toMatch(/^\/setup\/regions\?open=\d+$/);
  const today = await waitingFor(admin);
  expect(today.find((w) => w.kind === 'findings')).toMatchObject({ count: findings.length, to: '/findings' });
});

it('they are asked for by kind, list, words or the record that they are about; all are counted whatever is asked for', async () => {
  const { findings, total, kinds } = await checked();
  const asked = async (query: Record<string, string>) =>
    (await admin.get(`/findings?${new URLSearchParams(query).toString()}`)).body as Findings;
  const two = findings.find((f) => f.code === 'country_in_two_regions')!;
  expect(kinds.find((k) => k.code === two.code)).toEqual({ code: two.code, message: two.message, count: 1 });
  expect(kinds.reduce((sum, k) => sum + k.count, 0)).toBe(total);
  const narrow: Record<string, string>[] = [
    { kind: two.code },
    { about: two.places[1]!.to! },
    { find: 'NORTH two regions' },
  ];
  for (const query of narrow) expect(await asked(query)).toMatchObject({ total, kinds, count: 1, findings: [two] });
  const [list] = findings.flatMap((f) => f.lists);
  const ofList = await asked({ list: list! });
  expect(ofList.findings).toEqual(findings.filter((f) => f.lists.includes(list!)));
  // a page begins where it is asked to
  expect((await asked({ at: '1' })).findings).toEqual(findings.slice(1));
  expect(await asked({ at: String(total) })).toMatchObject({ count: total, findings: [] });
  expect((await admin.get('/findings?kind=no_such')).body).toMatchObject({ faults: [{ path: 'kind' }] });
});

it('before a record is kept, what it would add and settle is told; nothing of it stays', async () => {
  const asked = (body: object, id: string | null = null, register = 'regions') =>
    admin.post('/findings/of-change', { register, id, body });
  const region = { name: 'Fjords', countries: ['NO', 'SE'], currency: 'EUR', tax: 'charged', inside: null };
  const [north] = (await admin.get('/regions')).body as { id: string; name: string }[];
  const told = (await asked({ ...region, name: 'North', countries: ['FI'] }, north!.id)).body as FindingsOfChange;
  // Norway is in one region again
  expect([told.adds.count, told.settles.findings.map((f) => f.code)]).toEqual([0, ['country_in_two_regions']]);
  const group = { name: 'second', customer: null, group: shop.shop.group, scope: {}, kind: 'percent_off', value: '2' };
  await admin.post('/reductions', { ...group, name: 'first' });
  const more = (await asked(group, null, 'reductions')).body as FindingsOfChange;
  expect([more.adds.findings.map((f) => f.code), more.settles.count]).toEqual([['reductions_tie'], 0]);
  expect(((await admin.get('/reductions')).body as object[]).length).toBe(1);
  // an item too: without a weight, freight cannot go by it
  const { id, version, ...item } = (await admin.get(`/items/${shop.shop.items[0]}`)).body as Stored;
  const lighter = (await asked({ ...item, weightKg: null }, id, 'items')).body as FindingsOfChange;
  expect(lighter.adds.findings.map((f) => f.code)).toContain('item_without_weight');
  expect((await admin.get(`/items/${id}`)).body).toEqual({ id, version, ...item });
  // what could not be kept is refused in the same words
  expect((await asked({ ...region, currency: 'EURO' })).body).toMatchObject({ code: 'fields_wrong' });
  expect((await asked(region, null, 'people')).status).toBe(404);
  const approver = await signIn(shop.app, 'approver');
  expect((await approver.post('/findings/of-change', { register: 'regions', id: null, body: region })).status).toBe(
    403,
  );
});

it('only whoever sees costs sees them', async () => {
  const seller = await signIn(shop.app, 'seller');
  expect((await seller.get('/findings')).status).toBe(403);
});

it('the search finds records of every kind by name, as far as the person may read them', async () => {
  const found = async (who: Person, text: string) =>
    ((await who.get(`/search?text=${text}`)).body as Found[]).map((f) => [f.title, f.detail]);
  await admin.post('/pools', { name: 'Coastal things', items: [{}] });
  await admin.post('/rules', {
    name: 'Coastal rule',
    active: true,
    mode: 'first',
    rules: [{ id: '1', name: 'r', effects: [{ kind: 'ask' }] }],
  });
  expect(await found(admin, 'coast')).toEqual([
    ['Coast', 'region'],
    ['Coastal things', 'pool'],
    ['Coastal rule', 'rule set'],
  ]);
  const seller = await signIn(shop.app, 'seller');
  expect(await found(seller, 'coast')).toEqual([
    ['Coast', 'region'],
    ['Coastal things', 'pool'],
  ]);
  expect(await found(admin, 'yard')).toContainEqual(['yards', 'customer group']);
});

describe('which prices a change would move', () => {
  const prices = async () =>
    Promise.all(
      [shop.shop.counter, shop.shop.yards].map(async (list) =>
        ((await admin.get(`/lists/${list}/prices`)).body as ListPrices).rows.map((r) => r.proposed),
      ),
    );

  it.each<[string, (row: Record<string, unknown>) => object]>([
    ['exchange-rates', () => ({ from: 'GBP', to: 'EUR', day: TODAY, rate: '1.2500' })],
    ['tax-rates', () => ({ taxClass: 'standard', percent: '25', from: TODAY })],
    ['suppliers', (row) => ({ ...row, landed: { ...(row['landed'] as object), dutyPercent: '12' } })],
    // a list that loses its recipe has no computed price any more
    ['lists', (row) => ({ ...row, recipe: null })],
  ])('of %s is what the lists show once it is kept', async (register, changed) => {
    const [row] = (await admin.get(`/${register}`)).body as (Record<string, unknown> & {
      id: string;
      version: number;
    })[];
    const { id, version, ...kept } = row!;
    const fresh = !['suppliers', 'lists'].includes(register);
    const body = changed(kept);
    const asked = { register, id: fresh ? null : id, body };
    const before = await prices();
    const answer = await admin.post('/findings/moves-of-change', asked);
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    expect(await prices()).toEqual(before);
    const told = answer.body as MovesOfChange;
    const done = fresh
      ? await admin.post(`/${register}`, body)
      : await admin.put(`/${register}/${id}`, { ...body, version });
    expect(done.status, JSON.stringify(done.body)).toBe(200);
    const after = await prices();
    const moved = after.map((list, i) => list.filter((p, n) => p !== before[i]![n]).length);
    expect(told.prices).toBeGreaterThan(0);
    expect(Object.fromEntries(told.lists.map((l) => [l.name, l.prices]))).toEqual(
      Object.fromEntries(
        [
          ['Counter', moved[0]!],
          ['Yards', moved[1]!],
        ].filter(([, n]) => n !== 0),
      ),
    );
  });

  it('is told of the day on which it begins, where that lies ahead', async () => {
    const terms = { supplier: shop.shop.supplier, scope: {}, from: '2026-04-01', dutyPercent: '30' };
    const told = async (from: string) => {
      const asked = { register: 'landed', id: null, body: { ...terms, from } };
      return (await admin.post('/findings/moves-of-change', asked)).body as MovesOfChange;
    };
    const [ahead, now] = [await told('2026-04-01'), await told(TODAY)];
    expect([ahead.day, now.day]).toEqual(['2026-04-01', TODAY]);
    expect([ahead.prices, ahead.lists.map((l) => l.name)]).toEqual([now.prices, now.lists.map((l) => l.name)]);
    expect(now.prices).toBeGreaterThan(0);
  });

  it('is told to nobody who may not change it', async () => {
    const seller = await signIn(shop.app, 'approver');
    const asked = {
      register: 'exchange-rates',
      id: null,
      body: { from: 'GBP', to: 'EUR', day: TODAY, rate: '2' },
    };
    expect((await seller.post('/findings/moves-of-change', asked)).status).toBe(403);
  });
});
