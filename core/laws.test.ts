import fc from 'fast-check';
import { figure } from './reasons.ts';
import { describe, expect, it } from 'vitest';
import { runs } from './tests/runs.ts';
import { replay } from './buildup/steps.ts';
import { type GuardFacts, applyGuards, limitsOf } from './guards/guards.ts';
import { type Dec, dec, plain, settle } from './numbers/decimal.ts';
import { computePrice } from './lists/list-price.ts';
import { marginOf } from './recipes/markup.ts';
import { type GuardKind, type GuardTerms, UPLIFT_METHODS, type UpliftRow } from './recipes/recipe.ts';
import { type RungTerms, prepareLadder } from './rounding/ladder.ts';
import { Prepared } from './workspace/prepared.ts';
import type { Workspace } from './workspace/workspace.ts';
import { emptyWorkspace } from './workspace/sample.ts';

// Laws that hold for every workspace. fast-check prints the seed of a case that breaks one.

const DAY = '2026-03-09';
const cents = (min: number, max: number) => fc.integer({ min, max }).map((n) => dec(n).div(100).toFixed());

const rungs: fc.Arbitrary<RungTerms[]> = fc.constantFrom<RungTerms[]>(
  [],
  [{ from: '0', to: null, step: '1', endings: ['0.99'], direction: 'up' }],
  [
    { from: '0', to: '10', step: '1', endings: ['0.95'], direction: 'cuts', downUntil: '0.40', upFrom: '0.60' },
    { from: '10', to: null, step: '1', endings: ['0.49', '0.99'], direction: 'nearest' },
  ],
  [{ from: '5', to: '500', step: '0.05', endings: ['0'], direction: 'down' }],
);

const upliftRow: fc.Arbitrary<UpliftRow> = fc
  .record({
    method: fc.constantFrom(...UPLIFT_METHODS),
    value: fc.integer({ min: 1, max: 9500 }),
    category: fc.constantFrom(null, 'all', 'rope', 'braid'),
    pack: fc.constantFrom(null, 'drum'),
  })
  .map(({ method, value, category, pack }) => ({
    id: `${category}/${pack}`,
    scope: { category, pack },
    method,
    // percentages stay under 95, factors under 9.5
    value: dec(value)
      .div(method === 'multiply' ? 1000 : 100)
      .toFixed(),
  }));

const guards: fc.Arbitrary<GuardTerms[]> = fc.uniqueArray(
  fc
    .record({
      kind: fc.constantFrom<GuardKind>('not_below_cost', 'least_margin', 'least_markup', 'rrp', 'raise_only'),
      percent: fc.integer({ min: 1, max: 60 }),
    })
    .map(({ kind, percent }) => ({ kind, percent: String(percent) })),
  { selector: (g) => g.kind, maxLength: 4 },
);

