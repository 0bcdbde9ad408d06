import type { AmountText } from '../numbers/amount.ts';
import type { CostSide } from '../costs/cost.ts';
import type { LadderTie } from '../rounding/ladder.ts';
import type { Scope } from '../items/scope.ts';

export const BASES = ['landed', 'cost', 'rrp', 'list', 'current'] as const;
export type BasisKind = (typeof BASES)[number];

export const UPLIFT_METHODS = ['markup', 'margin', 'multiply', 'add', 'percent_off', 'amount_off', 'fixed'] as const;
export type UpliftMethod = (typeof UPLIFT_METHODS)[number];

/** What a row is tied to, and the band of the basis it is for. */
export interface UpliftScope extends Scope {
  /** A band of the basis per pack, in the list's currency: from inclusive, to exclusive. */
  readonly band?: { readonly from: string; readonly to: string | null } | null;
}

export interface UpliftRow {
  readonly id: string;
  readonly scope: UpliftScope;
  readonly method: UpliftMethod;
  /** Per cent for markup, margin and per cent off; a factor for multiply; an amount for the others. */
  readonly value: string;
  /** Only for amounts; absent: the list's. */
  readonly currency?: string | null;
}

export const ADD_ON_KINDS = ['amount', 'percent_of_basis', 'by_weight', 'fee'] as const;
export type AddOnKind = (typeof ADD_ON_KINDS)[number];

/** What comes on top besides the uplift: before it (and is marked up) or after it. */
export interface AddOn {
  readonly id: string;
  readonly name: string;
  readonly kind: AddOnKind;
  readonly when?: 'before' | 'after';
  /** An amount, or per cent of the basis of the pack; not used by weight. */
  readonly value?: string | null;
  /** Of the amounts; absent: the list's. */
  readonly currency?: string | null;
  /** Whether an amount is for the pack (the default) or for each unit in it. */
  readonly per?: 'pack' | 'unit';
  /** By weight of the pack in kg: from inclusive, to exclusive; an amount per pack. */
  readonly bands?: readonly { readonly from: string; readonly to: string | null; readonly value: string }[];
  readonly scope?: Scope | null;
}

export const GUARD_KINDS = [
  'not_below_cost',
  'least_markup',
  'least_margin',
  'least_price',
  'map',
  'raise_only',
  'rrp',
  'most_markup',
  'most_margin',
  'most_price',
] as const;
export type GuardKind = (typeof GUARD_KINDS)[number];

export interface GuardTerms {
  /** Absent: its kind. */
  readonly id?: string;
  readonly kind: GuardKind;
  /** Per cent for markups and margins. */
  readonly percent?: string | null;
  /** For least and most price: per pack, as the buyer sees it on the list. */
  readonly amount?: AmountText | null;
}

/** The ordered way from a cost to a sell price. */
export interface RecipeTerms {
  /** What "raise only" keeps from falling is not asked about: it just stays. */
  readonly quietFalls?: boolean;
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** `cost`: what is paid (a supplier's reduced cost where there is one; the default), or the usual cost. */
  readonly basis: { readonly kind: BasisKind; readonly list?: string | null; readonly cost?: CostSide };
  readonly uplift: readonly UpliftRow[];
  readonly addOns?: readonly AddOn[];
  readonly ladder: string | null;
  /** Ladders for single items, categories or packs; those of a list go before. */
  readonly ladders?: readonly LadderTie[];
  readonly guards: readonly GuardTerms[];
}
