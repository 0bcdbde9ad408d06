import { BulkWorkspace, type DecidedPrices, bulkPrices } from '#core/bulk/bulk-prices.ts';
import { FLAGS, PERCENT_PLACES } from '#core/bulk/price-rows.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { type Dec, dec, roundHalfUp } from '#core/numbers/decimal.ts';
import { GUARD_KINDS, type RecipeTerms } from '#core/recipes/recipe.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';

export interface Compared {
  readonly prices: number;
  /** Decided by the bulk way itself. */
  readonly filtered: number;
  readonly mismatch: string | null;
}

/** Prices every row of every list both ways and says where they differ. */
export function compareWays(w: Workspace, day: string): Compared {
  const ws = new Prepared(w);
  const bulk = new BulkWorkspace(ws, day);
  let [prices, filtered] = [0, 0];
  for (const list of w.lists) {
    const fast = bulkPrices(bulk, list);
    prices += fast.flag.length;
    filtered += fast.flag.length - fast.explained;
    for (const [i, { item, pack }] of bulk.columns.rows.entries()) {
      const slow = computePrice(ws, { item, pack, list: list.id, day });
      const one = slow.ok
        ? [
            within(slow.value.price, fast.scale),
            percent(slow.value.markup),
            percent(slow.value.margin),
            slow.value.flag ?? 'none',
            slow.value.row,
            [...slow.value.bit].sort().join(),
            slow.value.wouldFallTo && within(slow.value.wouldFallTo, fast.scale),
          ]
        : [slow.reason.code];
      const other = fast.reasons.has(i)
        ? [fast.reasons.get(i)!.code]
        : rowOf(fast, i, ws.recipeFor(list, ws.followed(ws.items.get(item)!))!);
      if (JSON.stringify(one) !== JSON.stringify(other)) {
        return {
          prices,
          filtered,
          mismatch: `${list.id}/${item}/${pack}: explained ${one.join(' | ')}; bulk ${other.join(' | ')}`,
        };
      }
    }
  }
  return { prices, filtered, mismatch: null };
}

const percent = (figure: Dec | null): string | null =>
  figure && within(roundHalfUp(figure, PERCENT_PLACES), 10 ** PERCENT_PLACES);

/** As text, or that a double cannot count it in these units. */
const within = (figure: Dec, scale: number): string =>
  figure.times(scale).abs().lte(Number.MAX_SAFE_INTEGER) ? figure.toFixed() : 'beyond';

function rowOf(p: DecidedPrices, i: number, recipe: RecipeTerms): (string | null)[] {
  const units = (value: number, scale: number) => {
    if (Number.isNaN(value)) return null;
    return Number.isFinite(value) ? dec(String(value)).div(scale).toFixed() : 'beyond';
  };
  return [
    units(p.price[i]!, p.scale),
    units(p.markup[i]!, 10 ** PERCENT_PLACES),
    units(p.margin[i]!, 10 ** PERCENT_PLACES),
    FLAGS[p.flag[i]!]!,
    recipe.uplift[p.row[i]!]?.id ?? null,
    GUARD_KINDS.filter((_, g) => p.guards[i]! & (1 << g))
      .map((kind) => GUARD_NAMES[kind])
      .sort()
      .join(),
    units(p.wouldFallTo[i]!, p.scale),
  ];
}
