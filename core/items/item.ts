import type { AmountText } from '../numbers/amount.ts';

/** A quantity in which an item is sold. The base pack has 1 unit. */
export interface Pack {
  readonly id: string;
  readonly name: string;
  readonly units: string;
  /** Of the pack itself (a crate, a drum). Passed through at its amount, never marked up; with its own tax class. */
  readonly deposit?: AmountText | null;
  readonly depositTaxClass?: string | null;
  /** Of each unit in it (a bottle), on top of the pack's own; with its own tax class. */
  readonly unitDeposit?: AmountText | null;
  readonly unitDepositTaxClass?: string | null;
}

/** The least, most and step of a quantity that can be ordered, in packs as ordered; a step counts from 0. */
export interface OrderLimits {
  readonly least?: string | null;
  readonly most?: string | null;
  readonly step?: string | null;
}

/** Order limits that hold for one customer or the members of one group instead of the item's. */
export interface BuyerLimits extends OrderLimits {
  readonly customer?: string | null;
  readonly group?: string | null;
}

/** A price that the supplier recommends or asks to be kept. */
export interface Recommended extends AmountText {
  readonly taxIn?: boolean;
}

export interface Item {
  readonly id: string;
  readonly sku: string;
  readonly name: string;
  /** What one unit is: each, metre, litre. */
  readonly unit: string;
  readonly category: string;
  readonly brand?: string | null;
  readonly model?: string | null;
  readonly supplier?: string | null;
  readonly weightKg?: string | null;
  readonly taxClass: string;
  /** Per unit, without deposit; `taxIn` says whether tax is in it (absent: it is not). */
  readonly rrp?: Recommended | null;
  readonly map?: Recommended | null;
  readonly attributes?: Readonly<Record<string, string>>;
  readonly packs: readonly Pack[];
  readonly order?: OrderLimits & { readonly for?: readonly BuyerLimits[] };
}

export interface Category {
  readonly id: string;
  readonly name: string;
  readonly parent: string | null;
}
