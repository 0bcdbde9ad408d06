import type { AmountText } from '../numbers/amount.ts';
import type { Day } from '../numbers/day.ts';
import type { Scope } from '../items/scope.ts';

/** A fee of a whole order, divided over its lines by their amount. Both in one currency, without tax. */
export interface OrderFee {
  readonly fee: AmountText;
  /** What the goods of such an order come to. */
  readonly order: string;
}

/** What bringing a supplier's goods in costs, on top of the unit cost. */
export interface LandedTerms {
  /** By weight (per kg) or an amount per unit. */
  readonly freight?: { readonly per: 'kg' | 'unit'; readonly amount: AmountText } | null;
  /** Per cent of the unit cost. */
  readonly dutyPercent?: string | null;
  /** Per unit. */
  readonly handling?: AmountText | null;
  /** Per cent of the unit cost. */
  readonly overheadPercent?: string | null;
  /** Counts where the cost brings no share of a real bill's fee. */
  readonly orderFee?: OrderFee | null;
  /** How many cost packs of an item are ordered at once: which of its quantity prices is paid. */
  readonly usualOrder?: string | null;
}

export interface Supplier {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly currency: string;
  readonly landed: LandedTerms;
}

/**
 * Other terms of a supplier from a day on: for one item, for a category with everything below it, or for all its goods.
 * What they leave empty is as the less specific say, and last as the supplier itself; 0 says that there is none.
 */
export interface DatedLandedTerms extends LandedTerms {
  readonly id: string;
  readonly version: number;
  readonly supplier: string;
  readonly scope: Scope;
  readonly from: Day;
}

/** What a supplier asks where at least so many cost packs are ordered at once. */
export interface QuantityPrice {
  readonly from: string;
  /** Per cost pack, in the currency of the cost. */
  readonly cost: string;
}

/** One cost of one item from one supplier, valid from a day until the next one begins. */
export interface Cost {
  readonly id: string;
  readonly item: string;
  readonly supplier: string;
  /** Per cost pack: the usual one. */
  readonly cost: AmountText;
  /** Per cost pack: what is paid instead for the time being; the usual one is kept beside it. */
  readonly reduced?: AmountText | null;
  /** What more at once costs, instead of the usual cost. */
  readonly quantityPrices?: readonly QuantityPrice[] | null;
  /** Units in the cost pack. */
  readonly packUnits: string;
  readonly from: Day;
  /** The last day: of the reduced cost where there is one, and then the usual counts on; else of the cost itself. */
  readonly to?: Day | null;
  readonly origin: 'file' | 'connection' | 'bill' | 'typed';
  /** A typed cost holds against files and connections that are entered later, until this is set. */
  readonly released?: boolean;
  /** What the bill that brought it asked besides, and over goods of how much: in the bill's currency, without tax. */
  readonly fee?: { readonly amount: string; readonly of: string } | null;
  /** Order of entry: of two for the same day the later counts. */
  readonly entry: number;
}

/** One unit of `from` is `rate` units of `to`, from the day on. */
export interface Rate {
  readonly from: string;
  readonly to: string;
  readonly day: Day;
  readonly rate: string;
}

/** Which supplier's cost counts when several offer an item. */
export const SUPPLIER_CHOICES = ['preferred', 'lowest_landed', 'latest'] as const;
export type SupplierChoice = (typeof SUPPLIER_CHOICES)[number];

/** Which of a supplier's costs: what is paid (a reduced one where there is one), or the usual one. */
export const COST_SIDES = ['paid', 'usual'] as const;
export type CostSide = (typeof COST_SIDES)[number];
