import { type ListPrices } from '#contract/lists.ts';
import { type Look, OPEN_LOOKS } from '#contract/looks.ts';
import type { Item, Pack } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { Context } from '../platform/context.ts';
import { refused } from '../platform/refused.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import { askedWindow, headOf, placeOfIds, wordAt } from '../windows/window.ts';
import { askedDay, stateNameOn, stateOfItems, stateOn } from '../workspace/asked-day.ts';
import type { Loaded } from '../workspace/state.ts';
import { NOTHING_ASKED } from './asked-price.ts';
import { findList } from './build-up.ts';
import { HIDDEN, ListRows } from './list-rows.ts';
import { COST_COLUMNS, LOOK_BITS, OPEN_COLUMNS, SEARCHED } from './list-table.ts';
import type { ListStanding, Standing } from '../windows/standing.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

type Query = Readonly<Record<string, string>>;

/** How a list stands on the day asked about, and what may be asked of it. */
export interface Stands {
  readonly day: string;
  readonly standing: Standing<ListStanding>;
  readonly of: Arrangeable;
}

export async function stands(context: Context, id: string, day: string, showCost: boolean): Promise<Stands> {
  const standing = await context.tables.list(id, day, await stateNameOn(context, day));
  if (!standing) throw refused('not_found', { what: 'The price list', id });
  const { table, packs, masks } = standing.of;
  const looks: readonly (Look | 'postable')[] = showCost ? (Object.keys(LOOK_BITS) as Look[]) : OPEN_LOOKS;
  return {
    day,
    standing,
    of: {
      table: arrangeableTable(packs.table, table),
      columns: showCost ? COST_COLUMNS : OPEN_COLUMNS,
      searched: SEARCHED,
      looks: { masks, bits: Object.fromEntries(looks.map((look) => [look, LOOK_BITS[look]])) },
    },
  };
}

/** The columns of a list beside those of its packs; made once, so that orders are found again. */
const together = new WeakMap<object, Arrangeable['table']>();
function arrangeableTable(packs: Arrangeable['table'], list: Arrangeable['table']): Arrangeable['table'] {
  const known = together.get(list) ?? { rows: list.rows, columns: { ...packs.columns, ...list.columns } };
  together.set(list, known);
  return known;
}

/** The item and the pack of a row; null: it is gone since the order was worked out. */
function rowOf(ws: Prepared, { packs }: ListStanding, place: number): { item: Item; pack: Pack } | null {
  const item = ws.items.get(String(packs.items[place]));
  const pack = item?.packs.find((p) => p.id === String(packs.packs[place]));
  return item && pack ? { item, pack } : null;
}

export async function exactRows(
  loaded: Loaded,
  id: string,
  { standing, of }: Stands,
  places: Uint32Array,
  showCost: boolean,
): Promise<ListPriceRow[]> {
  const found = [...places].map((place) => ({ place, row: rowOf(loaded.ws, standing.of, place) }));
  const items = [...new Set(found.flatMap((f) => f.row?.item ?? []))];
  const rows = new ListRows(loaded, findList(loaded.ws, id), showCost, items);
  const out: ListPriceRow[] = [];
  for (const { place, row } of found)
    out.push(row ? await rows.row(row.item, row.pack) : goneRow(standing.of, of, place));
  return out;
}

const goneRow = ({ packs }: ListStanding, of: Arrangeable, place: number): ListPriceRow => ({
  item: String(packs.items[place]),
  pack: String(packs.packs[place]),
  sku: wordAt(of, 'sku', place),
  name: wordAt(of, 'name', place),
  category: wordAt(of, 'category', place),
  packName: wordAt(of, 'pack', place),
  posted: null,
  postedFrom: null,
  handSet: null,
  lastDay: null,
  ...NOTHING_ASKED,
  ...HIDDEN,
});

/** A stretch of a list's prices. Which rows fit is as it was last worked out; their figures are of now, and exact. */
export async function listWindow(context: Context, id: string, query: Query, showCost: boolean): Promise<ListPrices> {
  const asked = askedWindow(query);
  // both are read after a start: beside each other
  const day = await askedDay(context, query);
  const reading = stateOfItems(context, day, []);
  reading.catch(() => undefined);
  const here = await stands(context, id, day, showCost);
  const { items, packs } = here.standing.of.packs;
  const { head, places } = headOf(asked, here.of, here.standing, (order) =>
    placeOfIds(order, query['key'], [items, packs]),
  );
  const { ws } = await reading;
  const list = findList(ws, id);
  const shown = new Set([...places].map((place) => String(items[place])));
  const loaded = await stateOfItems(context, day, [...shown]);
  return {
    ...head,
    rows: places.length === 0 ? [] : await exactRows(loaded, id, here, places, showCost),
    list: {
      id: list.id,
      version: list.version,
      name: list.name,
      currency: list.currency,
      taxIn: list.taxIn,
      decimals: ws.decimalsOf(list),
      recipe: showCost ? list.recipe : null,
      recipeName: showCost && list.recipe ? (ws.recipes.get(list.recipe)?.name ?? null) : null,
    },
    day: here.day,
    looks: showCost ? { ...here.standing.of.looks } : openLooks(here.standing.of.looks),
    summary: showCost ? here.standing.of.summary : { up: 0, down: 0, unchanged: 0 },
  };
}

const openLooks = (looks: ListStanding['looks']): Record<Look, number> =>
  Object.fromEntries(
    (Object.keys(looks) as Look[]).map((look) => [look, OPEN_LOOKS.includes(look) ? looks[look] : 0]),
  ) as Record<Look, number>;

/** Items by their codes, whatever their case: made once for a state. */
const bySku = new WeakMap<Loaded, ReadonlyMap<string, Item>>();

/** Prices of a list by the codes of their items; a code that nobody knows is passed over. */
export async function listRowsOf(
  context: Context,
  id: string,
  query: Query,
  skus: readonly string[],
  showCost: boolean,
): Promise<ListPriceRow[]> {
  const loaded = await stateOn(context, await askedDay(context, query));
  const known =
    bySku.get(loaded) ?? new Map(loaded.ws.workspace.items.map((item) => [item.sku.trim().toLowerCase(), item]));
  bySku.set(loaded, known);
  const items = [...new Set(skus.flatMap((sku) => known.get(sku.trim().toLowerCase()) ?? []))];
  const rows = new ListRows(loaded, findList(loaded.ws, id), showCost, items);
  const out: ListPriceRow[] = [];
  for (const item of items) for (const pack of item.packs) out.push(await rows.row(item, pack));
  return out;
}
