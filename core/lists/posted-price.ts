import type { Day, PostedPrice } from '../workspace/types.ts';

/** The last day on which a posted price may be in force; null: it has none. */
export const lastDayOf = (p: Pick<PostedPrice, 'to' | 'handSet'>): Day | null => p.handSet?.lastDay ?? p.to ?? null;

/** Of a posted price what says until when it holds: a typed price says it with its reason. */
export function heldUntil(
  typed: { readonly reason: string; readonly by: string } | null,
  lastDay: Day | null,
): Pick<PostedPrice, 'to' | 'handSet'> {
  if (typed) return { handSet: { ...typed, lastDay } };
  return lastDay === null ? { handSet: null } : { handSet: null, to: lastDay };
}
