import type { PriceQuestion } from '../lists/achieved.ts';
import { computePrice } from '../lists/list-price.ts';
import { type Dec, dec, divide, percent, settle } from '../numbers/decimal.ts';
import { type Outcome, figure } from '../reasons.ts';
import type { ComputedPrice, Falls } from '../recipes/compute-price.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { Tolerance } from './tolerance.ts';

/** Why a proposed price waits until a person has looked. */
export const HOLDS = ['floor_above_ceiling', 'rises_beyond_tolerance', 'falls_beyond_tolerance'] as const;
export type Hold = (typeof HOLDS)[number];

/** A proposed change of one price; per pack, in the list's currency, as the list shows it. */
export interface ProposedPrice {
  readonly posted: Dec | null;
  readonly proposed: Dec;
  /** Unrounded; null where nothing was posted, or at 0. */
  readonly changePercent: Dec | null;
  readonly holds: readonly Hold[];
  /** What "raise only" keeps the price from falling to; null: nothing, or the fall is allowed. */
  readonly wouldFallTo: Dec | null;
  /** A typed price stands and leaves less than the recipe aims at. */
  readonly squeezed: boolean;
  readonly computed: ComputedPrice;
}

/** What a worksheet proposes for one price. Where falls are allowed the price is computed as if "raise only" were not there. */
export function proposePrice(
  ws: Prepared,
  q: PriceQuestion,
  tolerance: Tolerance,
  falls: Falls,
): Outcome<ProposedPrice> {
  const found = computePrice(ws, q, falls);
  if (!found.ok) return found;
  const computed = found.value;
  const proposed = computed.price;
  const asked = ws.items.get(q.item)!;
  const row = ws.postedOn(q.list, ws.followed(asked).id, ws.packOf(asked, q.pack)!.id, q.day);
  const posted = row ? dec(row.price!) : null;
  const changePercent = posted && !posted.isZero() ? settle(percent(divide(proposed.minus(posted), posted))) : null;
  const holds: Hold[] = [];
  if (computed.flag === 'floor_above_ceiling') holds.push('floor_above_ceiling');
  if (changePercent && tolerance.up && changePercent.gt(tolerance.up)) holds.push('rises_beyond_tolerance');
  if (changePercent && tolerance.down && changePercent.negated().gt(tolerance.down))
    holds.push('falls_beyond_tolerance');
  return figure({
    posted,
    proposed,
    changePercent,
    holds,
    wouldFallTo: computed.wouldFallTo,
    squeezed: computed.handSet?.squeezed ?? false,
    computed,
  });
}
