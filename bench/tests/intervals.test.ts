import { expect, it } from 'vitest';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { dec } from '#core/numbers/decimal.ts';
import { chooseRow } from '#core/recipes/uplift.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { RANDOM_DAY, randomWorkspace } from './random-workspace.ts';

it('an item’s interval names the row that the uplift table itself chooses, at every basis', () => {
  let asked = 0;
  for (let seed = 20_000; seed < 20_060; seed++) {
    const w = randomWorkspace(seed, 12);
    const ws = new Prepared(w);
    const bulk = new BulkWorkspace(ws, RANDOM_DAY);
    const list = w.lists[0]!;
    const ready = bulk.list(list);
    if (!ready) continue;
    const recipe = ws.recipes.get(ready.recipe)!;
    const { first, until, row } = ready.uplift;
    for (const [i, named] of bulk.columns.rows.entries()) {
      const klass = ready.klass[i]!;
      if (klass < 0) continue;
      const item = ws.items.get(named.item)!;
      const pack = item.packs.find((p) => p.id === named.pack)!;
      // inside every interval, and on its first figure
      let from = 0;
      for (let at = first[klass]!; at < first[klass + 1]!; at++) {
        const to = until[at]!;
        for (const basis of [from === 0 ? 0.01 : from, to === Infinity ? from + 1 : (from + to) / 2]) {
          const chosen = chooseRow(ws, recipe, item, pack.name, list.channels ?? [], dec(String(basis)));
          const place = chosen.ok ? recipe.uplift.indexOf(chosen.value.row) : -1;
          expect([seed, named.item, basis, row[at]]).toEqual([seed, named.item, basis, place]);
          asked += 1;
        }
        from = to;
      }
      expect(from).toBe(Infinity);
    }
  }
  expect(asked).toBeGreaterThan(500);
});
