import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ListAudience } from '#contract/lists.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let ada: Person;
let other: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  ada = await signIn(shop.app, 'administrator');
  other = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

type Recipe = { id: string; version: number; name: string; uplift: { method: string; value: string }[] } & Record<
  string,
  unknown
>;
const recipe = async (): Promise<Recipe> =>
  ((await ada.get('/recipes')).body as Recipe[]).find((r) => r.id === shop.shop.recipe)!;
const body = ({ id: _, ...rest }: Recipe) => rest;
const withMarkup = (r: Recipe, value: string) => ({ ...body(r), uplift: [{ ...r.uplift[0], value }] });

describe('two people change the same recipe', () => {
  it('the second is told, is shown both, and loses nothing', async () => {
    const seen = await recipe();
    expect((await ada.put(`/recipes/${seen.id}`, withMarkup(seen, '60'))).status).toBe(200);
    const late = await other.put(`/recipes/${seen.id}`, withMarkup(seen, '70'));
    expect([late.status, (late.body as { code: string }).code]).toEqual([409, 'changed_meanwhile']);
    const { message, current } = late.body as { message: string; current: Recipe };
    expect(message).toContain('Ada');
    expect([current.version, current.uplift[0]!.value]).toEqual([seen.version + 1, '60']);
    expect((await recipe()).uplift[0]!.value).toBe('60');
    expect(
      (await other.put(`/recipes/${seen.id}`, { ...withMarkup(seen, '70'), version: current.version })).status,
    ).toBe(200);
    expect((await recipe()).uplift[0]!.value).toBe('70');
  });
  it('at the very same moment, one wins and one is told', async () => {
    const seen = await recipe();
    const answers = await Promise.all([
      ada.put(`/recipes/${seen.id}`, withMarkup(seen, '61')),
      other.put(`/recipes/${seen.id}`, withMarkup(seen, '71')),
    ]);
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
    expect((await recipe()).version).toBe(seen.version + 1);
  });
  it('every change stands in the ledger with before and after', async () => {
    const entries = (await ada.get('/audit')).body as {
      subject: string;
      action: string;
      by: string;
      before: Recipe;
      after: Recipe;
    }[];
    const last = entries.find((e) => e.subject === 'recipes')!;
    expect([last.action, last.by, last.after.version - last.before.version]).toEqual(['changed', 'Ada', 1]);
  });
});

describe('what a record was before a change', () => {
  it('is kept again as a new version, of every kind that is changed by form', async () => {
    const pieces: [register: string, made: object, changed: object][] = [
      ['reductions', { name: 'a', group: shop.shop.group, scope: {}, kind: 'percent_off', value: '3' }, { value: '4' }],
      [
        'regions',
        { name: 'North', countries: ['IS'], currency: 'EUR', tax: 'none', inside: null },
        { countries: ['FO'] },
      ],
      ['customer-groups', { name: 'guests', rank: 7 }, { rank: 8 }],
    ];
    for (const [register, made, change] of pieces) {
      const first = (await ada.post(`/${register}`, made)).body as { id: string; version: number };
      const { id, ...now } = first;
      const second = (await ada.put(`/${register}/${id}`, { ...now, ...change })).body as { version: number };
      const [entry, begin, ...none] = (await ada.get(`/audit?subject=${register}&of=${id}`)).body as {
        before: typeof first;
      }[];
      expect([begin!.before, none]).toEqual([null, []]);
      const { id: _, ...before } = entry!.before;
      const back = await ada.put(`/${register}/${id}`, { ...before, version: second.version });
      expect(back.status, JSON.stringify(back.body)).toBe(200);
      expect(back.body).toEqual({ ...first, version: second.version + 1 });
    }
  });
});

