import { describe, expect, it } from 'vitest';
import { pack } from '#contract/packed.ts';
import type { TrialFigures } from '#contract/recipes.ts';
import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { LARGE_DAY, largeWorkspace } from '#demo/large-workspace.ts';
import { TrialSession, unitsText } from './trial-session.ts';

const w = largeWorkspace(150, 3);
const list = w.lists[1]!;
const recipe = w.recipes.find((r) => r.id === list.recipe)!;

/** What the server sends for a list, as bytes. */
function sent(made: RecipeTerms): ArrayBuffer {
  const bulk = new BulkWorkspace(
    new Prepared({ ...w, recipes: w.recipes.map((r) => (r.id === made.id ? made : r)) }),
    LARGE_DAY,
  );
  const { rows, day: _, ...figures } = bulk.columns;
  const names = rows.map(({ item }) => bulk.ws.items.get(item)!);
  const packed: TrialFigures = {
    figures,
    list: bulk.list(list)!,
    recipe: made,
    decimals: 2,
    currency: list.currency,
    skus: names.map((i) => i.sku),
    names: names.map((i) => i.name),
  };
  return pack(packed).buffer as ArrayBuffer;
}
const dearer = (by: number): RecipeTerms => ({
  ...recipe,
  uplift: recipe.uplift.map((r) => ({ ...r, value: String(Number(r.value) + by) })),
});
/** The prices of a recipe by the explained way, by SKU. */
function explained(made: RecipeTerms): Map<string, string> {
  const ws = new Prepared({ ...w, recipes: w.recipes.map((r) => (r.id === made.id ? made : r)) });
  return new Map(
    w.items.map((i) => {
      const found = computePrice(ws, { item: i.id, pack: i.packs[0]!.id, list: list.id, day: LARGE_DAY });
      if (!found.ok) throw new Error(found.reason.code);
      return [i.sku, money(found.value.price, 2)];
    }),
  );
}

describe('a list tried in the browser', () => {
  it('moves as the explained way moves every price, and names the largest moves with both figures', () => {
    const session = new TrialSession();
    session.load(sent(recipe), true);
    const found = session.effect(dearer(5), 'kept')!;
    const [before, after] = [explained(recipe), explained(dearer(5))];
    const moved = [...before].filter(([sku, price]) => !dec(price).eq(after.get(sku)!));
    expect(found.undecided).toBe(0);
    expect([found.prices, found.rises + found.falls]).toEqual([150, moved.length]);
    expect(moved.length).toBeGreaterThan(50);
    for (const move of found.largestRises) {
      expect([move.sku, move.before, move.after]).toEqual([move.sku, before.get(move.sku), after.get(move.sku)]);
    }
    expect(found.meanMargin!).toBeGreaterThan(found.meanMarginBefore!);
  });

  it('says that nothing moves where nothing was changed, and that nothing was posted', () => {
    const session = new TrialSession();
    session.load(sent(recipe), true);
    expect(session.effect(recipe, 'kept')).toMatchObject({ rises: 0, falls: 0, unchanged: 150 });
    expect(session.effect(recipe, 'posted')).toMatchObject({ first: 150, meanMarginBefore: null });
  });

  it('asks for the list anew when a ladder is taken away, and still holds it against the kept recipe', () => {
    const session = new TrialSession();
    session.load(sent(recipe), true);
    const bare = { ...recipe, ladder: null };
    expect(session.effect(bare, 'kept')).toBeNull();
    session.load(sent(bare), false);
    const found = session.effect(bare, 'kept')!;
    const [before, after] = [explained(recipe), explained(bare)];
    expect(found.unchanged).toBe([...before].filter(([sku, price]) => dec(price).eq(after.get(sku)!)).length);
    expect(found.unchanged).toBeLessThan(150);
  });

  it('writes prices with all their digits', () => {
    expect([unitsText(1290, 100, 2), unitsText(5, 1000, 2), unitsText(1200, 1000, 2), unitsText(7, 1, 0)]).toEqual([
      '12.90',
      '0.005',
      '1.20',
      '7',
    ]);
  });
});
