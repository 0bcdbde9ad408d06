import { describe, expect, it } from 'vitest';
import { proposeMatch } from '#server/costs/propose-match.ts';
import { readRows } from '#server/costs/read-rows.ts';
import { readTable } from '#server/costs/read-table.ts';
import { dec } from '#core/numbers/decimal.ts';
import { CATEGORIES, SUPPLIERS } from './brannholm.ts';
import { demoItems } from './items.ts';
import { atNoon, daysBefore } from './days.ts';
import { Dice } from '#core/numbers/dice.ts';
import { waitingSheet } from './waiting-sheet.ts';

describe('the demo', () => {
  const items = demoItems();
  it('has at least 300 items with codes of their own, each in a category, from a supplier that exists', () => {
    expect(items.length).toBeGreaterThanOrEqual(300);
    expect(new Set(items.map((i) => i.sku)).size).toBe(items.length);
    expect(new Set(items.map((i) => i.code)).size).toBe(items.length);
    const [suppliers, categories] = [new Set(SUPPLIERS.map((s) => s.key)), new Set(CATEGORIES.map(([key]) => key))];
    for (const i of items)
      expect([i.sku, suppliers.has(i.supplier), categories.has(i.category)]).toEqual([i.sku, true, true]);
  });
  it('has what the screens are to show: deposits, RRP and minimum prices, packs, weights, several currencies', () => {
    expect(items.filter((i) => i.packs.some((p) => p.deposit)).length).toBeGreaterThan(5);
    expect(items.filter((i) => i.rrp && i.map).length).toBeGreaterThan(10);
    expect(items.filter((i) => i.packs.length > 1).length).toBeGreaterThan(100);
    expect(items.every((i) => Number(i.weightKg) > 0)).toBe(true);
    expect(new Set(SUPPLIERS.map((s) => s.currency)).size).toBeGreaterThanOrEqual(3);
  });
  it('is the same on every machine', () => {
    expect(demoItems()).toEqual(items);
    const rolls = (seed: number) => {
      const d = new Dice(seed);
      return Array.from({ length: 5 }, () => d.whole(1, 1000));
    };
    expect(rolls(7)).toEqual(rolls(7));
    expect(rolls(7)).not.toEqual(rolls(8));
  });
  it('the waiting cost sheet holds every surprise once', () => {
    const rope = items.filter((i) => i.supplier === 'kelwick').map((i) => ({ ...i, cost: dec(i.cost.toFixed(2)) }));
    const source = { content: Buffer.from(waitingSheet(rope, '2026-03-15')), pages: null };
    const match = proposeMatch(source, '2026-03-09');
    expect(match).toMatchObject({
      delimiter: ',',
      decimal: '.',
      columns: { code: 0, name: 1, cost: 2, packUnits: 3, currency: 4, validFrom: 5 },
    });
    const { rows, faults } = readRows(readTable(source, match), match, 'GBP');
    expect(faults.map((f) => f.code).sort()).toEqual(['duplicate', 'empty', 'negative', 'not_a_number']);
    expect(rows.filter((r) => r.currency === 'EUR')).toHaveLength(1);
    expect(rows.filter((r) => r.code.startsWith('KE9'))).toHaveLength(2);
    expect(rows.some((r) => r.packUnits === '100')).toBe(true);
  });
  it('days are counted whole, over months and years', () => {
    expect([
      daysBefore('2026-03-01', 1),
      daysBefore('2026-01-01', 1),
      daysBefore('2024-03-01', 1),
      daysBefore('2026-03-09', -1),
    ]).toEqual(['2026-02-28', '2025-12-31', '2024-02-29', '2026-03-10']);
    expect(atNoon('2026-03-09').toISOString()).toBe('2026-03-09T10:00:00.000Z');
  });
});