describe('a recipe that cannot be kept', () => {
  const faults = async (change: object) => {
    const answer = await ada.put(`/recipes/${shop.shop.recipe}`, { ...body(await recipe()), ...change });
    const {
      code,
      faults: found,
      message,
    } = answer.body as { code: string; message: string; faults?: { path: string }[] };
    return { status: answer.status, code, paths: found?.map((f) => f.path), message };
  };
  const row = { id: '1', scope: {}, method: 'markup', value: '10' };
  it('names the field: a margin of 100 %', async () =>
    expect(await faults({ uplift: [{ ...row, method: 'margin', value: '100' }] })).toMatchObject({
      status: 422,
      paths: ['uplift[0].value'],
    }));
  it('names the field: text for a number', async () =>
    expect(await faults({ uplift: [{ ...row, value: 'many' }] })).toMatchObject({
      status: 422,
      paths: ['uplift[0].value'],
    }));
  it('names the field: a guard without its percentage', async () =>
    expect(await faults({ guards: [{ kind: 'least_margin' }] })).toMatchObject({
      status: 422,
      paths: ['guards[0].percent'],
    }));
  it('names the field: another list, but which', async () =>
    expect(await faults({ basis: { kind: 'list' } })).toMatchObject({ status: 422, paths: ['basis.list'] }));
  it('names both rows that are equally specific', async () => {
    const tie = await faults({
      uplift: [
        { ...row, scope: { category: shop.shop.category } },
        { ...row, id: '2', scope: { category: shop.shop.category }, value: '20' },
      ],
    });
    expect(tie).toMatchObject({ status: 422, code: 'rows_tie' });
    expect(tie.message).toMatch(/row 1 .*markup 10.*row 2 .*markup 20/);
  });
  it('an unknown field is refused, never dropped in silence', async () =>
    expect((await faults({ surprise: 1 })).status).toBe(422));
});

describe('registers', () => {
  it('a ladder with rungs that overlap is refused, with the rung', async () => {
    const rung = { step: '1', endings: ['0.95'], direction: 'nearest' };
    const answer = await ada.post('/ladders', {
      name: 'Overlapping',
      currency: 'EUR',
      rungs: [
        { ...rung, from: '0', to: '10' },
        { ...rung, from: '9', to: null },
      ],
    });
    expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([
      422,
      'rungs[1].from',
    ]);
  });
  it('a category cannot be laid below itself', async () => {
    const made = (await ada.post('/categories', { name: 'under rope', parent: shop.shop.category })).body as {
      id: string;
    };
    const answer = await ada.put(`/categories/${shop.shop.category}`, { name: 'rope', parent: made.id, version: 1 });
    expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([422, 'parent']);
  });
  it('what is still used cannot be removed', async () => {
    const answer = await ada.delete(`/suppliers/${shop.shop.supplier}`, { version: 1 });
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([409, 'in_use']);
  });
  it('a name that exists already is refused', async () =>
    expect((await ada.post('/customer-groups', { name: 'yards', rank: 2 })).status).toBe(409));
  it('a break table with the same quantity twice is refused', async () => {
    const rows = ['10', '10.0'].map((from) => ({ from, kind: 'percent_off', value: '5' }));
    expect(
      (await ada.post('/breaks', { name: 'Twice', list: shop.shop.counter, way: 'whole', count: 'item', rows })).status,
    ).toBe(422);
  });
  it('an exact figure comes back as it was typed, digit for digit', async () => {
    const made = await ada.post('/exchange-rates', {
      from: 'USD',
      to: 'EUR',
      day: '2026-01-01',
      rate: '12345678901234.567890123',
    });
    expect((made.body as { rate: string }).rate).toBe('12345678901234.567890123');
  });
});

