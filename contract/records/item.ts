import type { Item } from '#core/items/item.ts';
import { type Field, type FieldsOf, kind } from './declare.ts';

const recommended = (title: string, hint: string): Field => ({
  type: 'part',
  title,
  hint,
  optional: true,
  fields: {
    amount: { type: 'decimal', sign: 'positive', title: 'per unit, without deposit' },
    currency: { type: 'currency', title: 'in' },
    taxIn: { type: 'yes', title: 'tax is in it' },
  },
});

const limits = {
  least: { type: 'decimal', sign: 'positive', title: 'least', optional: true },
  most: { type: 'decimal', sign: 'positive', title: 'most', optional: true },
  step: { type: 'decimal', sign: 'positive', title: 'in steps of', optional: true },
} satisfies Record<string, Field>;

const deposit = (title: string): Field => ({ type: 'amount', title, optional: true });
const depositTax = (title: string): Field => ({
  type: 'text',
  suggest: 'taxClasses',
  title,
  hint: 'empty: the item’s',
  optional: true,
});

/** What of an item is not in the core's term. */
interface Kept extends Item {
  supplierCode: string | null;
  retiredFrom: string | null;
}

export const ITEM_FIELDS: FieldsOf<Kept> = {
  sku: { type: 'text', most: 60, title: 'SKU' },
  name: { type: 'text', title: 'Name' },
  category: { type: 'one', to: 'categories', title: 'Category' },
  unit: { type: 'text', most: 40, title: 'Unit', hint: 'each, metre, litre: what one is' },
  brand: { type: 'text', suggest: 'brands', title: 'Brand', optional: true },
  model: { type: 'text', suggest: 'models', title: 'Model', optional: true },
  supplier: { type: 'one', to: 'suppliers', title: 'Preferred supplier', optional: true },
  supplierCode: { type: 'text', most: 80, title: 'The supplier’s own code', optional: true },
  weightKg: { type: 'decimal', sign: 'not_negative', unit: 'kg per unit', title: 'Weight', optional: true },
  taxClass: { type: 'text', suggest: 'taxClasses', title: 'Tax class' },
  packs: {
    type: 'rows',
    one: 'pack',
    title: 'Packs it is sold in',
    least: 1,
    numbered: true,
    fields: {
      name: { type: 'text', suggest: 'packs', most: 40, title: 'Pack' },
      units: { type: 'decimal', sign: 'positive', title: 'units in it' },
      barcode: { type: 'text', barcode: true, title: 'barcode', optional: true },
      deposit: deposit('deposit of the pack'),
      depositTaxClass: depositTax('its tax class'),
      unitDeposit: deposit('deposit of each unit in it'),
      unitDepositTaxClass: depositTax('its tax class'),
    },
  },
  rrp: recommended('RRP', 'what the supplier recommends'),
  map: recommended('Minimum advertised price', 'what the supplier asks to be kept'),
  attributes: { type: 'attributes', title: 'Attributes', optional: true },
  order: {
    type: 'part',
    title: 'Quantities that can be ordered',
    hint: 'in packs as ordered; steps count from 0',
    optional: true,
    fields: {
      ...limits,
      for: {
        type: 'rows',
        one: 'limit',
        title: 'Other quantities for one customer or one group',
        fields: {
          customer: { type: 'one', to: 'customers', title: 'customer', optional: true },
          group: { type: 'one', to: 'groups', title: 'or group', optional: true },
          ...limits,
        },
      },
    },
  },
  retiredFrom: {
    type: 'day',
    title: 'Retired from',
    hint: 'from this day on it is not sold; what was stays in the ledger',
    optional: true,
  },
};

/** An item as a person keeps it. */
export const ITEM = kind<Kept>({
  name: 'items',
  title: 'Items',
  one: 'item',
  about: 'What is bought and sold: packs, weight, tax, deposits, what the supplier recommends, and what it is like.',
  readRight: 'read',
  changeRight: 'edit_rules',
  fields: ITEM_FIELDS,
});
