import { describe, expect, it } from 'vitest';
import { compareNumbers } from '#contract/filters.ts';
import { LOOKS, type Look } from '#contract/looks.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { RANDOM_DAY, randomWorkspace } from '../../bench/tests/random-workspace.ts';
import { ListRows } from './list-rows.ts';
import { LOOK_BITS, listTable } from './list-table.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

const FIGURES = [
  ['posted', 'posted'],
  ['asks', 'asks'],
  ['proposed', 'proposed'],
  ['change', 'changePercent'],
  ['marginBefore', 'marginBefore'],
  ['marginAfter', 'marginAfter'],
] as const;

const lower = (r: ListPriceRow) => r.posted !== null && compareNumbers(r.proposed!, r.posted) < 0;

describe('what a list is arranged by', () => {
  it.each([7, 145, 588, 1768])('is, row by row, what the list shows: seed %i', async (seed) => {
    const ws = new Prepared(randomWorkspace(seed, 120));
    const loaded = { ws, day: RANDOM_DAY, revision: '1.1.1' };
    let compared = 0;
    for (const list of ws.workspace.lists.filter((l) => l.recipe)) {
      const { table, masks, looks, summary, falling } = await listTable(loaded, list);
      const rows: ListPriceRow[] = [];
      for await (const row of new ListRows(loaded, list, true).all()) rows.push(row);
      expect(table.rows).toBe(rows.length);
      const valueAt = (id: string, row: number): number | string | null => {
        const column = table.columns[id]!;
        const code = column.codes[row]!;
        if (code === 0) return null;
        return 'words' in column ? column.words[code - 1]! : column.values[code - 1]!;
      };
      rows.forEach((row, i) => {
        for (const [id, of] of FIGURES)
          expect([row.sku, id, valueAt(id, i)]).toEqual([row.sku, id, row[of] === null ? null : Number(row[of])]);
        expect(valueAt('uplift', i)).toBe(row.uplift);
        expect(valueAt('reason', i)).toBe(row.reason);
        // the order of the guards is told by the row itself
        const guards = String(valueAt('guard', i) ?? '').split(', ');
        expect(guards.sort()).toEqual((row.bit.length > 0 ? [...row.bit] : ['']).sort());
        for (const look of Object.keys(LOOKS) as Look[])
          expect([row.sku, look, (masks[i]! & LOOK_BITS[look]) !== 0]).toEqual([row.sku, look, LOOKS[look].fits(row)]);
        const { posted, proposed, flag } = row;
        const differs = proposed !== null && (posted === null || compareNumbers(posted, proposed) !== 0);
        expect([row.sku, (masks[i]! & LOOK_BITS.postable) !== 0]).toEqual([
          row.sku,
          differs && flag !== 'floor_above_ceiling',
        ]);
        compared += 1;
      });
      const priced = rows.filter((r) => r.proposed !== null);
      const up = priced.filter((r) => r.posted === null || compareNumbers(r.proposed!, r.posted) > 0).length;
      const unchanged = priced.length - up - priced.filter(lower).length;
      expect(summary).toEqual({ up, down: priced.filter(lower).length, unchanged });
      expect(falling).toBeLessThanOrEqual(rows.filter((r) => r.wouldFallTo !== null).length);
      for (const look of Object.keys(LOOKS) as Look[]) expect(looks[look]).toBe(rows.filter(LOOKS[look].fits).length);
    }
    expect(compared).toBeGreaterThan(240);
  });
});
