import { describe, expect, it } from 'vitest';
import { replay } from '../buildup/steps.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { dec, plain } from '../numbers/decimal.ts';
import type { RungTerms } from '../rounding/ladder.ts';
import type { LandedTerms } from '../costs/cost.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { GUARD_NAMES } from '../guards/guards.ts';
import { computePrice } from '../lists/list-price.ts';
import examples from './examples/prices.json' with { type: 'json' };
import { BASES, GUARD_KINDS, type GuardTerms, UPLIFT_METHODS } from './recipe.ts';
import markups from './examples/markup.json' with { type: 'json' };
import { emptyWorkspace } from '../workspace/sample.ts';

const DAY = '2026-03-09';

interface Case {
  name: string;
  cost: string;
  currency?: string;
  packUnits?: string;
  rate?: string;
  weightKg?: string;
  landed?: LandedTerms;
  sellUnits?: string;
  deposit?: string;
  uplift: string[];
  tax?: string;
  taxIn?: boolean;
  ladder?: string;
  guards: GuardTerms[];
  rrp?: string;
  rrpTaxIn?: boolean;
  map?: string;
  advertised?: boolean;
  posted?: string;
  basis?: string;
  expect: Record<string, string | string[] | null>;
}

function workspaceOf(c: Case): Workspace {
  const currency = c.currency ?? 'EUR';
  const rungs = (examples.ladders as unknown as Record<string, RungTerms[]>)[c.ladder ?? ''];
  const taxIn = c.taxIn ?? c.tax !== undefined;
  return {
    ...emptyWorkspace(),
    items: [
      {
        id: 'i',
        sku: 'I-1',
        name: 'Item',
        unit: 'each',
        category: 'all',
        weightKg: c.weightKg ?? null,
        taxClass: 'standard',
        supplier: 's',
        rrp: c.rrp ? { amount: c.rrp, currency: 'EUR', taxIn: c.rrpTaxIn ?? false } : null,
        map: c.map ? { amount: c.map, currency: 'EUR' } : null,
        packs: [
          {
            id: 'p',
            name: 'pack',
            units: c.sellUnits ?? '1',
            deposit: c.deposit ? { amount: c.deposit, currency: 'EUR' } : null,
          },
        ],
      },
    ],
    suppliers: [{ id: 's', version: 1, name: 'Supplier', currency, landed: c.landed ?? {} }],
    costs: [
      {
        id: 'c',
        item: 'i',
        supplier: 's',
        cost: { amount: c.cost, currency },
        packUnits: c.packUnits ?? '1',
        from: '2026-01-01',
        origin: 'file',
        entry: 1,
      },
    ],
    rates: c.rate ? [{ from: currency, to: 'EUR', day: '2026-01-01', rate: c.rate }] : [],
    taxes: [{ taxClass: 'standard', percent: c.tax ?? '0', from: '2020-01-01' }],
    ladders: rungs ? [{ id: 'l', version: 1, name: 'Ladder', currency: 'EUR', rungs }] : [],
    recipes: [
      {
        id: 'r',
        version: 1,
        name: 'Recipe',
        basis: { kind: (c.basis ?? 'landed') as 'landed' },
        uplift: [{ id: 'u', scope: {}, method: c.uplift[0] as 'markup', value: c.uplift[1]! }],
        ladder: rungs ? 'l' : null,
        guards: c.guards,
      },
    ],
    lists: [
      {
        id: 'x',
        version: 1,
        name: 'List',
        currency: 'EUR',
        taxIn,
        advertised: c.advertised ?? false,
        active: true,
        groups: [],
        rank: 1,
        recipe: 'r',
      },
    ],
    posted: c.posted
      ? [{ list: 'x', item: 'i', pack: 'p', price: c.posted, from: '2026-01-01', posting: '1', entry: 1 }]
      : [],
  };
}

const cases = examples.cases as unknown as Case[];

describe('a price from cost to list', () => {
  it.each(cases)('$name', (c) => {
    const ws = new Prepared(workspaceOf(c));
    const found = computePrice(ws, { item: 'i', pack: 'p', list: 'x', day: DAY });
    if (!found.ok) throw new Error(JSON.stringify(found.reason));
    const p = found.value;
    const landed = landedCost(ws, ws.items.get('i')!, DAY);
    const actual: Record<string, unknown> = {
      price: plain(p.price),
      net: p.net.toFixed(4),
      taxInPrice: plain(p.taxInPrice),
      flag: p.flag,
      bit: p.bit,
      markup: p.markup?.toFixed(2) ?? null,
      margin: p.margin?.toFixed(2) ?? null,
      wouldFallTo: p.wouldFallTo ? plain(p.wouldFallTo) : null,
      unit: landed.ok ? plain(landed.value.unit) : null,
      landed: landed.ok ? plain(landed.value.landed) : null,
      beforeLadder: p.steps.find((s) => s.kind === 'ladder' || s.kind === 'decimals')?.before,
    };
    for (const [name, wanted] of Object.entries(c.expect)) {
      const exact =
        typeof wanted === 'string' && ['price', 'beforeLadder'].includes(name) ? plain(dec(wanted)) : wanted;
      expect({ [name]: actual[name] }).toEqual({ [name]: exact });
    }
    expect(replay(p.steps)).toEqual({ ok: true, figure: plain(p.price) });
  });

  it('has an example for every guard, basis and uplift method, so that none is sold untried', () => {
    expect(new Set(cases.flatMap((c) => c.guards.map((g) => g.kind)))).toEqual(new Set(GUARD_KINDS));
    expect(Object.keys(GUARD_NAMES).sort()).toEqual([...GUARD_KINDS].sort());
    expect(new Set([...cases.map((c) => c.basis ?? 'landed'), 'list'])).toEqual(new Set(BASES));
    const methods = new Set([...cases.map((c) => c.uplift[0]), ...markups.cases.map((c) => c.method)]);
    expect(methods).toEqual(new Set(UPLIFT_METHODS));
  });
});

