import { describe, expect, it } from 'vitest';
import type { Cost, SupplierChoice } from './cost.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { exchangeOn } from './exchange.ts';
import { costOn, landedCost } from './landed-cost.ts';

const cost = (entry: number, from: string, amount: string, more: Partial<Cost> = {}): Cost => ({
  id: `c${entry}`,
  item: 'i',
  supplier: 's',
  cost: { amount, currency: 'EUR' },
  packUnits: '1',
  from,
  origin: 'file',
  entry,
  ...more,
});

describe('which cost counts', () => {
  const costs = [cost(1, '2026-01-01', '10'), cost(2, '2026-03-01', '12'), cost(3, '2026-02-01', '11')];
  it('a back-dated cost does not displace a newer one', () =>
    expect(costOn(costs, '2026-06-01')?.cost.amount).toBe('12'));
  it('and counts in its own time', () => expect(costOn(costs, '2026-02-15')?.cost.amount).toBe('11'));
  it('a cost of a later day does not count before it', () =>
    expect(costOn(costs, '2026-01-31')?.cost.amount).toBe('10'));
  it('of two for the same day the later entered counts', () => {
    expect(costOn([...costs, cost(4, '2026-03-01', '12.50')], '2026-03-01')?.cost.amount).toBe('12.50');
  });
  it('a typed cost is not overwritten by a file until it is released', () => {
    const typed = cost(4, '2026-04-01', '9', { origin: 'typed' });
    const later = cost(5, '2026-05-01', '14');
    expect(costOn([...costs, typed, later], '2026-06-01')?.cost.amount).toBe('9');
    expect(costOn([...costs, { ...typed, released: true }, later], '2026-06-01')?.cost.amount).toBe('14');
  });
});

const two = (supplierChoice: SupplierChoice): Workspace => ({
  ...emptyWorkspace(),
  supplierChoice,
  items: [
    { id: 'i', sku: 'I', name: 'Item', unit: 'each', category: 'all', taxClass: 'standard', supplier: 's', packs: [] },
  ],
  suppliers: [
    { id: 's', version: 1, name: 'Preferred', currency: 'EUR', landed: { dutyPercent: '10' } },
    { id: 't', version: 1, name: 'Cheap', currency: 'EUR', landed: {} },
    { id: 'u', version: 1, name: 'Recent', currency: 'EUR', landed: {} },
  ],
  costs: [
    cost(1, '2026-01-01', '10'),
    cost(2, '2026-01-01', '9', { supplier: 't' }),
    cost(3, '2026-02-01', '9.50', { supplier: 'u' }),
  ],
});

describe('a cost with a last day', () => {
  const usual = cost(1, '2026-01-01', '12');
  it('counts up to and with it; then what counted before counts again', () => {
    const promised = cost(2, '2026-03-01', '9', { to: '2026-03-31' });
    const on = (day: string) => costOn([usual, promised], day)?.cost.amount;
    expect([on('2026-02-28'), on('2026-03-31'), on('2026-04-01')]).toEqual(['12', '9', '12']);
    expect(costOn([promised], '2026-04-01')).toBeNull();
  });
  it('ends the reduction where there is one; the usual cost beside it counts on', () => {
    const reduced = cost(2, '2026-03-01', '13', { reduced: { amount: '10', currency: 'EUR' }, to: '2026-03-31' });
    const ws = new Prepared({ ...two('preferred'), costs: [usual, reduced] });
    const on = (day: string) => {
      const found = landedCost(ws, ws.items.get('i')!, day);
      return found.ok ? found.value.unit.toFixed() : null;
    };
    expect([on('2026-03-31'), on('2026-04-01')]).toEqual(['10', '13']);
  });
});

describe('which supplier counts', () => {
  it.each<[SupplierChoice, string, string]>([
    ['preferred', 'Preferred', '11'],
    ['lowest_landed', 'Cheap', '9'],
    ['latest', 'Recent', '9.5'],
  ])('%s: %s, and the others are shown as having lost', (choice, name, landed) => {
    const ws = new Prepared(two(choice));
    const found = landedCost(ws, ws.items.get('i')!, '2026-03-01');
    if (!found.ok) throw new Error(found.reason.code);
    expect([found.value.supplier.name, found.value.landed.toFixed()]).toEqual([name, landed]);
    expect(found.value.steps[0]!.lost).toHaveLength(2);
  });
});

describe('exchange', () => {
  const ws = new Prepared({
    ...emptyWorkspace(),
    rates: [
      { from: 'GBP', to: 'EUR', day: '2026-01-01', rate: '1.15' },
      { from: 'GBP', to: 'EUR', day: '2026-03-01', rate: '1.1640' },
      { from: 'EUR', to: 'SEK', day: '2026-01-01', rate: '11.2050' },
    ],
  });
  it('takes the rate of the day asked', () => {
    expect(exchangeOn(ws, 'GBP', 'EUR', '2026-02-28')?.factor.toFixed()).toBe('1.15');
    expect(exchangeOn(ws, 'GBP', 'EUR', '2026-03-01')?.factor.toFixed()).toBe('1.164');
  });
  it('turns a quotation round, and goes over our own currency', () => {
    expect(exchangeOn(ws, 'SEK', 'EUR', '2026-02-01')?.factor.toFixed(6)).toBe('0.089246');
    expect(exchangeOn(ws, 'GBP', 'SEK', '2026-03-01')?.factor.toFixed()).toBe('13.04262');
  });
  it('has no rate before the first day, and none for a currency nobody quoted', () => {
    expect(exchangeOn(ws, 'GBP', 'EUR', '2025-12-31')).toBeNull();
    expect(exchangeOn(ws, 'USD', 'EUR', '2026-03-01')).toBeNull();
  });
});
