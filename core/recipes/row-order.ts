import { type Tie, compareSpecificity, specificityOf } from '../items/scope.ts';
import type { ItemsView } from '../items/view.ts';
import { dec } from '../numbers/decimal.ts';
import type { UpliftScope } from './recipe.ts';

/** The order in which a row's ties make it more specific; source: docs/arithmetic.md, "Uplift table". */
const ORDER: readonly Tie[] = [
  'item',
  'model',
  'lockstep',
  'attributes',
  'brand',
  'supplier',
  'category',
  'pack',
  'channel',
];

/** Below 0: `a` is the more specific row. After the ties, a row with a band comes first, and of two the narrower. */
export function compareRows(ws: ItemsView, a: UpliftScope, b: UpliftScope): number {
  const ties = (s: UpliftScope) => {
    const digits = specificityOf(ws, s, ORDER);
    // whether it has a category comes before how deep that is: the depth counts after pack and band
    const depth = digits[6]!;
    digits[6] = depth > 0 ? 1 : 0;
    return [...digits, s.band ? 1 : 0, depth];
  };
  return compareSpecificity(ties(a), ties(b)) || compareBands(a.band, b.band);
}

function compareBands(a: UpliftScope['band'], b: UpliftScope['band']): number {
  if (!a || !b) return 0;
  if (a.to === null || b.to === null) return Number(a.to === null) - Number(b.to === null);
  return dec(a.to).minus(a.from).cmp(dec(b.to).minus(b.from));
}
