import type { Item, Recommended } from '#core/items/item.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries } from '../platform/database.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import { type CatalogueRows, selectCatalogue } from './catalogue-rows.ts';
import { amountOf, id, idOrNull } from './core-values.ts';
import { readPosted } from './posted-rows.ts';

function recommended(amount: string | null, currency: string | null, taxIn: boolean): Recommended | null {
  const a = amountOf(amount, currency);
  return a && { ...a, taxIn };
}

/** Reads everything that prices of one day are made of. Money is selected as text, never through nested rows. */
export async function loadWorkspace(db: Queries, day: string): Promise<Workspace> {
  return { ...(await loadRules(db, day, await selectCatalogue(db, day))), posted: await readPosted(db, day) };
}

/** Items and costs, as the core has them. */
export function catalogueOf(catalogue: CatalogueRows): Pick<Workspace, 'items' | 'costs'> {
  const packsOf = groupBy(catalogue.packs, (p) => p.itemId);
  return {
    items: catalogue.items.map((i): Item => ({
      id: id(i.id),
      sku: i.sku,
      name: i.name,
      unit: i.unit,
      category: id(i.categoryId),
      brand: i.brand,
      model: i.model,
      supplier: idOrNull(i.supplierId),
      weightKg: i.weightKg,
      taxClass: i.taxClass,
      rrp: recommended(i.rrpAmount, i.rrpCurrency, i.rrpTaxIn),
      map: recommended(i.mapAmount, i.mapCurrency, i.mapTaxIn),
      attributes: i.attributes,
      order: { least: i.orderLeast, most: i.orderMost, step: i.orderStep, for: i.orderFor },
      packs: (packsOf.get(i.id) ?? []).map((p) => ({
        id: id(p.id),
        name: p.name,
        units: p.units,
        deposit: amountOf(p.depositAmount, p.depositCurrency),
        depositTaxClass: p.depositTaxClass,
        unitDeposit: amountOf(p.unitDepositAmount, p.unitDepositCurrency),
        unitDepositTaxClass: p.unitDepositTaxClass,
      })),
    })),
    costs: catalogue.costs.map((c) => ({
      id: id(c.id),
      item: id(c.itemId),
      supplier: id(c.supplierId),
      cost: { amount: c.amount, currency: c.currency },
      reduced: amountOf(c.reducedAmount, c.reducedCurrency ?? c.currency),
      quantityPrices: c.quantityPrices,
      packUnits: c.packUnits,
      fee: c.feeAmount !== null && c.feeOf !== null ? { amount: c.feeAmount, of: c.feeOf } : null,
      from: c.validFrom,
      to: c.validTo,
      origin: c.origin,
      released: c.released,
      entry: c.id,
    })),
  };
}

/** Everything but posted prices: of a large catalogue those are millions, and are read into columns. */
export async function loadRules(db: Queries, day: string, catalogue: CatalogueRows): Promise<Workspace> {
  return { ...(await rulesOn(db, day)), ...catalogueOf(catalogue) };
}

function groupBy<T>(rows: readonly T[], key: (row: T) => number): Map<number, T[]> {
  const out = new Map<number, T[]>();
  for (const row of rows) {
    const bucket = out.get(key(row));
    if (bucket) bucket.push(row);
    else out.set(key(row), [row]);
  }
  return out;
}
