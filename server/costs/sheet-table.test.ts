import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ROW_SHOWS, kindWords } from '#contract/cost-rows.ts';
import { CHANGE_KINDS, type CostChange, needsLook } from '#contract/costs.ts';
import { packedEffect, packedSheet, sheetWindow } from './sheet-table.ts';
import type { SheetTable } from './cost-work.ts';

const amount = fc.integer({ min: 1, max: 99_999 }).map((n) => (n / 100).toFixed(2));
const change = fc.record({
  code: fc.constantFrom('A-1', 'Ä-2', 'b 3', '漆-4', '№5'),
  item: fc.constant('1'),
  sku: fc.constantFrom('BL-10', 'BL-2', null),
  name: fc.constantFrom('Öl, hell', 'Lack “matt”', 'Pinsel\u2009№ 2', 'rope'),
  kind: fc.constantFrom(...CHANGE_KINDS),
  before: fc.constant(null),
  after: fc.record({
    amount,
    currency: fc.constantFrom('EUR', 'GBP'),
    packUnits: fc.constant('1'),
    from: fc.constantFrom('2026-03-09', '2026-04-01'),
  }),
  changePercent: fc.option(amount),
  flags: fc.subarray(['decimal_shift', 'listed_twice', 'large_move'] as const),
  held: fc.boolean(),
  taken: fc.boolean(),
});
const sheets = fc.array(change, { maxLength: 40 }).map((rows): CostChange[] =>
  // the row numbers of a file have gaps, where rows were empty or could not be read
  rows.map((r, i) => ({ ...r, row: 2 + i * 3, flags: [...r.flags] })),
);

const packed = (changes: readonly CostChange[]): SheetTable =>
  packedSheet({ state: 's', at: '2026-03-09T09:00:00.000Z', view: { version: 3 } as SheetTable['view'] }, changes, {
    5: { decision: 'held', reason: 'später' },
  });
const whole = (c: CostChange) => (c.row === 5 ? { ...c, said: { decision: 'held', reason: 'später' } } : c);
const ask = (sheet: SheetTable, query: Record<string, string> = {}) =>
  sheetWindow(sheet, null, { from: '0', count: '100', ...query });

describe('the rows of a cost sheet, a stretch at a time', () => {
  it('are the rows as they were compared, whatever letters stand in them', () => {
    fc.assert(
      fc.property(sheets, fc.nat(10), fc.nat(10), (changes, from, count) => {
        const found = sheetWindow(packed(changes), null, { from: String(from), count: String(count) });
        expect(found.rows).toEqual(changes.slice(from, from + count).map(whole));
        expect([found.fits, found.total, found.version]).toEqual([changes.length, changes.length, 3]);
      }),
    );
  });

  it('each look shows those it names, and none but those', () => {
    fc.assert(
      fc.property(sheets, fc.constantFrom(...ROW_SHOWS), (changes, show) => {
        const fits = (c: CostChange) => (show === 'flagged' ? needsLook(c) : c.kind === show);
        expect(ask(packed(changes), { show }).rows).toEqual(changes.filter(fits).map(whole));
      }),
    );
  });

  it('are sorted, filtered and searched as their cells read', () => {
    fc.assert(
      fc.property(sheets, fc.boolean(), (changes, down) => {
        const sheet = packed(changes);
        const way = down ? -1 : 1;
        const byCost = [...changes].sort((a, b) => way * (Number(a.after.amount) - Number(b.after.amount)));
        const sorted = ask(sheet, { sort: 'afterCost', down: down ? '1' : '' });
        expect(sorted.rows.map((r) => r.row)).toEqual(byCost.map((c) => c.row));
        const filters = JSON.stringify([{ column: 'afterCost', filter: '>500' }]);
        const dear = changes.filter((c) => Number(c.after.amount) > 500);
        expect(ask(sheet, { filters }).rows.map((r) => r.row)).toEqual(dear.map((c) => c.row));
        const held = changes.filter((c) => /held/.test(kindWords(c)));
        expect(ask(sheet, { find: 'HELD' }).rows.map((r) => r.row)).toEqual(held.map((c) => c.row));
      }),
    );
  });

  it('a row is found by its number in the file', () => {
    fc.assert(
      fc.property(sheets, fc.nat(45), (changes, n) => {
        const place = changes.findIndex((c) => c.row === 2 + n * 3);
        expect(ask(packed(changes), { key: String(2 + n * 3) }).place).toBe(place < 0 ? null : place);
      }),
    );
  });

  it('tell what each would move once that is known; what was taken in moves nothing more', () => {
    const effect = { state: '1/2', day: '2026-03-09', prices: 3, lists: [] };
    fc.assert(
      fc.property(sheets, (changes) => {
        const sheet = packed(changes);
        const moves = (row: number) =>
          row % 2 === 0 ? { prices: row, lists: 1, least: '-1.5', most: row === 2 ? null : '0.25' } : undefined;
        const found = sheetWindow(sheet, packedEffect(effect, changes, moves), { count: '100', sort: 'prices' });
        const moved = changes.filter((c) => !c.taken && moves(c.row) !== undefined);
        expect(found.rows.flatMap((r) => r.moves ?? [])).toEqual(moved.map((c) => moves(c.row)));
        // sorted by what is not known yet: as they stand in the file
        expect(ask(sheet, { sort: 'prices' }).rows).toEqual(changes.map(whole));
        const other = packedEffect(effect, changes.slice(1), moves);
        expect(sheetWindow(sheet, other, { count: '100' }).rows.every((r) => r.moves === undefined)).toBe(true);
      }),
    );
  });
});
