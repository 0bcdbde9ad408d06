import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { runs } from '../tests/runs.ts';
import { replay } from '../buildup/steps.ts';
import { dec, plain, settle } from '../numbers/decimal.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import {
  BREAK_COUNTS,
  BREAK_KINDS,
  BREAK_WAYS,
  type BreakCount,
  type BreakRow,
  type BreakWay,
  bandsOf,
  breakFaults,
} from './breaks.ts';
import examples from './examples/breaks.json' with { type: 'json' };
import { FLOOR_KINDS, type FloorTerms } from './floors.ts';
import { priceQuote } from './price-quote.ts';
import type { QuoteLineQuestion } from './questions.ts';

const DAY = '2026-03-09';
const rows = examples.rows as BreakRow[];

function shop(more: Partial<Workspace> = {}, price = '4.20'): Workspace {
  return {
    ...emptyWorkspace(),
    items: [
      {
        id: 'i',
        sku: 'I-1',
        name: 'Shackle',
        unit: 'each',
        category: 'all',
        taxClass: 'standard',
        supplier: 's',
        packs: [{ id: 'each', name: 'each', units: '1' }],
      },
    ],
    suppliers: [{ id: 's', version: 1, name: 'Supplier', currency: 'EUR', landed: {} }],
    costs: [
      {
        id: 'c',
        item: 'i',
        supplier: 's',
        cost: { amount: '3.00', currency: 'EUR' },
        packUnits: '1',
        from: '2026-01-01',
        origin: 'file',
        entry: 1,
      },
    ],
    taxes: [{ taxClass: 'standard', percent: '20', from: '2020-01-01' }],
    lists: [
      {
        id: 'x',
        version: 1,
        name: 'Trade',
        currency: 'EUR',
        taxIn: false,
        advertised: false,
        active: true,
        groups: [],
        rank: 1,
        recipe: null,
      },
    ],
    posted: [{ list: 'x', item: 'i', pack: 'each', price, from: '2026-01-01', posting: '1', entry: 1 }],
    groups: [{ id: 'yards', version: 1, name: 'Yards', rank: 1 }],
    ...more,
  };
}

const table = (way: BreakWay, count: BreakCount, breaks = rows) => ({
  breaks: [{ id: 'b', version: 1, name: 'Breaks', list: 'x', way, count, pool: 'p', rows: breaks }],
  pools: [{ id: 'p', version: 1, name: 'Shackles', items: [{ category: 'all' }] }],
});

function ask(w: Workspace, lines: (Partial<QuoteLineQuestion> & { quantity: string })[], group: string | null = null) {
  const found = priceQuote(new Prepared(w), {
    list: 'x',
    buyer: { groups: group === null ? [] : [group] },
    day: DAY,
    lines: lines.map((l, n) => ({ id: String(n), item: 'i', pack: 'each', ...l })),
  });
  if (!found.ok) throw new Error(found.reason.code);
  return found.value;
}

function lineOf(quote: ReturnType<typeof ask>, n = 0) {
  const { priced } = quote.lines[n]!;
  if (!priced.ok) throw new Error(priced.reason.code);
  return priced.value;
}

