import type { BuyerQuestion } from '../lists/buyer.ts';
import type { Unposted } from '../lists/list-price.ts';
import type { ChainQuestion } from '../quotes/change-orders.ts';
import type { QuoteQuestion } from '../quotes/questions.ts';
import type { Tolerance } from '../worksheets/propose-price.ts';
import type { Day } from '../workspace/index.ts';

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

/** Do the workspace's proofs hold? */
export interface ProofsAsked extends Asked {
  readonly kind: 'proofs';
}

/** A question that a proof can keep. */
export type ProvableQuestion = PriceAsked | RecipeAsked | CostAsked | QuoteAsked | ChangesAsked;

export type Question = ProvableQuestion | LadderAsked | WasAsked | CheckAsked | RulesAsked | ProofsAsked;
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
  'proofs',
] as const satisfies readonly Question['kind'][];
