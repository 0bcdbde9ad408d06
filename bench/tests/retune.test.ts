import { describe, expect, it } from 'vitest';
import { BulkWorkspace, bulkPrices } from '#core/bulk/bulk-prices.ts';
import { MOVE_EDGES, effectOf } from '#core/bulk/effect.ts';
import { type BulkPrices, FLAGS, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { retune } from '#core/bulk/retune.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { Dice } from '#core/numbers/dice.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { RANDOM_DAY, randomWorkspace } from './random-workspace.ts';

/** The recipe with other figures in the same places. */
function otherFigures(recipe: RecipeTerms, dice: Dice): RecipeTerms {
  const percent = () => dice.pick(['0', '10', '25', '33.3', '50', '62.5', '99', '140']);
  return {
    ...recipe,
    uplift: recipe.uplift.map((row) => ({ ...row, value: dice.next() < 0.7 ? percent() : row.value })),
    guards: recipe.guards.map((guard) => ({ ...guard, percent: dice.pick(['5', '15', '60', '150']) })),
    addOns: (recipe.addOns ?? []).map((a) => (a.scope || a.kind === 'by_weight' ? a : { ...a, value: percent() })),
  };
}
const decided = ({ price, markup, margin, flag, guards, row }: BulkPrices, i: number) =>
  [price, markup, margin, flag, guards, row].map((column) => column[i]);

describe('a list whose recipe got other figures', () => {
  const pricedAlike = (seed: number): boolean => {
    const w = randomWorkspace(seed);
    const before = w.recipes[0]!;
    const list = w.lists[0]!;
    const ready = new BulkWorkspace(new Prepared(w), RANDOM_DAY).list(list);
    const after = otherFigures(before, new Dice(seed));
    const retuned = ready && retune(ready, before, after);
    if (!retuned) return false;
    const fresh = new BulkWorkspace(new Prepared({ ...w, recipes: [after, ...w.recipes.slice(1)] }), RANDOM_DAY);
    const rows = fresh.columns.rows.length;
    const out = emptyPrices(rows, retuned.ladder.scale);
    priceRows(fresh.columns, retuned, out, 0, rows);
    const expected = bulkPrices(fresh, list);
    for (let i = 0; i < rows; i++)
      if (FLAGS[out.flag[i]!] !== 'open') expect([seed, i, decided(out, i)]).toEqual([seed, i, decided(expected, i)]);
    return true;
  };

  it('prices as if it had been made ready anew', () => {
    const seeds = Array.from({ length: 60 }, (_, i) => 400 + i);
    // some have a guard of 100 % and more, which the explained way refuses
    expect(seeds.filter(pricedAlike).length).toBeGreaterThan(20);
  });

  it('is made ready anew where a row reaches other items, or the ladder or the basis is another', () => {
    const w = largeWorkspace(20, 1);
    const ready = new BulkWorkspace(new Prepared(w), LARGE_DAY).list(w.lists[0]!)!;
    const [recipe] = w.recipes as [RecipeTerms];
    const changed = (more: Partial<RecipeTerms>) => retune(ready, recipe, { ...recipe, ...more });
    expect(changed({})).toEqual(ready);
    expect(changed({ ladder: null })).toBeNull();
    expect(changed({ basis: { kind: 'cost' } })).toBeNull();
    expect(changed({ uplift: recipe.uplift.slice(1) })).toBeNull();
    expect(changed({ uplift: recipe.uplift.map((r) => ({ ...r, scope: { ...r.scope, brand: 'Vik' } })) })).toBeNull();
  });
});

describe('what a change does to a list', () => {
  const w = largeWorkspace(400, 1);
  const [recipe] = w.recipes as [RecipeTerms];
  const bulk = new BulkWorkspace(new Prepared(w), LARGE_DAY);
  const priced = (more: number) => {
    const dearer = { ...recipe, uplift: recipe.uplift.map((r) => ({ ...r, value: String(Number(r.value) + more) })) };
    const ready = retune(bulk.list(w.lists[0]!)!, recipe, dearer)!;
    const out = emptyPrices(400, ready.ladder.scale);
    priceRows(bulk.columns, ready, out, 0, 400);
    return out;
  };
  it('is counted whole: every price rises, falls, stays, is the first, or is left open', () => {
    const before = priced(0);
    const after = priced(4);
    const effect = effectOf(after, before.price);
    expect(effect.rises).toBeGreaterThan(100);
    expect(effect.falls).toBe(0);
    expect(effect.rises + effect.unchanged + effect.first + effect.undecided).toBe(400);
    expect(effect.moves.reduce((a, b) => a + b)).toBe(effect.rises + effect.falls);
    expect(effect.moves).toHaveLength(MOVE_EDGES.length + 1);
    expect(effectOf(before, before.price)).toMatchObject({ rises: 0, falls: 0, largestRises: [] });
  });
  it('names the largest moves, the largest first', () => {
    const before = priced(0);
    const after = priced(4);
    const share = (m: { before: number; after: number }) => m.after / m.before;
    const { largestRises } = effectOf(after, before.price);
    const all = Array.from(after.price, (p, i) => p / before.price[i]!).filter((s) => s > 1);
    expect(largestRises.map(share)).toEqual(all.sort((a, b) => b - a).slice(0, 5));
    expect(effectOf(before, after.price).largestFalls).toHaveLength(5);
  });
});