describe('quantity breaks', () => {
  it.each(examples.cases)('$units units: $whole whole, $sliced sliced', ({ units, whole, sliced }) => {
    expect(lineOf(ask(shop(table('whole', 'item')), [{ quantity: units }])).total.toFixed(2)).toBe(whole);
    expect(lineOf(ask(shop(table('sliced', 'item')), [{ quantity: units }])).total.toFixed(2)).toBe(sliced);
  });
  it('a line wholly inside a slice has a reason where the price before the break is nothing, and never ends in an error', () => {
    const w = shop(table('sliced', 'item', [{ from: '2', kind: 'percent_off', value: '0.01' }]), '0.01');
    const half = { id: 'e', scope: {}, kind: 'percent_off' as const, value: '50.01', onTop: true };
    const quote = ask(
      {
        ...w,
        lists: w.lists.map((l) => ({ ...l, entries: [half] })),
        reductions: [
          { id: 'r', version: 1, name: 'R', group: 'yards', scope: {}, kind: 'percent_off', value: '0', onTop: true },
        ],
      },
      [{ quantity: '2' }, { quantity: '5' }],
      'yards',
    );
    expect(quote.lines.map((l) => (l.priced.ok ? 'priced' : l.priced.reason.code))).toEqual([
      'zero_not_confirmed',
      'zero_not_confirmed',
    ]);
    expect(quote.outcome).toBe('incomplete');
  });
  it('sliced lines of one item consume the slices in their order', () => {
    const { lines, slicedByItem, slicedByLine, slicedByPool, slicedBySection } = examples.together;
    const totals = (count: BreakCount) => {
      const quote = ask(
        shop(table('sliced', count)),
        lines.map((quantity) => ({ quantity, section: 'deck' })),
      );
      return lines.map((_, n) => lineOf(quote, n).total.toFixed(2));
    };
    expect(totals('item')).toEqual(slicedByItem);
    expect(totals('pool')).toEqual(slicedByPool);
    expect(totals('section')).toEqual(slicedBySection);
    expect(totals('line')).toEqual(slicedByLine);
  });
  it('splitting a quantity over lines changes nothing, whole or sliced', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...BREAK_WAYS),
        fc.array(fc.integer({ min: 1, max: 120 }), { minLength: 1, maxLength: 5 }),
        (way, parts) => {
          const whole = ask(shop(table(way, 'item')), [{ quantity: String(parts.reduce((a, b) => a + b, 0)) }]);
          const split = ask(
            shop(table(way, 'item')),
            parts.map((p) => ({ quantity: String(p) })),
          );
          expect(split.linesTotal.toFixed(2)).toBe(whole.linesTotal.toFixed(2));
        },
      ),
      { numRuns: runs(1000) },
    );
  });
  it('says when buying more costs less in all', () => {
    const line = lineOf(ask(shop(table('whole', 'item')), [{ quantity: '49' }]));
    expect([line.buyMore?.buy.toFixed(), line.buyMore?.saves.toFixed(2)]).toEqual(['1', '10.80']);
    expect(lineOf(ask(shop(table('whole', 'item')), [{ quantity: '30' }])).buyMore).toBeNull();
  });
  const byKind: [BreakRow['kind'], string, string][] = [
    ['percent_off', '10', '3.78'],
    ['amount_off', '0.25', '3.95'],
    ['price', '3.90', '3.90'],
  ];
  it.each(byKind)('a break by %s', (kind, value, unit) => {
    expect(
      lineOf(ask(shop(table('whole', 'item', [{ from: '10', kind, value }])), [{ quantity: '10' }])).unitPrice.toFixed(
        2,
      ),
    ).toBe(unit);
  });
  it('has an example for every kind, way and count', () => {
    expect(new Set(byKind.map(([kind]) => kind))).toEqual(new Set(BREAK_KINDS));
    for (const way of BREAK_WAYS) expect(examples.cases.every((c) => way in c)).toBe(true);
    const counts = Object.keys(examples.together).filter((name) => name.startsWith('slicedBy'));
    expect(counts.map((name) => name.slice(8).toLowerCase()).sort()).toEqual([...BREAK_COUNTS].sort());
  });
  it('names bands without hole or overlap', () => {
    expect(
      bandsOf([
        { from: '11', kind: 'price', value: '3' },
        { from: '6', kind: 'price', value: '4' },
      ]),
    ).toEqual([
      { from: '6', to: '10' },
      { from: '11', to: null },
    ]);
  });
  it('refuses a "from" entered twice, and a reduction over 100 %', () => {
    expect(breakFaults([...rows, { from: '50.0', kind: 'percent_off', value: '120' }]).map((f) => f.code)).toEqual([
      'percent_above_100',
      'twice',
    ]);
  });
  it('a deposit is never reduced', () => {
    const w = shop({ ...table('whole', 'item', [{ from: '1', kind: 'percent_off', value: '50' }]) }, '13.00');
    const items = w.items.map((i) => ({
      ...i,
      packs: [{ ...i.packs[0]!, deposit: { amount: '3.00', currency: 'EUR' } }],
    }));
    expect(lineOf(ask({ ...w, items }, [{ quantity: '1' }])).unitPrice.toFixed(2)).toBe('8.00');
  });
});

