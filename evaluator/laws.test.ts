import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readWorkspace, writeWorkspace } from '#contract/workspace-file/workspace-file.ts';
import { type Step, replay } from '#core/buildup/steps.ts';
import { answer } from '#core/evaluator/answer.ts';
import { dec, max, plain, settle } from '#core/numbers/decimal.ts';
import { sum } from '#core/numbers/share-out.ts';
import { runs } from '#core/tests/runs.ts';
import { priceChain } from '#core/quotes/change-orders.ts';
import { priceQuote } from '#core/quotes/price-quote.ts';
import type { PricedQuote, QuoteQuestion } from '#core/quotes/questions.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';

// Laws that hold for whatever can stand in a workspace file. fast-check prints the seed of a case that breaks one.

const DAY = '2026-03-09';
const cents = (min: number, max_: number) => fc.integer({ min, max: max_ }).map((n) => dec(n).div(100).toFixed(2));
const percent = fc.integer({ min: 0, max: 6000 }).map((n) => dec(n).div(100).toFixed());
const change = fc.oneof(
  fc.record({ kind: fc.constant('percent_off'), value: percent, onTop: fc.boolean() }),
  fc.record({ kind: fc.constant('amount_off'), value: cents(1, 300), onTop: fc.boolean() }),
  fc.record({ kind: fc.constant('price'), value: cents(100, 9000) }),
);
const scope = fc.constantFrom<Record<string, unknown>>(
  {},
  { item: 'a' },
  { item: 'b', pack: 'box' },
  { category: 'rope' },
  { category: 'braid' },
  { brand: 'Kelda' },
  { attributes: { colour: 'red' } },
  { model: 'M' },
  { lockstep: 'twins' },
);
const dates = fc.constantFrom<Record<string, string>>(
  {},
  { from: '2026-03-01' },
  { to: DAY },
  { from: DAY, to: '2026-12-31' },
  { from: '2027-01-01' },
);
const effect = fc.oneof(
  fc.record({ kind: fc.constant('percent'), value: fc.integer({ min: -30, max: 30 }).map(String) }),
  fc.record({ kind: fc.constant('multiply'), value: fc.constantFrom('0.9', '1.1', '0.333') }),
  fc.record({ kind: fc.constant('divide'), value: fc.constantFrom('1.07', '3') }),
  fc.record({ kind: fc.constant('free_units'), buy: fc.constantFrom('2', '10'), free: fc.constant('1') }),
  fc.record({
    kind: fc.constant('charge'),
    name: fc.constant('Cutting'),
    value: cents(1, 900),
    taxClass: fc.constant('std'),
  }),
  fc.record({ kind: fc.constant('ask') }),
);
const numbered = <T extends object>(rows: readonly T[], extra: (row: T) => object = () => ({})) =>
  rows.map((row, i) => ({ id: String(i), name: `rule ${i}`, ...row, ...extra(row) }));

