import { priceLimits } from '../guards/price-limits.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { type Dec, settle } from '../numbers/decimal.ts';
import type { GuardKind, GuardTerms } from '../recipes/recipe.ts';
import { costOnList, type PriceQuestion } from './achieved.ts';
import { shownTerms, toNet, toShown } from './terms.ts';
import type { ListsView } from './view.ts';

/** Why posting a price has to be confirmed. */
export const PRICE_HARMS = ['below_cost', 'below_guards', 'above_guards', 'under_map', 'above_rrp'] as const;
export type PriceHarm = (typeof PRICE_HARMS)[number];

/** `at`: the limit it lies beyond, per pack as the list shows prices. */
export interface HarmFound {
  readonly harm: PriceHarm;
  readonly at: Dec;
}

/** Guards that say what a price is measured by whatever the recipe has: on advertised lists. */
const ADVERTISED: readonly GuardTerms[] = [{ kind: 'map' }, { kind: 'rrp' }];
/** Told by themselves, or no limit of a price that a person sets. */
const APART: ReadonlySet<GuardKind> = new Set(['not_below_cost', 'map', 'rrp', 'raise_only']);
const BY_COST: ReadonlySet<GuardKind> = new Set(['least_markup', 'least_margin', 'most_markup', 'most_margin']);

/**
 * What a shown price would do on its list: fall below landed cost, beyond a guard of the recipe that prices it, or, on an
 * advertised list, under the MAP or above the RRP. Exactly on a limit is not beyond it. What is not known harms nothing.
 */
export function priceHarms(ws: ListsView, q: PriceQuestion, shown: Dec): readonly HarmFound[] {
  const list = ws.lists.get(q.list);
  const asked = ws.items.get(q.item);
  const pack = asked && ws.packOf(asked, q.pack);
  if (!list || !asked || !pack) return [];
  const item = ws.followed(asked);
  const { day } = q;
  const terms = shownTerms(ws, list, item, pack, day);
  if (!terms.ok) return [];
  const out: HarmFound[] = [];
  const known = costOnList(ws, q);
  if (known.ok && settle(toNet(terms.value, shown)).lt(settle(known.value.cost)))
    out.push({ harm: 'below_cost', at: settle(toShown(terms.value, known.value.cost)) });
  const own = ws.recipeFor(list, item)?.guards ?? [];
  const guards = [
    ...own.filter((g) => !APART.has(g.kind) && (!BY_COST.has(g.kind) || (known.ok && known.value.cost.gt(0)))),
    ...(list.advertised ? ADVERTISED : []),
  ];
  const limits = priceLimits(ws, { recipe: { guards }, list, item, pack, day }, landedCost(ws, item, day), terms.value);
  if (!limits.ok) return out;
  for (const { kind, side, at } of limits.value.limits) {
    if (side === 'floor' ? shown.gte(at) : shown.lte(at)) continue;
    const harm =
      kind === 'map' ? 'under_map' : kind === 'rrp' ? 'above_rrp' : side === 'floor' ? 'below_guards' : 'above_guards';
    if (!out.some((h) => h.harm === harm)) out.push({ harm, at });
  }
  return out;
}
