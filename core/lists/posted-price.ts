import type { Day } from '../numbers/day.ts';

/** A posted price of an item's pack on a list, in force from a day until the next one begins, or until its own last day. */
export interface PostedPrice {
  readonly list: string;
  readonly item: string;
  readonly pack: string;
  /** Null: from this day on it is taken off the list, which sells it neither by its recipe nor by its parent. */
  readonly price: string | null;
  readonly from: Day;
  readonly posting: string;
  /** Order of posting: of two for the same day the later counts. */
  readonly entry: number;
  /** Its last day; a typed price says its own in `handSet`. */
  readonly to?: Day | null;
  readonly handSet?: { readonly reason: string; readonly by: string; readonly lastDay?: Day | null } | null;
}

export interface PostedView {
  /** The posted price in force on a day; null: there is none, or it was taken off the list. */
  postedOn(list: string, item: string, pack: string, day: Day): PostedPrice | null;
  /** The posting in force on a day; its price is null where the item was taken off the list. */
  postingOn(list: string, item: string, pack: string, day: Day): PostedPrice | null;
}

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