/** A workspace file with something of everything in it. */
const anyFile = fc
  .record({
    taxIn: fc.boolean(),
    currency: fc.constantFrom('EUR', 'SEK', 'JPY', 'KWD'),
    costs: fc.tuple(cents(1, 5000), cents(1, 5000), cents(1, 5000)),
    deposit: fc.option(cents(1, 500)),
    posted: fc.array(cents(100, 9000), { minLength: 3, maxLength: 3 }),
    entries: fc.array(fc.tuple(scope, change, dates), { maxLength: 4 }),
    reductions: fc.array(fc.tuple(scope, change, dates, fc.boolean()), { maxLength: 4 }),
    breaks: fc.uniqueArray(fc.record({ from: fc.integer({ min: 2, max: 60 }), off: percent }), {
      selector: (r) => r.from,
      maxLength: 3,
    }),
    way: fc.constantFrom('whole', 'sliced'),
    count: fc.constantFrom('line', 'item', 'pool'),
    onTop: fc.boolean(),
    mode: fc.constantFrom('first', 'every'),
    rules: fc.array(fc.tuple(effect, fc.constantFrom('1', '10', '30')), { maxLength: 3 }),
    floors: fc.array(
      fc.tuple(
        fc.constantFrom('lift', 'ask', 'refuse'),
        fc.constantFrom('margin', 'markup', 'percent_of_list'),
        fc.integer({ min: 1, max: 60 }),
      ),
      { maxLength: 2 },
    ),
    charge: fc.record({ percent, least: fc.option(cents(1, 5000)), most: fc.option(cents(5000, 20000)) }),
    listChoice: fc.constantFrom('first', 'lowest'),
  })
  .map((r) => {
    const item = (id: string, category: string) => ({
      id,
      sku: id,
      name: id,
      category,
      brand: 'Kelda',
      model: 'M',
      taxClass: id === 'b' ? 'low' : 'std',
      attributes: { colour: id === 'a' ? 'red' : 'blue' },
      packs: [
        { id: `${id}1`, name: 'each', units: '1' },
        { id: `${id}2`, name: 'box', units: '12', deposit: r.deposit ? { amount: r.deposit, currency: 'EUR' } : null },
      ],
    });
    const amount = (text: string | null) => (text ? { amount: text, currency: 'EUR' } : null);
    return {
      format: 'hard-ledger workspace',
      version: 1,
      currency: 'EUR',
      listChoice: r.listChoice,
      categories: [
        { id: 'rope', name: 'Rope' },
        { id: 'braid', name: 'Braid', parent: 'rope' },
      ],
      suppliers: [{ id: 's', name: 'S', currency: 'EUR' }],
      items: [item('a', 'braid'), item('b', 'rope'), item('c', 'rope'), item('d', 'braid')],
      lockstep: [{ id: 'twins', name: 'Twins', lead: 'c', members: ['d'] }],
      costs: r.costs.map((cost, i) => ({
        id: `k${i}`,
        item: 'abc'[i],
        supplier: 's',
        cost: amount(cost),
        from: '2026-01-01',
      })),
      rates: [
        { from: 'EUR', to: 'SEK', day: '2026-01-01', rate: '11.2050' },
        { from: 'EUR', to: 'JPY', day: '2026-01-01', rate: '161.37' },
        { from: 'KWD', to: 'EUR', day: '2026-01-01', rate: '2.987' },
      ],
      taxes: [
        { taxClass: 'std', percent: '24', from: '2020-01-01' },
        { taxClass: 'low', percent: '7.7', from: '2020-01-01' },
      ],
      groups: [{ id: 'g', name: 'G' }],
      customers: [{ id: 'u', name: 'Anna', groups: ['g'], country: 'FI', attributes: { terms: '30' } }],
      regions: [{ id: 'home', name: 'Home', countries: ['FI'], currency: 'EUR' }],
      recipes: [
        {
          id: 'r',
          name: 'R',
          basis: { kind: 'landed' },
          uplift: [{ id: 'u', scope: {}, method: 'markup', value: '55' }],
        },
      ],
      lists: [
        {
          id: 'l',
          name: 'L',
          currency: r.currency,
          taxIn: r.taxIn,
          groups: ['g'],
          recipe: 'r',
          parent: { list: 'base', percent: '-8' },
          entries: numbered(r.entries.map(([s, c, d]) => ({ scope: s, ...c, ...d }))).map(({ name: _, ...e }) => e),
        },
        { id: 'base', name: 'Base', currency: 'EUR', taxIn: false, rank: 9 },
      ],
      posted: r.posted.map((price, i) => ({
        list: i === 2 ? 'base' : 'l',
        item: 'abc'[i],
        pack: `${'abc'[i]}1`,
        price,
        from: '2026-01-01',
        posting: '1',
      })),
      reductions: numbered(
        r.reductions.map(([s, c, d, own]) => ({ scope: s, ...c, ...d, ...(own ? { customer: 'u' } : { group: 'g' }) })),
      ),
      pools: [{ id: 'p', name: 'P', items: [{ category: 'rope' }] }],
      breaks: [
        {
          id: 'b',
          name: 'B',
          list: 'l',
          way: r.way,
          count: r.count,
          pool: 'p',
          onTop: r.onTop,
          rows: r.breaks.map((b) => ({ from: String(b.from), kind: 'percent_off', value: b.off })),
        },
      ],
      rules: [
        {
          id: 's',
          name: 'S',
          mode: r.mode,
          rules: numbered(
            r.rules.map(([e, least]) => ({
              effects: [e],
              when: { fact: 'line.quantity', operator: 'at_least', value: least },
            })),
          ),
        },
      ],
      floors: numbered(r.floors.map(([outcome, kind, value]) => ({ outcome, kind, value: String(value) }))),
      charges: [
        {
          id: 'cover',
          name: 'Cover',
          percent: r.charge.percent,
          least: amount(r.charge.least),
          most: amount(r.charge.most),
          taxClass: 'std',
          covers: [{ category: 'rope' }],
        },
      ],
      proofs: [{ id: '1', name: 'P', question: { kind: 'cost', item: 'a', day: DAY }, expect: { price: r.costs[0] } }],
    };
  });

