import { type Day, plusDays } from '../numbers/day.ts';
import { type Dec, dec } from '../numbers/decimal.ts';
import type { PostedView } from '../lists/posted-price.ts';

export interface WasPrice {
  /** The lowest price in force on any of the 30 days before the reduction began; as the list shows it, per pack. */
  readonly lowest: Dec;
  /** The first day of those on which it was in force. */
  readonly on: Day;
  readonly posting: string;
}

export const WAS_DAYS = 30;

/**
 * The price that may be shown as the earlier one beside a reduced price: the lowest that was posted on the list in the
 * 30 days before the reduction began, the one already in force on the first of them included. Null: none was.
 */
export function wasPrice(ws: PostedView, q: { list: string; item: string; pack: string; began: Day }): WasPrice | null {
  let best: WasPrice | null = null;
  for (let before = WAS_DAYS; before >= 1; before--) {
    const on = plusDays(q.began, -before);
    const posted = ws.postedOn(q.list, q.item, q.pack, on);
    if (!posted) continue;
    const lowest = dec(posted.price!);
    if (!best || lowest.lt(best.lowest)) best = { lowest, on, posting: posted.posting };
  }
  return best;
}
