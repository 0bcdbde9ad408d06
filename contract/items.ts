import { array, object, string } from 'yup';
import { idText, versionNumber } from './fields.ts';

/** An item as the grid shows it; amounts as exact text. Costs only for those who may see them. */
export interface ItemRow {
  id: string;
  version: number;
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
      version: versionNumber(),
      field: string().oneOf(ITEM_FIELDS).required(),
      value: string().defined().max(400),
    }).noUnknown(),
  )
    .required()
    .min(1)
    .max(250_000),
}).noUnknown();
