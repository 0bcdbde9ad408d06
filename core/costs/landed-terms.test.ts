import { describe, expect, it } from 'vitest';
import { plain } from '../numbers/decimal.ts';
import type { Cost, DatedLandedTerms } from './cost.ts';
import type { Item } from '../items/item.ts';
import { Prepared } from '../workspace/prepared.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { landedCost, offersOf } from './landed-cost.ts';
import { landedTermsTwice } from './landed-terms.ts';
import { choicesCompared } from './supplier-choices.ts';
import examples from './examples/landed-terms.json' with { type: 'json' };

const item = (id: string, category: string): Item => ({
  id,
  sku: id.toUpperCase(),
  name: id,
  unit: 'each',
  category,
  taxClass: 'standard',
  supplier: 's',
  weightKg: '2',
  packs: [{ id: `${id}-1`, name: 'each', units: '1' }],
});
const cost = (of: string, amount: string, more: Partial<Cost> = {}): Cost => ({
  id: `${of}-${more.supplier ?? 's'}`,
  item: of,
  supplier: 's',
  cost: { amount, currency: 'EUR' },
  packUnits: '10',
  from: '2026-01-01',
  origin: 'file',
  entry: 1,
  ...more,
});
const base = {
  ...emptyWorkspace(),
  categories: [
    { id: 'all', name: 'All', parent: null },
    { id: 'rope', name: 'Rope', parent: 'all' },
    { id: 'braid', name: 'Braid', parent: 'rope' },
  ],
  items: [item('a', 'braid'), item('b', 'all')],
  rates: [{ from: 'GBP', to: 'EUR', day: '2026-01-01', rate: '1.2' }],
  suppliers: [
    {
      id: 's',
      version: 1,
      name: 'Kelwick',
      currency: 'EUR',
      landed: { freight: { per: 'kg' as const, amount: { amount: '0.5', currency: 'EUR' } }, dutyPercent: '3' },
    },
    { id: 't', version: 1, name: 'Lusk', currency: 'EUR', landed: {} },
  ],
};

describe('what bringing goods in costs, where it differs', () => {
  it.each(examples.cases)('$title', ({ terms, fee, day, parts, landed }) => {
    const ws = new Prepared({
      ...base,
      landed: terms.map((t, i) => ({ id: String(i + 1), version: 1, supplier: 's', ...t }) as DatedLandedTerms),
      costs: [cost('a', '100', fee ? { fee, origin: 'bill' } : {})],
    });
    const found = landedCost(ws, ws.items.get('a')!, day);
    if (!found.ok) throw new Error(found.reason.code);
    const said = found.value.steps
      .filter((s) => ['freight', 'duty', 'handling', 'overhead', 'order_fee'].includes(s.kind))
      .map((s) => `${s.kind} ${s.operation.op === 'plus' ? s.operation.value : ''} by ${s.rule?.kind} ${s.rule?.id}`);
    expect([said, plain(found.value.landed)]).toEqual([parts, landed]);
  });
  it('terms for the very same goods from the same day are found', () => {
    const t = (id: string, from: string, scope: object) => ({ id, version: 1, supplier: 's', from, scope });
    const twice = landedTermsTwice([
      t('1', '2026-01-01', { category: 'rope' }),
      t('2', '2026-01-01', { category: 'rope', item: null }),
      t('3', '2026-02-01', { category: 'rope' }),
      t('4', '2026-01-01', { category: 'braid' }),
    ]);
    expect(twice.map(([a, b]) => [a.id, b.id])).toEqual([['1', '2']]);
  });
});

describe('another choice of whose cost counts', () => {
  const ws = new Prepared({
    ...base,
    costs: [
      cost('a', '100'),
      cost('a', '104', { supplier: 't', from: '2026-02-01' }),
      cost('b', '100'),
      cost('b', '100', { supplier: 't', cost: { amount: '1', currency: 'SEK' }, from: '2026-03-01' }),
    ],
  });
  it('is told item by item, with whom each choice takes and at what', () => {
    // a: Kelwick 10 + 1 freight + 0.3 duty; Lusk 10.4 with nothing on top
    expect(choicesCompared(ws, '2026-04-01')).toEqual([
      {
        item: 'a',
        by: {
          preferred: { supplier: 's', landed: '11.3' },
          lowest_landed: { supplier: 't', landed: '10.4' },
          latest: { supplier: 't', landed: '10.4' },
        },
      },
      {
        item: 'b',
        by: {
          preferred: { supplier: 's', landed: '11.3' },
          lowest_landed: { supplier: 's', landed: '11.3' },
          latest: { supplier: 't', landed: null },
        },
      },
    ]);
  });
  it('is silent of items whose cost stays the same', () => expect(choicesCompared(ws, '2026-01-15')).toEqual([]));
  it('the first offer is the one that counts', () =>
    expect(offersOf(ws, ws.items.get('a')!, '2026-04-01', { choice: 'latest' })[0]!.supplier.id).toBe('t'));
});
