import type { BuyerQuestion } from '../lists/buyer.ts';
import type { Unposted } from '../lists/list-price.ts';
import type { ChainQuestion } from '../quotes/change-orders.ts';
import type { QuoteQuestion } from '../quotes/questions.ts';
import type { Day } from '../numbers/day.ts';
import type { Tolerance } from '../worksheets/tolerance.ts';

interface Asked {
  /** Comes back with the answer. */
  readonly id?: string;
}

/** What does this buyer pay? */
export interface PriceAsked extends Asked, BuyerQuestion {
  readonly kind: 'price';
  readonly item: string;
  /** A pack's id or name; absent: the base pack. */
  readonly pack?: string | null;
  /** Absent: the smallest quantity that can be ordered. */
  readonly quantity?: string | null;
  readonly day: Day;
  readonly list?: string | null;
  readonly unposted?: Unposted;
}

/** What does the recipe of a list make, whatever is posted, and would a worksheet hold it? */
export interface RecipeAsked extends Asked {
  readonly kind: 'recipe';
  readonly list: string;
  readonly item: string;
  readonly pack?: string | null;
  readonly day: Day;
  /** The sales channel it is asked through; absent: those of the list. */
  readonly channel?: string | null;
  readonly tolerance?: Tolerance | null;
  readonly falls?: 'keep' | 'allow_fall';
}

/** What does one unit cost, landed, in the workspace's currency? */
export interface CostAsked extends Asked {
  readonly kind: 'cost';
  readonly item: string;
  readonly day: Day;
}

/** What does a ladder make of these prices? */
export interface LadderAsked extends Asked {
  readonly kind: 'ladder';
  readonly ladder: string;
  /** Decimals of the list; absent: those of the ladder's currency. */
  readonly decimals?: number | null;
  readonly prices: readonly string[];
}

/** Which earlier price may be shown beside a reduced one? */
export interface WasAsked extends Asked {
  readonly kind: 'was';
  readonly list: string;
  readonly item: string;
  readonly pack?: string | null;
  /** First day of the reduction. */
  readonly began: Day;
  readonly announced?: string | null;
}

export interface QuoteAsked extends Asked, QuoteQuestion {
  readonly kind: 'quote';
}

export interface ChangesAsked extends Asked, ChainQuestion {
  readonly kind: 'changes';
}

/** What is wrong with this set-up? */
export interface CheckAsked extends Asked {
  readonly kind: 'check';
  readonly day: Day;
}

/** What do the attribute rules do to every item, one pack of each? */
export interface RulesAsked extends Asked {
  readonly kind: 'rules';
  readonly buyer: BuyerQuestion;
  readonly list?: string | null;
  readonly day: Day;
  /** Absent: the smallest quantity that can be ordered. */
  readonly quantity?: string | null;
}

/** What do the recipes of lists make for every item and pack? By the bulk way where no build-up is asked. */
export interface PricesAsked extends Asked {
  readonly kind: 'prices';
  readonly day: Day;
  /** Absent: every active list with a recipe. */
  readonly lists?: readonly string[] | null;
  /** Absent: every item. */
  readonly items?: readonly string[] | null;
}

export const GOALS = ['markup', 'cost'] as const;

/** Which markup makes this margin over what is sold? Which cost is the most that this price can bear? */
export interface GoalAsked extends Asked {
  readonly kind: 'goal';
  readonly seek: (typeof GOALS)[number];
  readonly list: string;
  readonly day: Day;
  /** What is sold, in packs (absent: one); a cost is sought for the first of them. */
  readonly items: readonly {
    readonly item: string;
    readonly pack?: string | null;
    readonly quantity?: string | null;
  }[];
  /** Per cent; for a markup. */
  readonly margin?: string | null;
  /** As the list shows it; for a cost. */
  readonly price?: string | null;
}

/** Do the workspace's proofs hold? */
export interface ProofsAsked extends Asked {
  readonly kind: 'proofs';
}

/** A question that a proof can keep. */
export type ProvableQuestion = PriceAsked | RecipeAsked | CostAsked | QuoteAsked | ChangesAsked;

export type Question =
  ProvableQuestion | LadderAsked | WasAsked | CheckAsked | RulesAsked | PricesAsked | GoalAsked | ProofsAsked;
export const QUESTION_KINDS = [
  'price',
  'recipe',
  'cost',
  'quote',
  'changes',
  'ladder',
  'was',
  'check',
  'rules',
  'prices',
  'goal',
  'proofs',
] as const satisfies readonly Question['kind'][];