describe('what a register refuses, beside the field', () => {
  const faultOf = async (path: string, body: object) => {
    const answer = await ada.post(path, body);
    const found = answer.body as { code: string; faults?: { path: string; message: string }[] };
    return [answer.status, found.faults?.[0]?.path ?? found.code];
  };
  const floor = { name: 'F', kind: 'margin', value: '20', outcome: 'ask' };
  it.each<[string, string, () => object, string]>([
    ['a floor by amount without a currency', '/floors', () => ({ ...floor, kind: 'amount', value: '5' }), 'currency'],
    ['a floor by a margin of 100 %', '/floors', () => ({ ...floor, value: '100' }), 'value'],
    ['a floor for a brand nobody has', '/floors', () => ({ ...floor, brand: 'Kelwik' }), 'brand'],
    [
      'freight without an amount',
      '/suppliers',
      () => ({ name: 'S', currency: 'EUR', landed: { freight: { per: 'kg', amount: null } } }),
      'landed.freight.amount',
    ],
    [
      'freight without a way to count it',
      '/suppliers',
      () => ({ name: 'S', currency: 'EUR', landed: { freight: { amount: { amount: '1', currency: 'EUR' } } } }),
      'landed.freight.per',
    ],
    [
      'handling without a currency',
      '/suppliers',
      () => ({ name: 'S', currency: 'EUR', landed: { handling: { amount: '1' } } }),
      'landed.handling.currency',
    ],
    [
      'breaks that give less for more',
      '/breaks',
      () => ({
        name: 'B',
        list: shop.shop.counter,
        way: 'whole',
        count: 'item',
        rows: [
          { from: '10', kind: 'percent_off', value: '8' },
          { from: '20', kind: 'percent_off', value: '5' },
        ],
      }),
      'rows[1].value',
    ],
    [
      'a new list that is active at once',
      '/lists',
      () => ({ name: 'L', currency: 'EUR', taxIn: true, rank: 9, active: true }),
      'active',
    ],
    ['a recipe that starts from a list that is not there', '/recipes', () => unknownBasis(), 'basis.list'],
  ])('%s', async (_, path, body, field) => expect(await faultOf(path, body())).toEqual([expect.any(Number), field]));
  const unknownBasis = () => ({
    name: 'R',
    basis: { kind: 'list', list: '987654' },
    ladder: null,
    uplift: [{ id: '1', scope: {}, method: 'markup', value: '10' }],
    guards: [],
  });
  it('a customer of the same name twice', async () => {
    const customer = { name: 'Twice & Co', groups: [], active: true };
    expect((await ada.post('/customers', customer)).status).toBe(200);
    expect((await ada.post('/customers', customer)).status).toBe(409);
  });
  it('a time zone nobody knows, which would lock everybody out; a second workspace; another currency over prices', async () => {
    const [settings] = (await ada.get('/settings')).body as ({ id: string; version: number } & Record<
      string,
      unknown
    >)[];
    const { id, ...now } = settings!;
    const put = async (change: object) => {
      const answer = await ada.put(`/settings/${id}`, { ...now, ...change });
      return [answer.status, (answer.body as { faults?: { path: string }[] }).faults?.[0]?.path];
    };
    expect(await put({ timeZone: 'Mars/Base' })).toEqual([422, 'timeZone']);
    expect(await put({ currency: 'EUX' })).toEqual([422, 'currency']);
    expect(await put({ currency: 'USD' })).toEqual([422, 'currency']);
    expect((await ada.post('/settings', now)).status).toBe(404);
    expect((await ada.get('/session')).status).toBe(200);
  });
});

describe('a record that becomes another case', () => {
  it('is not held to what only its case before asked for', async () => {
    const rows = [{ from: '10', kind: 'percent_off', value: '5' }];
    const body = { name: 'Becomes sliced', list: shop.shop.counter, way: 'whole', count: 'item', rows };
    const made = (await ada.post('/breaks', { ...body, neverMoreThanNext: true })).body as { id: string };
    const { id, ...kept } = made;
    const sliced = await ada.put(`/breaks/${id}`, { ...kept, way: 'sliced' });
    expect([sliced.status, sliced.body]).toEqual([200, expect.objectContaining({ way: 'sliced' })]);
    expect((sliced.body as { neverMoreThanNext: boolean }).neverMoreThanNext).toBe(false);
    const { version } = sliced.body as { version: number };
    await ada.delete(`/breaks/${id}`, { version });
  });
});

describe('two people at the same moment', () => {
  it('cannot take the right to administer from each other: one administrator remains', async () => {
    const own = await openWorkshop();
    const admin = await signIn(own.app, 'administrator');
    const eve = { name: 'Eve', signIn: 'eve', role: 'administrator', seesCost: true, active: true };
    await admin.post('/people', { ...eve, password: 'quite another long one 7' });
    const all = (await admin.get('/people')).body as ({ id: string; role: string } & Record<string, unknown>)[];
    const demote = ({ id, ...p }: { id: string }) =>
      admin.put(`/people/${id}`, { ...p, role: 'reader' }).then((a) => a);
    const answers = await own.heldBack(7305, () => all.filter((p) => p.role === 'administrator').map(demote));
    expect(answers.map((a) => a.status).sort()).toEqual([200, 422]);
    await own.close();
  });
  it('cannot lay two categories below each other', async () => {
    const made = async (name: string) =>
      (await ada.post('/categories', { name, parent: null })).body as { id: string; name: string; version: number };
    const [a, b] = [await made('left'), await made('right')];
    const below = (c: typeof a, parent: string) =>
      ada.put(`/categories/${c.id}`, { name: c.name, parent, version: c.version }).then((x) => x);
    const answers = await shop.heldBack(7304, () => [below(a, b.id), below(b, a.id)]);
    expect(answers.map((x) => x.status).sort()).toEqual([200, 422]);
  });
});

