import { describe, expect, it } from 'vitest';
import { type BulkWorkspace, bulkPrices, decide } from '#core/bulk/bulk-prices.ts';
import { FLAGS, emptyPrices } from '#core/bulk/price-rows.ts';
import { checkWorkspace } from '#core/checks/check.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { RANDOM_DAY, randomWorkspace } from './random-workspace.ts';

/** Every price of a list the explained way. */
function explained(bulk: BulkWorkspace, list: PriceList) {
  const { scale, flag } = bulkPrices(bulk, list);
  const open = emptyPrices(flag.length, scale);
  open.flag.fill(FLAGS.indexOf('open'));
  return decide(bulk, list, open);
}

describe('the check finds the same whether prices are worked out in bulk or explained one by one', () => {
  it.each([1, 588, 1768, ...Array.from({ length: 40 }, (_, i) => 20_000 + i)])(
    'on workspaces made to stand on ties, edges, cuts and guards: seed %i',
    (seed) => {
      const ws = new Prepared(randomWorkspace(seed, 40));
      const found = checkWorkspace(ws, RANDOM_DAY);
      expect(found).toEqual(checkWorkspace(ws, RANDOM_DAY, explained));
      expect(found.length).toBeGreaterThan(0);
    },
  );

  it('on a large workspace with faults in it', () => {
    const large = largeWorkspace(200);
    const items = large.items.map((item, i) => (i % 40 === 0 ? { ...item, weightKg: null, rrp: null } : item));
    const ws = new Prepared({ ...large, items, costs: large.costs.slice(20) });
    expect(checkWorkspace(ws, RANDOM_DAY)).toEqual(checkWorkspace(ws, RANDOM_DAY, explained));
  });
});

it('every recipe that asks for an RRP that its only item does not have is told, on whichever list it is', () => {
  const large = largeWorkspace(1);
  const [recipe] = large.recipes;
  const [list] = large.lists;
  const guards = [{ kind: 'rrp', value: null }] as unknown as RecipeTerms['guards'];
  const ws = new Prepared({
    ...large,
    items: large.items.map((item) => ({ ...item, rrp: null })),
    recipes: ['a', 'b'].map((id) => ({ ...recipe!, id, guards })),
    lists: ['a', 'b'].map((id) => ({ ...list!, id, recipe: id, parent: null })),
  });
  const places = checkWorkspace(ws, LARGE_DAY).flatMap((f) => (f.code === 'item_without_rrp' ? f.places : []));
  expect(places).toEqual(['recipes/a/guards', 'recipes/b/guards']);
});
