import type { Day } from '../numbers/day.ts';
import type { LadderTie } from '../rounding/ladder.ts';
import type { ListEntry } from './entries.ts';

/** A list without a price of its own for an item goes to its parent, with this change on the goods. */
export interface FallBack {
  readonly list: string;
  /** Per cent added (−8 takes off 8 %). */
  readonly percent?: string | null;
  /** A typed exchange rate (units of this list's currency for one of the parent's) instead of the day's. */
  readonly rate?: string | null;
  readonly factor?: string | null;
}

/** From `from` on the list exchanges at the rates of `rates` (null: at the latest again). */
export interface RatePin {
  readonly from: Day;
  readonly rates?: Day | null;
}

/** A recipe for one item, or a category with everything below it. */
export interface RecipeTie {
  readonly item?: string | null;
  readonly category?: string | null;
  readonly recipe: string;
}

export interface PriceList {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly currency: string;
  readonly taxIn: boolean;
  /** Decimals of its unit prices; absent: those of the currency. */
  readonly decimals?: number | null;
  /** A list whose prices are advertised: minimum advertised prices count. */
  readonly advertised: boolean;
  readonly active: boolean;
  readonly from?: Day | null;
  readonly to?: Day | null;
  /** Who it is meant for: these customers and the members of these groups; both empty: everyone. */
  readonly customers?: readonly string[];
  readonly groups: readonly string[];
  /** Only for goods going to these regions; empty: anywhere. */
  readonly regions?: readonly string[];
  /** Only through these sales channels; empty: any. */
  readonly channels?: readonly string[];
  /** Among lists whose audience fits equally well, the lower rank comes first. */
  readonly rank: number;
  readonly recipe: string | null;
  /** Recipes for single items or categories instead of it; the most specific counts. */
  readonly recipes?: readonly RecipeTie[];
  /** Goes before the recipe's ladder; without either, the default ladder of the currency. */
  readonly ladder?: string | null;
  /** Ladders for single items, categories or packs instead of it; the most specific counts. */
  readonly ladders?: readonly LadderTie[];
  readonly parent?: FallBack | null;
  /** An item without a price here: goes to the parent or the next list, or is not sold to this audience at all. */
  readonly unnamed?: 'falls_back' | 'not_sold';
  readonly entries?: readonly ListEntry[];
  readonly ratePins?: readonly RatePin[];
  /** A second person agrees to a posting that moves any price by more than so many per cent; 0: to every one; absent: to none. */
  readonly secondPersonBeyond?: string | null;
}

/** Which list answers where several are meant for the buyer. */
export const LIST_CHOICES = ['first', 'lowest'] as const;
export type ListChoice = (typeof LIST_CHOICES)[number];