describe('a price that cannot be computed says why', () => {
  const base = cases[0]!;
  const ask = (w: Workspace) => {
    const found = computePrice(new Prepared(w), { item: 'i', pack: 'p', list: 'x', day: DAY });
    return found.ok ? found.value.price.toFixed() : found.reason.code;
  };
  it('no cost on that day', () => expect(ask({ ...workspaceOf(base), costs: [] })).toBe('no_cost'));
  it('a cost that begins only later', () => {
    const w = workspaceOf(base);
    expect(ask({ ...w, costs: w.costs.map((c) => ({ ...c, from: '2026-03-10' })) })).toBe('no_cost');
  });
  it('no exchange rate', () => expect(ask({ ...workspaceOf(base), rates: [] })).toBe('no_exchange_rate'));
  it('freight by weight for an item without weight', () => {
    const w = workspaceOf(base);
    expect(ask({ ...w, items: w.items.map((i) => ({ ...i, weightKg: null })) })).toBe('no_weight');
  });
  it('no tax rate', () => expect(ask({ ...workspaceOf(base), taxes: [] })).toBe('no_tax_rate'));
  it('no recipe on the list', () => {
    const w = workspaceOf(base);
    expect(ask({ ...w, lists: w.lists.map((l) => ({ ...l, recipe: null })) })).toBe('no_recipe');
  });
  it('no uplift row that reaches the item', () => {
    const w = workspaceOf(base);
    expect(ask({ ...w, recipes: w.recipes.map((r) => ({ ...r, uplift: [] })) })).toBe('no_uplift_row');
  });
  it('RRP as the basis of an item without RRP', () => {
    const w = workspaceOf(base);
    expect(ask({ ...w, recipes: w.recipes.map((r) => ({ ...r, basis: { kind: 'rrp' as const } })) })).toBe('no_rrp');
  });
  it('two lists priced from each other', () => {
    const w = workspaceOf(base);
    const recipe = (id: string, list: string) => ({ ...w.recipes[0]!, id, basis: { kind: 'list' as const, list } });
    const list = (id: string, r: string) => ({ ...w.lists[0]!, id, recipe: r });
    expect(ask({ ...w, recipes: [recipe('a', 'y'), recipe('b', 'x')], lists: [list('x', 'a'), list('y', 'b')] })).toBe(
      'lists_in_a_circle',
    );
  });
  it('a take-off that leaves nothing', () => {
    const w = workspaceOf(base);
    expect(
      ask({
        ...w,
        recipes: w.recipes.map((r) => ({
          ...r,
          ladder: null,
          uplift: [{ id: 'u', scope: {}, method: 'percent_off' as const, value: '100' }],
        })),
      }),
    ).toBe('price_not_positive');
  });
});

describe('a list priced from another list', () => {
  const w = workspaceOf({ name: '', cost: '50', uplift: ['markup', '60'], tax: '20', guards: [], expect: {} });
  const trade: Workspace = {
    ...w,
    lists: [...w.lists, { ...w.lists[0]!, id: 'trade', name: 'Boatyards', taxIn: false, recipe: 't' }],
    recipes: [
      ...w.recipes,
      {
        ...w.recipes[0]!,
        id: 't',
        basis: { kind: 'list', list: 'x' },
        uplift: [{ id: 'u', scope: {}, method: 'percent_off', value: '12' }],
      },
    ],
  };
  it('takes 12 % off the net price of the other list, tax taken out first', () => {
    const found = computePrice(new Prepared(trade), { item: 'i', pack: 'p', list: 'trade', day: DAY });
    expect(found.ok && found.value.price.toFixed()).toBe('70.4');
    expect(found.ok && found.value.costSteps.map((s) => s.kind)).toEqual(['cost']);
  });
  it('follows the posted price, not the one that is only proposed', () => {
    const posted = {
      ...trade,
      posted: [{ list: 'x', item: 'i', pack: 'p', price: '90.00', from: '2026-01-01', posting: '7', entry: 1 }],
    };
    const found = computePrice(new Prepared(posted), { item: 'i', pack: 'p', list: 'trade', day: DAY });
    expect(found.ok && found.value.price.toFixed()).toBe('66');
  });
});