/** A shop with two items in two packs, priced by a random recipe from a random supplier. */
const anyWorkspace: fc.Arbitrary<Workspace> = fc
  .record({
    costs: fc.tuple(cents(1, 900_000), cents(1, 900_000)),
    packUnits: fc.constantFrom('1', '3', '7', '220'),
    rate: fc.integer({ min: 1000, max: 20_000 }).map((n) => dec(n).div(10_000).toFixed()),
    duty: cents(0, 2500),
    freight: cents(0, 500),
    uplift: fc.uniqueArray(upliftRow, { selector: (r) => r.id, minLength: 1, maxLength: 4 }),
    tax: fc.constantFrom('0', '7.7', '20', '25'),
    taxIn: fc.boolean(),
    deposit: fc.option(cents(1, 2000)),
    rungs,
    guards,
    rrp: cents(100, 900_000),
    posted: fc.option(cents(1, 900_000)),
    currency: fc.constantFrom('EUR', 'SEK', 'JPY'),
  })
  .map((r): Workspace => {
    const item = (id: string, category: string) => ({
      id,
      sku: id,
      name: id,
      unit: 'metre',
      category,
      taxClass: 'standard',
      supplier: 's',
      weightKg: '0.064',
      rrp: { amount: r.rrp, currency: 'EUR' },
      packs: [
        { id: `${id}-1`, name: 'metre', units: '1' },
        {
          id: `${id}-d`,
          name: 'drum',
          units: '220',
          deposit: r.deposit ? { amount: r.deposit, currency: 'EUR' } : null,
        },
      ],
    });
    const everything: UpliftRow = { id: 'rest', scope: {}, method: 'markup', value: '50' };
    return {
      ...emptyWorkspace(),
      categories: [
        { id: 'all', name: 'all', parent: null },
        { id: 'rope', name: 'rope', parent: 'all' },
        { id: 'braid', name: 'braid', parent: 'rope' },
      ],
      items: [item('a', 'braid'), item('b', 'rope')],
      suppliers: [
        {
          id: 's',
          version: 1,
          name: 'Supplier',
          currency: 'GBP',
          landed: { freight: { per: 'kg', amount: { amount: r.freight, currency: 'EUR' } }, dutyPercent: r.duty },
        },
      ],
      costs: r.costs.map((amount, i) => ({
        id: `c${i}`,
        item: i === 0 ? 'a' : 'b',
        supplier: 's',
        cost: { amount, currency: 'GBP' },
        packUnits: r.packUnits,
        from: '2026-01-01',
        origin: 'file',
        entry: i,
      })),
      rates: [
        { from: 'GBP', to: 'EUR', day: '2026-01-01', rate: r.rate },
        { from: 'EUR', to: 'SEK', day: '2026-01-01', rate: '11.2050' },
        { from: 'EUR', to: 'JPY', day: '2026-01-01', rate: '161.37' },
      ],
      taxes: [{ taxClass: 'standard', percent: r.tax, from: '2020-01-01' }],
      ladders: [{ id: 'l', version: 1, name: 'Ladder', currency: r.currency, rungs: r.rungs }],
      recipes: [
        {
          id: 'r',
          version: 1,
          name: 'Recipe',
          basis: { kind: 'landed' },
          uplift: [...r.uplift.filter((u) => u.scope.category !== null || u.scope.pack !== null), everything],
          ladder: 'l',
          guards: r.guards,
        },
      ],
      lists: [
        {
          id: 'x',
          version: 1,
          name: 'List',
          currency: r.currency,
          taxIn: r.taxIn,
          advertised: false,
          active: true,
          groups: [],
          rank: 1,
          recipe: 'r',
        },
      ],
      posted: r.posted
        ? [{ list: 'x', item: 'a', pack: 'a-1', price: r.posted, from: '2026-01-01', posting: '1', entry: 1 }]
        : [],
    };
  });

const questions = [
  ['a', 'a-1'],
  ['a', 'a-d'],
  ['b', 'b-1'],
  ['b', 'b-d'],
] as const;
const ask = (ws: Prepared, [item, pack]: readonly [string, string]) =>
  computePrice(ws, { item, pack, list: 'x', day: DAY });
const withCost = (w: Workspace, factor: string): Workspace => ({
  ...w,
  costs: w.costs.map((c) => ({ ...c, cost: { ...c.cost, amount: dec(c.cost.amount).times(factor).toFixed() } })),
});