describe('order quantities', () => {
  const order = (o: object) => ({ ...shop(), items: shop().items.map((i) => ({ ...i, order: o })) });
  const refused = (w: Workspace, quantity: string) => {
    const { priced } = ask(w, [{ quantity }]).lines[0]!;
    return priced.ok ? 'allowed' : `${priced.reason.code} ${priced.reason.params['allowed'] ?? ''}`.trim();
  };
  it('names the nearest allowed quantities', () => {
    expect(refused(order({ least: '10', step: '6' }), '7')).toBe('quantity_below_least 12');
    expect(refused(order({ step: '6' }), '15')).toBe('quantity_off_step 12 and 18');
    expect(refused(order({ most: '20', step: '6' }), '24')).toBe('quantity_above_most 18');
    expect(refused(order({ step: '6' }), '18')).toBe('allowed');
    expect(refused(shop(), '0')).toBe('quantity_not_positive');
  });
});

describe('floors', () => {
  const floor = (more: Partial<FloorTerms> = {}): FloorTerms => ({
    id: 'f',
    version: 1,
    name: 'Least margin',
    kind: 'margin',
    value: '25',
    outcome: 'lift',
    active: true,
    ...more,
  });
  const half = { reduction: { kind: 'percent_off' as const, value: '20' }, quantity: '10' };

  it.each([
    ['lift', '4.00', 'fine'],
    ['ask', '3.36', 'asks_approval'],
    ['refuse', '3.36', 'refused'],
  ] as const)('a broken floor with the outcome %s', (outcome, unit, state) => {
    const quote = ask(shop({ floors: [floor({ outcome })] }), [half]);
    const line = lineOf(quote);
    expect([line.unitPrice.toFixed(2), quote.outcome]).toEqual([unit, state]);
    expect([line.brokenFloor?.least.toFixed(2), line.brokenFloor?.short.toFixed(2)]).toEqual(['4.00', '0.64']);
    expect(replay(line.steps)).toEqual({ ok: true, figure: plain(line.total) });
  });
  const byKind: [FloorTerms['kind'], string, string][] = [
    ['margin', '25', '4.00'],
    ['markup', '30', '3.90'],
    ['amount', '4.11', '4.11'],
    ['percent_of_list', '90', '3.78'],
  ];
  it('has an example for every kind of floor; the one by minimum advertised price stands by itself', () => {
    expect(new Set([...byKind.map(([kind]) => kind), 'map'])).toEqual(new Set(FLOOR_KINDS));
  });
  it.each(byKind)('a floor by %s', (kind, value, unit) => {
    expect(lineOf(ask(shop({ floors: [floor({ kind, value, currency: 'EUR' })] }), [half])).unitPrice.toFixed(2)).toBe(
      unit,
    );
  });
  it('a floor by minimum advertised price', () => {
    const w = shop({ floors: [floor({ kind: 'map', value: '0' })] });
    const items = w.items.map((i) => ({ ...i, map: { amount: '4.92', currency: 'EUR', taxIn: true } }));
    expect(lineOf(ask({ ...w, items }, [half])).unitPrice.toFixed(2)).toBe('4.10');
  });
  it('the highest of several counts, the others are shown', () => {
    const line = lineOf(
      ask(
        shop({
          floors: [floor(), floor({ id: 'g', name: 'Least amount', kind: 'amount', value: '4.10', currency: 'EUR' })],
        }),
        [half],
      ),
    );
    expect(line.brokenFloor?.name).toBe('Least amount');
    expect(line.steps.find((s) => s.kind === 'floor')?.lost).toHaveLength(1);
  });
  it('a floor for another group, or switched off, does nothing', () => {
    for (const f of [floor({ group: 'club' }), floor({ active: false })]) {
      expect(lineOf(ask(shop({ floors: [f] }), [half], 'yards')).brokenFloor).toBeNull();
    }
  });
  it('no line is ever sold under a floor that lifts', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 9999 }),
        fc.integer({ min: 1, max: 60 }),
        fc.boolean(),
        (off, margin, taxIn) => {
          const w = shop({ floors: [floor({ value: String(margin) })] });
          const lists = w.lists.map((l) => ({ ...l, taxIn }));
          const line = lineOf(
            ask({ ...w, lists }, [
              { quantity: '1', reduction: { kind: 'percent_off', value: dec(off).div(100).toFixed() } },
            ]),
          );
          expect(settle(line.margin!).gte(margin) || line.brokenFloor === null).toBe(true);
        },
      ),
      { numRuns: runs(1000) },
    );
  });
});

