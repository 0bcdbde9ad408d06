import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { QuoteView } from '#contract/quotes.ts';
import { type Person, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
let seller: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  seller = await signIn(shop.app, 'seller');
  await postAll(admin, shop.shop.counter);
  await postAll(admin, shop.shop.yards);
});
afterAll(() => shop.close());

type Kept = { id: string; version: number } & Record<string, unknown>;
const make = async (path: string, body: object) => {
  const answer = await admin.post(path, body);
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  return answer.body as Kept;
};
const faultsOf = async (path: string, body: object) => {
  const answer = await admin.post(path, body);
  return ((answer.body as { faults?: { path: string; message: string }[] }).faults ?? []).map((f) => f.path);
};
/** What a customer would pay for the first item. */
const quoted = async (customer = shop.shop.customers[0], quantity = '10') => {
  const lines = [
    { item: shop.shop.items[0], pack: shop.shop.packs[0], quantity, reductionKind: null, reductionValue: null },
  ];
  const answer = await seller.post('/quotes', { customer, lines, note: '' });
  return (answer.body as QuoteView).figures.lines[0]!;
};

describe('a declared record', () => {
  it('is kept, changed with its version, audited and removed', async () => {
    const region = await make('/regions', { name: 'North', countries: ['no', 'SE'], currency: 'EUR', tax: 'none' });
    expect(region).toMatchObject({ version: 1, countries: ['NO', 'SE'], inside: null });
    const { id, version, ...body } = region;
    const changed = await admin.put(`/regions/${id}`, { ...body, name: 'The north', version });
    expect((changed.body as Kept).version).toBe(2);
    expect((await admin.put(`/regions/${id}`, { ...body, version })).status).toBe(409);
    const [entry] = (await admin.get('/audit')).body as {
      subject: string;
      action: string;
      before: Kept;
      after: Kept;
    }[];
    expect([entry!.subject, entry!.action, entry!.before['name'], entry!.after['name']]).toEqual([
      'regions',
      'changed',
      'North',
      'The north',
    ]);
    expect((await admin.delete(`/regions/${id}`, { version: 2 })).status).toBe(200);
    expect((await admin.get('/regions')).body).toEqual([]);
  });

  it('is refused beside its field, by the rules of the file: shape, reference, what does not go together', async () => {
    const region = { name: 'R', countries: ['NO'], currency: 'EUR', tax: 'charged' };
    expect(await faultsOf('/regions', { ...region, countries: ['Norway'] })).toEqual(['countries[0]']);
    expect(await faultsOf('/regions', { ...region, inside: '987' })).toEqual(['inside']);
    expect(await faultsOf('/regions', { ...region, surprise: 1 })).not.toEqual([]);
    const reduction = { name: 'R', scope: {}, kind: 'percent_off', value: '5' };
    expect(await faultsOf('/reductions', reduction)).toEqual(['']);
    expect(
      await faultsOf('/reductions', { ...reduction, group: shop.shop.group, from: '2026-05-02', to: '2026-05-01' }),
    ).toEqual(['to']);
    expect(await faultsOf('/reductions', { ...reduction, group: shop.shop.group, scope: { item: '987' } })).toEqual([
      'scope.item',
    ]);
    expect(await faultsOf('/entries', { list: '987', scope: {}, kind: 'price', value: '1' })).toEqual(['list']);
    const set = { name: 'S', active: true, mode: 'first' };
    const rule = { id: '1', name: 'r', effects: [{ kind: 'percent', value: '-5' }] };
    expect(
      await faultsOf('/rules', { ...set, rules: [{ ...rule, when: { fact: 'item.colour', operator: 'is' } }] }),
    ).toEqual(['rules[0].when.fact']);
    expect(await faultsOf('/rules', { ...set, rules: [{ ...rule, effects: [{ kind: 'percent' }] }] })).toEqual([
      'rules[0].effects[0].value',
    ]);
  });

  it('what others point to stays, and they are named', async () => {
    const region = await make('/regions', { name: 'Inner', countries: ['DK'], currency: 'EUR', tax: 'charged' });
    const tax = await make('/tax-rates', {
      taxClass: 'standard',
      percent: '25',
      from: '2020-01-01',
      region: region.id,
    });
    const answer = await admin.delete(`/regions/${region.id}`, { version: 1 });
    expect([answer.status, (answer.body as { message: string }).message]).toEqual([
      409,
      expect.stringContaining('tax-rates'),
    ]);
    expect((await admin.delete(`/tax-rates/${tax.id}`, { version: 1 })).status).toBe(200);
    expect((await admin.delete(`/regions/${region.id}`, { version: 1 })).status).toBe(200);
  });

  it('a reader may look where that is allowed and changes nothing', async () => {
    const reader = await signIn(shop.app, 'reader');
    expect((await reader.get('/reductions')).status).toBe(200);
    expect((await reader.get('/rules')).status).toBe(403);
    expect((await reader.post('/reductions', {})).status).toBe(403);
  });
});

