import type { Item, Pack } from '#core/items/item.ts';
import type { items, packs } from './tables.ts';

/** An RRP or MAP that is typed later is with tax, as long as nothing else was said. */
const taxIn = (price: Item['rrp']): boolean => (price ? (price.taxIn ?? false) : true);

/** An item of the core as the columns of its table. */
export const itemColumns = (i: Item) =>
  ({
    sku: i.sku,
    name: i.name,
    unit: i.unit,
    categoryId: Number(i.category),
    brand: i.brand ?? null,
    model: i.model ?? null,
    supplierId: i.supplier ? Number(i.supplier) : null,
    weightKg: i.weightKg ?? null,
    taxClass: i.taxClass,
    rrpAmount: i.rrp?.amount ?? null,
    rrpCurrency: i.rrp?.currency ?? null,
    rrpTaxIn: taxIn(i.rrp),
    mapAmount: i.map?.amount ?? null,
    mapCurrency: i.map?.currency ?? null,
    mapTaxIn: taxIn(i.map),
    attributes: { ...i.attributes },
    orderLeast: i.order?.least ?? null,
    orderMost: i.order?.most ?? null,
    orderStep: i.order?.step ?? null,
    orderFor: [...(i.order?.for ?? [])],
  }) satisfies typeof items.$inferInsert;

/** A pack of an item likewise. */
export const packColumns = (itemId: number, p: Omit<Pack, 'id'>) =>
  ({
    itemId,
    name: p.name,
    units: p.units,
    depositAmount: p.deposit?.amount ?? null,
    depositCurrency: p.deposit?.currency ?? null,
    depositTaxClass: p.depositTaxClass ?? null,
    unitDepositAmount: p.unitDeposit?.amount ?? null,
    unitDepositCurrency: p.unitDeposit?.currency ?? null,
    unitDepositTaxClass: p.unitDepositTaxClass ?? null,
  }) satisfies typeof packs.$inferInsert;
