import type { ItemRow, ItemWindow } from '#contract/items.ts';
import type { Context } from '../platform/context.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import { askedWindow, headOf, placeOfIds, wordAt } from '../windows/window.ts';
import { askedDay, stateNameOn, stateOfItems } from '../workspace/asked-day.ts';
import { unposted } from '../workspace/state.ts';
import { itemRows } from './item-rows.ts';
import { COST_COLUMNS, OPEN_COLUMNS, SEARCHED } from './item-table.ts';

/** A stretch of the items. Which fit is as it was last worked out; what they say is of now. */
export async function itemWindow(
  context: Context,
  query: Readonly<Record<string, string>>,
  showCost: boolean,
): Promise<ItemWindow> {
  const asked = askedWindow(query);
  const day = await askedDay(context, query);
  const standing = await context.tables.items(day, unposted(await stateNameOn(context, day)));
  const { table, items } = standing.of;
  const of: Arrangeable = { table, columns: showCost ? COST_COLUMNS : OPEN_COLUMNS, searched: SEARCHED };
  const { head, places } = headOf(asked, of, standing, (order) => placeOfIds(order, query['key'], [items]));
  if (places.length === 0) return { ...head, rows: [] };
  const loaded = await stateOfItems(
    context,
    day,
    [...places].map((place) => String(items[place])),
  );
  const wanted = [...places].flatMap((place) => loaded.ws.items.get(String(items[place])) ?? []);
  const rows = new Map((await itemRows(context.db, loaded, wanted, showCost)).map((r) => [r.id, r]));
  return {
    ...head,
    rows: [...places].map((place) => rows.get(String(items[place])) ?? goneItem(of, String(items[place]), place)),
  };
}

/** An item that is gone since the order was worked out. */
const goneItem = (of: Arrangeable, id: string, place: number): ItemRow => ({
  id,
  sku: wordAt(of, 'sku', place),
  name: wordAt(of, 'name', place),
  category: '',
  categoryName: '',
  brand: null,
  model: null,
  supplier: null,
  supplierName: null,
  supplierCode: null,
  unit: '',
  weightKg: null,
  taxClass: '',
  rrp: null,
  map: null,
  packs: [],
  attributes: {},
  landed: null,
  costReason: null,
  costFrom: null,
});
