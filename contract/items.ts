import { type InferType, array, object, string } from 'yup';
import { idText, text } from './fields.ts';
import type { QuoteState } from './quotes.ts';
import type { Window } from './windows.ts';
import type { AskedPrice } from './list-row.ts';

/** An item as the grid shows it; amounts as exact text. Costs only for those who may see them. */
export interface ItemRow {
  id: string;
  sku: string;
  name: string;
  category: string;
  categoryName: string;
  brand: string | null;
  model: string | null;
  supplier: string | null;
  supplierName: string | null;
  supplierCode: string | null;
  unit: string;
  weightKg: string | null;
  taxClass: string;
  /** An amount with its currency: "24.00 GBP". */
  rrp: string | null;
  map: string | null;
  packs: { id: string; name: string; units: string; deposit: string | null; barcode: string | null }[];
  attributes: Record<string, string>;
  /** Landed per unit in our currency; null with the reason beside it. */
  landed: string | null;
  costReason: string | null;
  costFrom: string | null;
}

/** A stretch of the items. */
export interface ItemWindow extends Window<ItemRow> {
  rows: ItemRow[];
}

/** An item as it is named where it is chosen or stands in a line. */
export type NamedItem = Pick<ItemRow, 'id' | 'sku' | 'name' | 'unit' | 'supplier' | 'supplierName'> & {
  packs: { id: string; name: string; units: string; barcode: string | null }[];
};

export const MOST_NAMED_AT_ONCE = 5_000;
export const namedItemsBody = object({
  ids: array(idText().required()).max(MOST_NAMED_AT_ONCE).required(),
}).noUnknown();

/** Texts that items are described by, each once. */
export const ITEM_WORDS = ['packs', 'brands', 'models'] as const;
export type ItemWords = (typeof ITEM_WORDS)[number];

/** A value of a brand or an attribute as it is written, how many items write it so, and one of them. */
export interface ItemValue {
  value: string;
  items: number;
  sku: string;
}

/** The fields of an item that can be changed in the grid, one by one. */
export const ITEM_FIELDS = [
  'name',
  'brand',
  'model',
  'supplierCode',
  'unit',
  'weightKg',
  'taxClass',
  'rrp',
  'map',
  'category',
] as const;
export type ItemField = (typeof ITEM_FIELDS)[number];

export const itemChangesBody = object({
  changes: array(
    object({
      item: idText().required(),
      field: string().oneOf(ITEM_FIELDS).required(),
      /** What stood there when the person changed it; an amount without a currency is in our own. */
      seen: string().defined().max(400),
      value: string().defined().max(400),
    }).noUnknown(),
  )
    .required()
    .min(1)
    .max(250_000),
}).noUnknown();

/** Ways of writing one value, and the one that is to stay. */
export const mergeValuesBody = object({
  /** `brand`, or the name of an attribute. */
  of: text().required().max(80),
  // as they are written, spaces and all
  from: array(string().required().max(200)).required().min(1).max(50),
  to: text().required().max(200),
}).noUnknown();

export type ItemChange = InferType<typeof itemChangesBody>['changes'][number];

/** A cell that somebody else changed since the person saw it; nothing of the block was kept. */
export interface ItemConflict {
  item: string;
  sku: string;
  field: ItemField;
  /** What stands there now, in the form of `seen`. */
  now: string;
  /** What was to be kept instead. */
  value: string;
  by: string | null;
}

/** A cost of an item, as it was entered; per cost pack in the supplier's currency. */
export interface ItemCost {
  id: string;
  supplier: string;
  supplierName: string;
  amount: string;
  /** Paid instead for the time being; with its currency where that is another one. */
  reduced: string | null;
  /** What more at once costs. */
  quantityPrices: readonly { from: string; cost: string }[];
  currency: string;
  /** Units in the cost pack. */
  packUnits: string;
  validFrom: string;
  /** The last day: of the reduced cost, where there is one. */
  validTo: string | null;
  origin: 'file' | 'typed' | 'connection' | 'bill';
  released: boolean;
  takenBack: boolean;
  enteredBy: string;
  enteredAt: string;
}

/** One pack of an item on one list. */
export interface ItemPrice extends AskedPrice {
  pack: string;
  packName: string;
  /** As the list shows it, per pack. */
  posted: string | null;
  postedFrom: string | null;
  /** The lowest posted in the 30 days before today: what may be shown as the earlier price. */
  lowest: string | null;
}

/** Everything about one item in one place. */
export interface ItemPage {
  id: string;
  version: number;
  sku: string;
  name: string;
  unit: string;
  categoryPath: string[];
  brand: string | null;
  model: string | null;
  supplier: string | null;
  supplierName: string | null;
  supplierCode: string | null;
  weightKg: string | null;
  taxClass: string;
  rrp: { amount: string; currency: string; taxIn: boolean } | null;
  map: { amount: string; currency: string; taxIn: boolean } | null;
  attributes: { name: string; value: string }[];
  retiredFrom: string | null;
  packs: {
    id: string;
    name: string;
    units: string;
    barcode: string | null;
    deposit: string | null;
    unitDeposit: string | null;
  }[];
  /** Landed per unit in our currency; only for who may see costs. */
  landed: string | null;
  costReason: string | null;
  lockstep: { id: string; name: string; lead: boolean; members: { id: string; sku: string; name: string }[] } | null;
  lists: { id: string; name: string; currency: string; taxIn: boolean; decimals: number; prices: ItemPrice[] }[];
  /** Rules that name the item or reach it. */
  rules: { kind: string; name: string; detail: string; names: boolean; to: string }[];
  quotes: {
    id: string;
    number: string;
    day: string;
    customer: string;
    state: QuoteState;
    quantity: string;
    packName: string;
  }[];
  history: {
    posting: string;
    list: string;
    effective: string;
    packName: string;
    before: string | null;
    after: string | null;
    reason: string;
    by: string;
  }[];
  changes: { at: string; by: string; action: string }[];
}
