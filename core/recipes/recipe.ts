import type { AmountText } from '../numbers/amount.ts';

export const BASES = ['landed', 'cost', 'rrp', 'list', 'current'] as const;
export type BasisKind = (typeof BASES)[number];

export const UPLIFT_METHODS = ['markup', 'margin', 'multiply', 'add', 'percent_off', 'amount_off', 'fixed'] as const;
export type UpliftMethod = (typeof UPLIFT_METHODS)[number];

/** What a row is tied to; an absent field ties it to nothing. A category holds everything below it. */
export interface UpliftScope {
  readonly item?: string | null;
  readonly model?: string | null;
  readonly attributes?: Readonly<Record<string, string>> | null;
  readonly brand?: string | null;
  readonly supplier?: string | null;
  readonly category?: string | null;
  /** A pack's name: every item's carton, say. */
  readonly pack?: string | null;
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
  readonly kind: GuardKind;
  /** Per cent for markups and margins. */
  readonly percent?: string | null;
  /** For least and most price: per pack, as the buyer sees it on the list. */
  readonly amount?: AmountText | null;
}

/** The ordered way from a cost to a sell price. */
export interface RecipeTerms {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly basis: { readonly kind: BasisKind; readonly list?: string | null };
  readonly uplift: readonly UpliftRow[];
  readonly ladder: string | null;
  readonly guards: readonly GuardTerms[];
}
