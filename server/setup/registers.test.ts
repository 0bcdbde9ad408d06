import { afterAll, beforeAll, describe, expect, it } from 'vitest';
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
  const row = { category: null, method: 'markup', value: '10' };
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
    expect(await faults({ basis: 'list' })).toMatchObject({ status: 422, paths: ['basisList'] }));
  it('names both rows that are equally specific', async () => {
    const tie = await faults({
      uplift: [
        { ...row, category: shop.shop.category },
        { ...row, category: shop.shop.category, value: '20' },
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
    const made = (await ada.post('/categories', { name: 'under rope', parentId: shop.shop.category })).body as {
      id: string;
    };
    const answer = await ada.put(`/categories/${shop.shop.category}`, { name: 'rope', parentId: made.id, version: 1 });
    expect([answer.status, (answer.body as { faults: { path: string }[] }).faults[0]!.path]).toEqual([422, 'parentId']);
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
      fromCurrency: 'USD',
      toCurrency: 'EUR',
      day: '2026-01-01',
      rate: '12345678901234.567890123',
    });
    expect((made.body as { rate: string }).rate).toBe('12345678901234.567890123');
  });
});

describe('items changed in the grid', () => {
  const item = async (n: number) =>
    ((await ada.get('/items')).body as { id: string; version: number; weightKg: string; name: string }[]).find(
      (i) => i.id === shop.shop.items[n],
    )!;
  it('a block is kept whole, and every item gets its new version', async () => {
    const [a, b] = [await item(0), await item(1)];
    const answer = await ada.post('/items/changes', {
      changes: [
        { item: a.id, version: a.version, field: 'weightKg', value: '0.0650' },
        { item: b.id, version: b.version, field: 'name', value: 'Line, 12 mm' },
      ],
    });
    expect(answer.body).toEqual({ versions: { [a.id]: a.version + 1, [b.id]: b.version + 1 } });
    expect([(await item(0)).weightKg, (await item(1)).name]).toEqual(['0.0650', 'Line, 12 mm']);
  });
  it('one cell that is wrong refuses the whole block, and says which', async () => {
    const [a, b] = [await item(0), await item(1)];
    const answer = await ada.post('/items/changes', {
      changes: [
        { item: a.id, version: a.version, field: 'name', value: 'changed' },
        { item: b.id, version: b.version, field: 'weightKg', value: 'heavy' },
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
    const change = (value: string) => ({ changes: [{ item: a.id, version: a.version, field: 'name', value }] });
    expect((await ada.post('/items/changes', change('mine'))).status).toBe(200);
    expect((await other.post('/items/changes', change('theirs'))).status).toBe(409);
    expect((await item(0)).name).toBe('mine');
  });
});