describe('what is kept counts', () => {
  it('a reduction for a group, and no longer once it is removed', async () => {
    const before = await quoted();
    const made = await make('/reductions', {
      name: 'Trade',
      group: shop.shop.group,
      scope: { item: shop.shop.items[0] },
      kind: 'percent_off',
      value: '10',
    });
    expect(Number((await quoted()).unitPrice)).toBeCloseTo(Number(before.unitPrice) * 0.9, 2);
    await admin.delete(`/reductions/${made.id}`, { version: made.version });
    expect(await quoted()).toMatchObject({ unitPrice: before.unitPrice });
  });

  it('an entry of a list stands instead of what was posted', async () => {
    const made = await make('/entries', {
      list: shop.shop.yards,
      scope: { item: shop.shop.items[0] },
      kind: 'price',
      value: '1.11',
    });
    expect((await quoted()).listPrice).toBe('1.11');
    await admin.delete(`/entries/${made.id}`, { version: made.version });
  });

  it('a rule, under its condition', async () => {
    const before = await quoted();
    const effects = [{ kind: 'percent', value: '-20' }];
    const made = await make('/rules', {
      name: 'Big lines',
      active: true,
      mode: 'first',
      rules: [
        { id: '1', name: 'from 100', when: { fact: 'line.quantity', operator: 'at_least', value: '100' }, effects },
      ],
    });
    expect((await quoted()).unitPrice).toBe(before.unitPrice);
    expect(Number((await quoted(shop.shop.customers[0], '100')).unitPrice)).toBeLessThan(Number(before.unitPrice));
    // what an effect of its kind does not ask for is not kept
    expect(((await admin.get('/rules')).body as { rules: { effects: object[] }[] }[])[0]!.rules[0]!.effects).toEqual(
      effects,
    );
    await admin.delete(`/rules/${made.id}`, { version: made.version });
  });

  it('charges, asks and refusals of rules stand on the quote, and an approval is for them too', async () => {
    const effects = [
      { kind: 'charge', name: 'Cutting', value: '3.50', currency: 'EUR', taxClass: 'standard' },
      { kind: 'ask' },
    ];
    const made = await make('/rules', {
      name: 'Cut',
      active: true,
      mode: 'every',
      rules: [{ id: '1', name: 'cut lengths', effects }],
    });
    const lines = [
      { item: shop.shop.items[0], pack: shop.shop.packs[0], quantity: '10', reductionKind: null, reductionValue: null },
    ];
    const quote = (await seller.post('/quotes', { customer: shop.shop.customers[0], lines, note: '' }))
      .body as QuoteView;
    const { figures } = quote;
    expect([figures.charges, figures.lines[0]!.asks, figures.outcome]).toMatchObject([
      [{ name: 'Cutting', total: '3.50', taxPercent: '20' }],
      ['cut lengths'],
      'asks_approval',
    ]);
    expect(Number(figures.net)).toBeCloseTo(Number(figures.lines[0]!.total) + 3.5, 2);
    const asked = (await seller.post(`/quotes/${quote.id}/ask`, { version: quote.version })).body as QuoteView;
    const approver = await signIn(shop.app, 'approver');
    const yes = (
      await approver.post(`/quotes/${quote.id}/decide`, { version: asked.version, decision: 'approved', note: '' })
    ).body as QuoteView;
    // the charge is raised after the yes: it was for another amount
    const { id, version, ...body } = made;
    const dearer = await admin.put(`/rules/${id}`, {
      ...body,
      rules: [{ id: '1', name: 'cut lengths', effects: [{ ...effects[0], value: '4.50' }, effects[1]] }],
      version,
    });
    expect(
      ((await seller.post(`/quotes/${quote.id}/issue`, { version: yes.version })).body as { code: string }).code,
    ).toBe('quote_figures_moved');
    await admin.put(`/rules/${id}`, {
      ...body,
      rules: [{ id: '1', name: 'never', effects: [{ kind: 'refuse' }] }],
      version: 2,
    });
    expect((await quoted()).refused).toEqual(['The rule "never" refuses the line.']);
    expect(dearer.status).toBe(200);
    await admin.delete(`/rules/${id}`, { version: 3 });
  });

  it('add-ons of a recipe and the offset of a rung, in the price that is proposed', async () => {
    const counter = async () =>
      ((await admin.get(`/lists/${shop.shop.counter}/prices`)).body as { rows: { proposed: string }[] }).rows[0]!
        .proposed;
    const before = await counter();
    const of = async (path: string, id: string) => ((await admin.get(path)).body as Kept[]).find((r) => r.id === id)!;
    const put = async (path: string, change: object) => {
      const { id, ...body } = await of(path.split('/').slice(0, 2).join('/'), path.split('/')[2]!);
      const answer = await admin.put(`/${path.split('/')[1]}/${id}`, { ...body, ...change });
      if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
      return answer.body as Kept;
    };
    const addOn = { id: '1', name: 'Spool', kind: 'amount', when: 'after', value: '1.00', per: 'pack', scope: {} };
    const recipe = await put(`/recipes/${shop.shop.recipe}`, {
      addOns: [addOn],
      basis: { kind: 'landed', cost: 'usual' },
    });
    expect(recipe['addOns']).toEqual([{ ...addOn, currency: null }]);
    expect(Number(await counter())).toBeGreaterThan(Number(before) + 1);
    await put(`/recipes/${shop.shop.recipe}`, { addOns: [] });
    expect(await counter()).toBe(before);
    const { rungs } = (await of('/ladders', shop.shop.ladder)) as unknown as { rungs: object[] };
    await put(`/ladders/${shop.shop.ladder}`, { rungs: rungs.map((r) => ({ ...r, offset: '-0.02' })) });
    expect(Number(await counter())).toBeCloseTo(Number(before) - 0.02, 2);
    await put(`/ladders/${shop.shop.ladder}`, { rungs });
  });

  it('further terms of a list: a parent gives the price that the list does not have', async () => {
    const list = await make('/lists', {
      name: 'Fair',
      currency: 'EUR',
      taxIn: false,
      rank: 1,
      customers: [shop.shop.customers[0]],
    });
    const { id, version, ...body } = list;
    expect(body['parent']).toBeNull();
    const parent = { list: shop.shop.yards, percent: '-10', factor: null, rate: null };
    const answer = await admin.put(`/lists/${id}`, { ...body, active: true, parent, version });
    expect(answer.status).toBe(200);
    const line = await quoted();
    expect(Number(line.listPrice)).toBeLessThan(1.76);
    expect(
      (await admin.put(`/lists/${id}`, { ...body, parent: { ...parent, list: '987' }, version: 2 })).body,
    ).toMatchObject({
      faults: [{ path: 'parent.list' }],
    });
    await admin.put(`/lists/${id}`, { ...body, active: false, version: 2 });
  });
});