describe('laws of every price', () => {
  it('its build-up, done again step by step, reaches the very figure', () => {
    fc.assert(
      fc.property(anyWorkspace, (w) => {
        const ws = new Prepared(w);
        for (const q of questions) {
          const found = ask(ws, q);
          if (found.ok) expect(replay(found.value.steps)).toEqual({ ok: true, figure: plain(found.value.price) });
        }
      }),
      { numRuns: runs(2000) },
    );
  });

  it('asked twice, and in any order of items, it is the same', () => {
    fc.assert(
      fc.property(anyWorkspace, fc.shuffledSubarray([...questions], { minLength: 4 }), (w, order) => {
        const shown = (ws: Prepared, q: readonly [string, string]) => {
          const found = ask(ws, q);
          return found.ok ? [plain(found.value.price), found.value.flag, found.value.bit] : found.reason;
        };
        const first = new Prepared(w);
        const second = new Prepared({ ...w, items: [...w.items].reverse(), costs: [...w.costs].reverse() });
        const answers = new Map(questions.map((q) => [q, shown(first, q)]));
        for (const q of order) expect(shown(second, q)).toEqual(answers.get(q));
      }),
      { numRuns: runs(1000) },
    );
  });

  it('is never under its floors, whatever the ladder and the ceilings say', () => {
    fc.assert(
      fc.property(anyWorkspace, (w) => {
        const ws = new Prepared(w);
        for (const q of questions) {
          const found = ask(ws, q);
          if (!found.ok || !found.value.cost) continue;
          const { net, cost, price } = found.value;
          for (const guard of w.recipes[0]!.guards) {
            if (guard.kind === 'not_below_cost') expect(settle(net).gte(settle(cost))).toBe(true);
            if (guard.kind === 'least_margin') {
              expect(settle(marginOf(cost, net)!).toDecimalPlaces(20).gte(guard.percent!)).toBe(true);
            }
            if (guard.kind === 'raise_only' && q[1] === 'a-1')
              for (const first of [...w.posted].slice(0, 1)) expect(price.gte(first.price!)).toBe(true);
          }
        }
      }),
      { numRuns: runs(2000) },
    );
  });

  it('a higher cost never gives a lower price, where no ladder and no ceiling stand between', () => {
    fc.assert(
      fc.property(anyWorkspace, fc.integer({ min: 1001, max: 3000 }), (w, more) => {
        const free: Workspace = {
          ...w,
          recipes: [{ ...w.recipes[0]!, ladder: null, guards: w.recipes[0]!.guards.filter((g) => g.kind !== 'rrp') }],
        };
        const [cheap, dear] = [new Prepared(free), new Prepared(withCost(free, dec(more).div(1000).toFixed()))];
        for (const q of questions) {
          const [low, high] = [ask(cheap, q), ask(dear, q)];
          if (low.ok && high.ok) expect(high.value.price.gte(low.value.price)).toBe(true);
        }
      }),
      { numRuns: runs(2000) },
    );
  });

  it('is an exact decimal at the list’s own digits, or an ending of its ladder', () => {
    fc.assert(
      fc.property(anyWorkspace, (w) => {
        const ws = new Prepared(w);
        const list = w.lists[0]!;
        for (const q of questions) {
          const found = ask(ws, q);
          if (!found.ok || (found.value.bit[0] === 'raise only' && found.value.flag)) continue;
          const digits = Math.max(ws.decimalsOf(list), 2);
          expect(found.value.price.decimalPlaces()).toBeLessThanOrEqual(digits);
          expect(found.value.price.gt(0)).toBe(true);
        }
      }),
      { numRuns: runs(1000) },
    );
  });

  it('cost, freight, duty and the rest add up to the landed cost, part by part', () => {
    fc.assert(
      fc.property(anyWorkspace, (w) => {
        const found = ask(new Prepared(w), questions[0]);
        if (!found.ok) return;
        const parts = found.value.steps.filter((s) =>
          ['freight', 'duty', 'handling', 'overhead', 'order_fee'].includes(s.kind),
        );
        const start = found.value.steps.find((s) => s.kind === 'exchange')!;
        const sum = parts.reduce(
          (total: Dec, s) => total.plus(s.operation.op === 'plus' ? s.operation.value : '0'),
          dec(start.after),
        );
        expect(plain(sum)).toBe(parts.at(-1)?.after ?? start.after);
      }),
      { numRuns: runs(1000) },
    );
  });
});

describe('laws of guards', () => {
  const ladder = prepareLadder(
    [{ from: '0', to: null, step: '1', endings: ['0.49', '0.99'], direction: 'nearest' }],
    2,
  );
  const facts = (cost: string, rrp: string): GuardFacts => ({
    item: 'i',
    day: DAY,
    cost: figure(dec(cost)),
    rrp: dec(rrp),
    map: null,
    posted: null,
    advertised: false,
    toShown: (net) => net,
    inListCurrency: (value) => dec(value),
  });

  it('between floor and ceiling a price stays; outside it goes to the nearest price the ladder leaves alone, or is marked', () => {
    fc.assert(
      fc.property(cents(1, 50_000), cents(1, 50_000), cents(1, 50_000), (price, cost, rrp) => {
        const limits = limitsOf([{ kind: 'not_below_cost' }, { kind: 'rrp' }], facts(cost, rrp));
        if (!limits.ok) throw new Error(limits.reason.code);
        const found = applyGuards(ladder, dec(price), limits.value.limits);
        if (dec(price).gte(cost) && dec(price).lte(rrp))
          expect(found.price.eq(price) && found.flag === null).toBe(true);
        if (dec(cost).gt(rrp)) expect(found.flag).toBe('floor_above_ceiling');
        if (found.flag === 'bit') expect(found.price.gte(cost) && found.price.lte(rrp)).toBe(true);
        // the one case without any floor to stand on: a ceiling below the smallest ending
        if (found.flag !== 'no_ending_fits' || dec(cost).lte(rrp)) expect(found.price.gte(cost)).toBe(true);
        if (found.flag !== null) expect(found.bit.length).toBeGreaterThan(0);
      }),
      { numRuns: runs(5000) },
    );
  });
});
