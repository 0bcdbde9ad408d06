import { plusDays } from '../numbers/day.ts';
import { type Dec, dec } from '../numbers/decimal.ts';
import type { Day, PostedPrice, Prepared } from '../workspace/index.ts';

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
export function wasPrice(ws: Prepared, q: { list: string; item: string; pack: string; began: Day }): WasPrice | null {
  const first = plusDays(q.began, -WAS_DAYS);
  const last = plusDays(q.began, -1);
  const inForce = new Map<Day, PostedPrice>();
  for (const p of ws.postings(q.list, q.item, q.pack)) {
    if (p.from > last) continue;
    const known = inForce.get(p.from);
    if (!known || p.entry > known.entry) inForce.set(p.from, p);
  }
  const days = [...inForce.keys()].sort();
  let best: WasPrice | null = null;
  days.forEach((from, i) => {
    const until = days[i + 1] ? plusDays(days[i + 1]!, -1) : last;
    const posted = inForce.get(from)!;
    if (until < first || posted.price === null) return;
    const lowest = dec(posted.price);
    if (!best || lowest.lt(best.lowest)) best = { lowest, on: from < first ? first : from, posting: posted.posting };
  });
  return best;
}