describe('what a quote adds up to', () => {
  it('tax out: the tax comes on top, once per rate', () => {
    const quote = ask(shop({}, '0.33'), [{ quantity: '1' }, { quantity: '2' }]);
    expect([quote.net, quote.taxes[0]!.tax, quote.toPay].map((f) => f.toFixed(2))).toEqual(['0.99', '0.20', '1.19']);
  });
  it('tax in: the tax is taken out of what is paid', () => {
    const w = shop({}, '61.99');
    const quote = ask({ ...w, lists: w.lists.map((l) => ({ ...l, taxIn: true })) }, [{ quantity: '1' }]);
    expect([quote.net, quote.taxes[0]!.tax, quote.toPay].map((f) => f.toFixed(2))).toEqual(['51.66', '10.33', '61.99']);
  });
  it('an item without a posted price leaves the quote incomplete, with the reason', () => {
    const quote = ask(shop({ posted: [] }), [{ quantity: '1' }]);
    expect([quote.outcome, quote.lines[0]!.priced.ok ? '' : quote.lines[0]!.priced.reason.code]).toEqual([
      'incomplete',
      'no_price_on_list',
    ]);
  });
});

describe('laws of floors', () => {
  const floor = (percent: number, outcome: FloorTerms['outcome']): FloorTerms => ({
    id: 'f',
    version: 1,
    name: 'Floor',
    kind: 'percent_of_list',
    value: String(percent),
    outcome,
    active: true,
  });
  const withTax = (tax: string, price: number, floors: FloorTerms[]): Workspace => {
    const w = shop({ floors, taxes: [{ taxClass: 'standard', percent: tax, from: '2020-01-01' }] }, `${price}.00`);
    return { ...w, lists: w.lists.map((l) => ({ ...l, taxIn: true })) };
  };
  // tenths of per cent from 0 to 30: every tax rate there is, and those that do not divide
  const anyTax = fc.integer({ min: 0, max: 300 }).map((tenths) => dec(tenths).div(10).toFixed());
  const anyPrice = fc.integer({ min: 1, max: 9999 });
  const anyShare = fc.integer({ min: 1, max: 100 });

  it('a floor at exactly the price never moves it, over all tax rates', () => {
    fc.assert(
      fc.property(
        anyTax,
        anyPrice,
        anyShare,
        fc.constantFrom<FloorTerms['outcome']>('lift', 'ask', 'refuse'),
        (tax, price, percent, outcome) => {
          const by = { kind: 'percent_off' as const, value: String(100 - percent) };
          const quote = ask(withTax(tax, price, [floor(percent, outcome)]), [{ quantity: '1', reduction: by }]);
          expect(lineOf(quote).brokenFloor).toBeNull();
          expect(plain(lineOf(quote).unitPrice)).toBe(plain(dec(price).times(percent).div(100)));
        },
      ),
      { numRuns: runs(5000) },
    );
  });

  it('and what lies under it is lifted to exactly the price, never a cent more', () => {
    fc.assert(
      fc.property(anyTax, anyPrice, fc.integer({ min: 2, max: 100 }), (tax, price, percent) => {
        const by = { kind: 'percent_off' as const, value: String(101 - percent) };
        const quote = ask(withTax(tax, price, [floor(percent, 'lift')]), [{ quantity: '1', reduction: by }]);
        expect(plain(lineOf(quote).unitPrice)).toBe(plain(dec(price).times(percent).div(100)));
      }),
      { numRuns: runs(5000) },
    );
  });

  it('a reduction on the whole quote down to the floor is given in full', () => {
    fc.assert(
      fc.property(anyTax, anyPrice, anyShare, (tax, price, percent) => {
        const ws = new Prepared(withTax(tax, price, [floor(percent, 'refuse')]));
        const found = priceQuote(ws, {
          list: 'x',
          buyer: {},
          day: DAY,
          lines: [{ id: '1', item: 'i', pack: 'each', quantity: '1' }],
          reduction: { kind: 'percent_off', value: String(100 - percent) },
        });
        if (!found.ok) throw new Error(found.reason.code);
        expect(found.value.reduction!.refused).toBeNull();
      }),
      { numRuns: runs(5000) },
    );
  });
});