const line = fc.record({
  item: fc.constantFrom('a', 'b', 'c', 'd'),
  pack: fc.constantFrom('1', '2'),
  quantity: fc.integer({ min: 1, max: 80 }).map(String),
  reduction: fc.option(fc.record({ kind: fc.constant('percent_off' as const), value: percent })),
});
const anyLines = fc
  .array(line, { minLength: 1, maxLength: 5 })
  .map((lines) => lines.map((l, i) => ({ ...l, id: String(i), pack: `${l.item}${l.pack}` })));
const anyQuote = fc
  .record({
    lines: anyLines,
    reduction: fc.option(fc.record({ kind: fc.constant('percent_off' as const), value: percent })),
    charged: fc.boolean(),
  })
  .map(({ charged, ...q }): QuoteQuestion => ({
    ...q,
    buyer: { customer: 'u' },
    day: DAY,
    unposted: 'compute',
    charges: charged ? [{ charge: 'cover' }] : [],
  }));

function read(file: object): Workspace {
  const found = readWorkspace(JSON.stringify(file));
  if (!found.ok) throw new Error(JSON.stringify(found.faults));
  return found.value;
}

function priced(ws: Prepared, q: QuoteQuestion): PricedQuote {
  const found = priceQuote(ws, q);
  if (!found.ok) throw new Error(found.reason.code);
  return found.value;
}

const good = (quote: PricedQuote) => quote.lines.flatMap((l) => (l.priced.ok ? [l.priced.value] : []));

describe('laws of the workspace file', () => {
  it('reading what was written gives the same workspace', () => {
    fc.assert(
      fc.property(anyFile, (file) => {
        const workspace = read(file);
        const again = readWorkspace(writeWorkspace(workspace));
        expect(again).toEqual({ ok: true, value: workspace });
        expect(writeWorkspace((again as { value: Workspace }).value)).toBe(writeWorkspace(workspace));
      }),
      { numRuns: runs(1000) },
    );
  });
});

