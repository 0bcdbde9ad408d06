import { and, inArray, isNotNull } from 'drizzle-orm';
import type { ItemRow } from '#contract/items.ts';
import { landedCost } from '#core/costs/landed-cost.ts';
import { plain } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import type { Item } from '#core/items/item.ts';
import type { Db } from '../platform/database.ts';
import type { Loaded } from '../workspace/state.ts';
import { items, packs } from './tables.ts';

/** Items as the grid shows them. Costs only for those who may see them. */
export async function itemRows(
  db: Db,
  { ws, day }: Loaded,
  wanted: readonly Item[],
  showCost: boolean,
): Promise<ItemRow[]> {
  const ids = wanted.map((i) => Number(i.id));
  const codes = new Map(
    (await db.select({ id: items.id, code: items.supplierCode }).from(items).where(inArray(items.id, ids))).map((r) => [
      String(r.id),
      r.code,
    ]),
  );
  const barcodes = new Map(
    (
      await db
        .select({ id: packs.id, barcode: packs.barcode })
        .from(packs)
        .where(and(isNotNull(packs.barcode), inArray(packs.itemId, ids)))
    ).map((p) => [String(p.id), p.barcode]),
  );
  return wanted.map((i) => {
    // who follows a lead in lockstep costs what the lead does
    const landed = showCost ? landedCost(ws, ws.followed(i), day) : null;
    return {
      id: i.id,
      sku: i.sku,
      name: i.name,
      category: i.category,
      categoryName: ws.categories.get(i.category)?.name ?? '',
      brand: i.brand ?? null,
      model: i.model ?? null,
      supplier: i.supplier ?? null,
      supplierName: i.supplier ? (ws.suppliers.get(i.supplier)?.name ?? null) : null,
      supplierCode: codes.get(i.id) ?? null,
      unit: i.unit,
      weightKg: i.weightKg ?? null,
      taxClass: i.taxClass,
      rrp: i.rrp ? `${i.rrp.amount} ${i.rrp.currency}` : null,
      map: i.map ? `${i.map.amount} ${i.map.currency}` : null,
      packs: i.packs.map((p) => ({
        id: p.id,
        name: p.name,
        units: p.units,
        deposit: p.deposit?.amount ?? null,
        barcode: barcodes.get(p.id) ?? null,
      })),
      attributes: { ...i.attributes },
      landed: landed?.ok ? plain(landed.value.landed) : null,
      costReason: landed && !landed.ok ? wording(landed.reason) : null,
      costFrom: landed?.ok ? landed.value.cost.from : null,
    };
  });
}
