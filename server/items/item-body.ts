import type { BuyerLimits, OrderLimits, Recommended } from '#core/items/item.ts';

export interface PackBody {
  /** Names a pack that is kept; whatever else stands here makes a new one. */
  readonly id: string;
  readonly name: string;
  readonly units: string;
  readonly barcode: string | null;
  readonly deposit: Amount | null;
  readonly depositTaxClass: string | null;
  readonly unitDeposit: Amount | null;
  readonly unitDepositTaxClass: string | null;
}

/** An item as it travels: contract/records/item.ts. */
export interface ItemBody {
  readonly sku: string;
  readonly name: string;
  readonly category: string;
  readonly unit: string;
  readonly brand: string | null;
  readonly model: string | null;
  readonly supplier: string | null;
  readonly supplierCode: string | null;
  readonly weightKg: string | null;
  readonly taxClass: string;
  readonly packs: readonly PackBody[];
  readonly rrp: Recommended | null;
  readonly map: Recommended | null;
  readonly attributes: Readonly<Record<string, string>> | null;
  readonly order: (OrderLimits & { readonly for?: readonly BuyerLimits[] }) | null;
  readonly retiredFrom: string | null;
}

export interface Amount {
  readonly amount: string;
  readonly currency: string;
}
