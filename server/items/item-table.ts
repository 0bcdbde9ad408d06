import { setImmediate } from 'node:timers/promises';
import type { ItemRow } from '#contract/items.ts';
import type { Db } from '../platform/database.ts';
import { type PackedBy, type PackedTable, Packing } from '../windows/pack.ts';
import type { Loaded } from '../workspace/state.ts';
import { itemRows } from './item-rows.ts';

const figure = (text: string | null): number => (text === null ? NaN : Number(text));

/** Recommended prices are sorted by their amount, whatever their currency. */
const amount = (text: string | null): number => figure(text === null ? null : text.split(' ')[0]!);

const open: readonly PackedBy<ItemRow>[] = [
  { id: 'sku', text: (r) => r.sku },
  { id: 'name', text: (r) => r.name },
  { id: 'category', text: (r) => r.categoryName },
  { id: 'brand', text: (r) => r.brand ?? '' },
  { id: 'model', text: (r) => r.model ?? '' },
  { id: 'supplier', text: (r) => r.supplierName ?? '' },
  { id: 'supplierCode', text: (r) => r.supplierCode ?? '' },
  { id: 'unit', text: (r) => r.unit },
  { id: 'packs', text: (r) => r.packs.map((p) => (p.units === '1' ? p.name : `${p.name} of ${p.units}`)).join(', ') },
  { id: 'weightKg', places: 4, figure: (r) => figure(r.weightKg) },
  { id: 'taxClass', text: (r) => r.taxClass },
  { id: 'rrp', places: 2, figure: (r) => amount(r.rrp) },
  { id: 'map', places: 2, figure: (r) => amount(r.map) },
];
const landed: PackedBy<ItemRow> = { id: 'landed', places: 4, figure: (r) => figure(r.landed) };

export const OPEN_COLUMNS: readonly string[] = open.map((c) => c.id);
export const COST_COLUMNS: readonly string[] = [...OPEN_COLUMNS, landed.id];
export const SEARCHED: readonly string[] = open.flatMap((c) => ('text' in c ? c.id : []));

/** All items as columns, in the order in which they are kept. */
export interface ItemTable {
  readonly table: PackedTable;
  readonly items: Uint32Array;
}

/** So many at a time, then others have their turn. */
const SOME = 1_000;

export async function itemTable(db: Db, loaded: Loaded): Promise<ItemTable> {
  const { items } = loaded.ws.workspace;
  const packing = new Packing<ItemRow>([...open, landed]);
  for (let at = 0; at < items.length; at += SOME) {
    for (const row of await itemRows(db, loaded, items.slice(at, at + SOME), true)) packing.take(row);
    await setImmediate();
  }
  return { table: packing.packed(), items: Uint32Array.from(items, (i) => Number(i.id)) };
}
