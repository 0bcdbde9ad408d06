import { type InferType, array, object, string } from 'yup';
import { idText } from './fields.ts';

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
  packs: { id: string; name: string; units: string; deposit: string | null }[];
  attributes: Record<string, string>;
  /** Landed per unit in our currency; null with the reason beside it. */
  landed: string | null;
  costReason: string | null;
  costFrom: string | null;
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
  currency: string;
  /** Units in the cost pack. */
  packUnits: string;
  validFrom: string;
  origin: 'file' | 'typed' | 'connection' | 'bill';
  released: boolean;
  takenBack: boolean;
  enteredBy: string;
  enteredAt: string;
}