describe('a new list', () => {
  it('says whom it would answer if it were active, and for how many prices it has none', async () => {
    const list = (await ada.post('/lists', { name: 'Fair', currency: 'EUR', taxIn: true, rank: 1, groups: [] }))
      .body as { id: string } & Record<string, unknown>;
    expect(list['active']).toBe(false);
    const { id, version: _, ...body } = list;
    const audience = (await ada.post(`/lists/${id}/audience`, { ...body, active: true })).body as ListAudience;
    expect(audience).toMatchObject({ everyone: true, prices: shop.shop.packs.length, missing: shop.shop.packs.length });
    expect(audience.customers).toBeGreaterThan(0);
    // looking changes nothing
    expect(((await ada.get('/lists')).body as { id: string; active: boolean }[]).find((l) => l.id === id)!.active).toBe(
      false,
    );
  });
});

describe('items changed in the grid', () => {
  const item = async (n: number) =>
    (
      (await ada.get('/items')).body as { rows: { id: string; version: number; weightKg: string; name: string }[] }
    ).rows.find((i) => i.id === shop.shop.items[n])!;
  it('a block is kept whole', async () => {
    const [a, b] = [await item(0), await item(1)];
    const answer = await ada.post('/items/changes', {
      changes: [
        { item: a.id, field: 'weightKg', seen: a.weightKg, value: '0.0650' },
        { item: b.id, field: 'name', seen: b.name, value: 'Line, 12 mm' },
      ],
    });
    expect(answer.body).toEqual({ items: 2 });
    expect([(await item(0)).weightKg, (await item(1)).name]).toEqual(['0.0650', 'Line, 12 mm']);
  });
  it('one cell that is wrong refuses the whole block, and says which', async () => {
    const [a, b] = [await item(0), await item(1)];
    const answer = await ada.post('/items/changes', {
      changes: [
        { item: a.id, field: 'name', seen: a.name, value: 'changed' },
        { item: b.id, field: 'weightKg', seen: b.weightKg, value: 'heavy' },
      ],
    });
    expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([
      422,
      'BL-12, weightKg, "heavy"',
    ]);
    expect((await item(0)).name).toBe(a.name);
  });
  it('a cell that somebody else changed meanwhile is not overwritten', async () => {
    const a = await item(0);
    const change = (value: string) => ({ changes: [{ item: a.id, field: 'name', seen: a.name, value }] });
    expect((await ada.post('/items/changes', change('mine'))).status).toBe(200);
    const late = await other.post('/items/changes', change('theirs'));
    expect([late.status, (late.body as { current: unknown }).current]).toEqual([
      409,
      [{ item: a.id, sku: 'BL-10', field: 'name', now: 'mine', value: 'theirs', by: 'Ada' }],
    ]);
    expect((await item(0)).name).toBe('mine');
    // another field of the same item is nobody's conflict
    expect(
      (await other.post('/items/changes', { changes: [{ item: a.id, field: 'unit', seen: 'metre', value: 'm' }] }))
        .status,
    ).toBe(200);
  });
  it('an RRP keeps its currency: what was shown in pounds is changed in pounds', async () => {
    const a = await item(0);
    const rrp = async () => ((await item(0)) as unknown as { rrp: string | null }).rrp;
    const put = (seen: string, value: string) =>
      ada.post('/items/changes', { changes: [{ item: a.id, field: 'rrp', seen, value }] });
    expect((await put((await rrp()) ?? '', '24.00 GBP')).status).toBe(200);
    expect(await rrp()).toBe('24.00 GBP');
    expect((await put('24.00', '25.00')).status).toBe(409);
    expect((await put('24.00 GBP', '25.00')).status).toBe(200);
    expect(await rrp()).toBe('25.00 GBP');
  });
});
