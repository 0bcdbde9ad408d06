import { describe, expect, it } from 'vitest';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { compareAnswers } from './compare.ts';

const DAY = '2026-03-09';

function shop(markup: string, items: readonly string[] = ['a', 'b']): Prepared {
  const w: Workspace = {
    ...emptyWorkspace(),
    items: items.map((id) => ({
      id,
      sku: id.toUpperCase(),
      name: id,
      unit: 'each',
      category: 'all',
      taxClass: 'std',
      packs: [{ id: `${id}-1`, name: 'each', units: '1' }],
    })),
    suppliers: [{ id: 's', version: 1, name: 'S', currency: 'EUR', landed: {} }],
    costs: items.map((item, entry) => ({
      id: `c-${item}`,
      item,
      supplier: 's',
      cost: { amount: '10', currency: 'EUR' },
      packUnits: '1',
      from: '2026-01-01',
      origin: 'file' as const,
      entry,
    })),
    taxes: [{ taxClass: 'std', percent: '20', from: '2020-01-01' }],
    recipes: [
      {
        id: 'r',
        version: 1,
        name: 'R',
        basis: { kind: 'landed' },
        uplift: [
          { id: 'all', scope: {}, method: 'markup', value: '50' },
          { id: 'b', scope: { item: 'b' }, method: 'markup', value: markup },
        ],
        ladder: null,
        guards: [],
      },
    ],
    lists: [
      {
        id: 'l',
        version: 1,
        name: 'L',
        currency: 'EUR',
        taxIn: false,
        advertised: false,
        active: true,
        groups: [],
        rank: 1,
        recipe: 'r',
      },
    ],
  };
  return new Prepared(w);
}

describe('what a change of the set-up does to questions', () => {
  it('says nothing of an answer that stays', () => {
    const asked = { kind: 'price', item: 'a', day: DAY } as const;
    expect(compareAnswers(shop('50'), shop('60'), asked)).toEqual({ kind: 'price', same: true, differences: [] });
  });

  it('names every figure that moves, before and after', () => {
    const asked = { id: 'q', kind: 'recipe', list: 'l', item: 'b', day: DAY } as const;
    const found = compareAnswers(shop('50'), shop('60'), asked);
    expect(found.same).toBe(false);
    expect(found.differences).toContainEqual({ path: 'price', before: '15.00', after: '16.00' });
    expect(found.differences).toContainEqual({ path: 'exact.markup', before: '50', after: '60' });
  });

  it('compares prices of a list by item, so that a new item moves no other', () => {
    const found = compareAnswers(shop('50', ['a', 'b']), shop('50', ['n', 'a', 'b']), { kind: 'prices', day: DAY });
    expect(found.differences.map((d) => [d.path, d.before === null])).toEqual([['rows.l/n/n-1', true]]);
  });

  it('shows an answer that is lost with its reason', () => {
    const found = compareAnswers(shop('50'), shop('50', ['a']), { kind: 'price', item: 'b', day: DAY });
    expect(found.differences.find((d) => d.path === 'ok')).toEqual({ path: 'ok', before: true, after: false });
    expect(found.differences.find((d) => d.path === 'reason')?.after).toMatchObject({ code: 'unknown_item' });
  });
});