describe('laws of quotes', () => {
  it('every build-up, done again step by step, reaches the total of its line or charge', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, (file, q) => {
        const quote = priced(new Prepared(read(file)), q);
        const check = (steps: readonly Step[], total: string) =>
          expect(replay(steps)).toEqual({ ok: true, figure: total });
        for (const l of good(quote)) check(l.steps, plain(l.total));
        for (const c of quote.charges) check(c.steps, plain(c.total));
      }),
      { numRuns: runs(2000) },
    );
  });

  it('the shares of a reduction sum to what is given, and none breaks a floor that held before', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, (file, q) => {
        const ws = new Prepared(read(file));
        const [before, after] = [priced(ws, { ...q, reduction: null, charges: [] }), priced(ws, { ...q, charges: [] })];
        const { reduction } = after;
        if (!reduction) return;
        expect(sum(good(after).map((l) => l.shareOfReduction)).eq(reduction.given)).toBe(true);
        expect(before.linesTotal.minus(after.linesTotal).eq(reduction.given)).toBe(true);
        if (reduction.given.gt(reduction.possible)) expect(after.outcome).not.toBe('fine');
        if (reduction.refused) expect(after.outcome === 'refused' || after.outcome === 'incomplete').toBe(true);
      }),
      { numRuns: runs(2000) },
    );
  });

  it('lines and charges sum to the total, net and tax to what is paid, to the minor unit', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, (file, q) => {
        const quote = priced(new Prepared(read(file)), q);
        const all = [...good(quote).map((l) => l.total), ...quote.charges.map((c) => c.total)];
        expect(sum(all).eq(quote.linesTotal)).toBe(true);
        expect(quote.net.plus(sum(quote.taxes.map((t) => t.tax))).eq(quote.toPay)).toBe(true);
        const digits = { JPY: 0, KWD: 3 }[quote.currency] ?? 2;
        for (const total of [...all, quote.toPay]) expect(total.decimalPlaces()).toBeLessThanOrEqual(digits);
      }),
      { numRuns: runs(2000) },
    );
  });

  it('no line is sold under a floor that lifts, unless the seller is told to stop', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, (file, q) => {
        const workspace = read(file);
        const only: Workspace = {
          ...workspace,
          floors: [{ id: 'f', version: 1, name: 'F', kind: 'margin', value: '20', outcome: 'lift', active: true }],
        };
        const quote = priced(new Prepared(only), q);
        for (const l of good(quote)) {
          if (!l.costTotal) continue;
          const least = l.costTotal.div('0.8');
          // a total is rounded to the minor unit of its currency, which may take half of one from a price of many decimals
          expect(settle(l.netTotal).plus('0.51').gte(settle(least))).toBe(true);
        }
      }),
      { numRuns: runs(2000) },
    );
  });

  it('asked twice, and whatever the order of items and rules in the file, it is the same', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, (file, q) => {
        const w = read(file);
        const turned = {
          ...w,
          items: [...w.items].reverse(),
          posted: [...w.posted].reverse(),
          costs: [...w.costs].reverse(),
          reductions: [...w.reductions].reverse(),
        };
        const [ws, other] = [new Prepared(w), new Prepared(turned)];
        const ask = (p: Prepared) => JSON.stringify(answer(p, { kind: 'quote', ...q }, { buildUp: false }));
        const first = ask(ws);
        expect(ask(ws)).toBe(first);
        expect(ask(other)).toBe(first);
      }),
      { numRuns: runs(1000) },
    );
  });
});

describe('laws of change orders', () => {
  const chain = (
    file: object,
    first: QuoteQuestion,
    changes: readonly QuoteQuestion['lines'][],
    credits: 'allowed' | 'none',
  ) => {
    const ws = new Prepared(read(file));
    const found = priceChain(ws, {
      accepted: { ...first, charges: [{ charge: 'cover' }] },
      credits,
      changes: changes.map((lines, i) => ({ id: String(i), day: '2026-04-01', lines, reduction: null })),
    });
    return found.ok ? { ws, documents: found.value } : null;
  };

  it('with credits the documents sum to the price of the final state, whatever the path', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, fc.array(anyLines, { minLength: 1, maxLength: 4 }), (file, first, changes) => {
        const found = chain(file, { ...first, reduction: null }, changes, 'allowed');
        if (!found) return;
        const last = priced(found.ws, {
          ...first,
          reduction: null,
          lines: changes.at(-1)!,
          charges: [{ charge: 'cover' }],
        });
        expect(plain(sum(found.documents.map((d) => d.toPay)))).toBe(plain(last.toPay));
      }),
      { numRuns: runs(2000) },
    );
  });

  it('without credits every part sums to the highest state it had, and no document gives back', () => {
    fc.assert(
      fc.property(anyFile, anyQuote, fc.array(anyLines, { minLength: 1, maxLength: 4 }), (file, first, changes) => {
        const found = chain(file, { ...first, reduction: null }, changes, 'none');
        if (!found) return;
        const highest = found.documents.map((d) => d.goods.now).reduce(max);
        expect(plain(sum(found.documents.map((d) => d.goods.difference)))).toBe(plain(highest));
        const covers = found.documents.map((d) => d.charges[0]!);
        expect(plain(sum(covers.map((c) => c.difference)))).toBe(plain(covers.map((c) => c.now).reduce(max)));
        for (const d of found.documents)
          expect(d.goods.difference.gte(0) && d.charges[0]!.difference.gte(0)).toBe(true);
      }),
      { numRuns: runs(2000) },
    );
  });
});
