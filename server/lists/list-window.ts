import { compareNumbers } from '#contract/filters.ts';
import type { ListPrices, PostShown, ToPost, WouldPost } from '#contract/lists.ts';
import { type Look, OPEN_LOOKS } from '#contract/looks.ts';
import { postedAs, priceToPost } from '#core/lists/price-to-post.ts';
import { money } from '#core/numbers/decimal.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { needsSecondPerson } from '#core/lists/second-person.ts';
import type { Item, Pack } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { Context } from '../platform/context.ts';
import { turns } from '../platform/turns.ts';
import { refused } from '../platform/refused.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import type { PackedColumn } from '../windows/pack.ts';
import { askedWindow, headOf, orderOf, placeOfIds, wordAt } from '../windows/window.ts';
import { beyondOf } from '../second-person/ask.ts';
import { askedDay, stateNameOn, stateOfItems, stateOn } from '../workspace/asked-day.ts';
import type { Loaded } from '../workspace/state.ts';
import { NOTHING_ASKED } from './asked-price.ts';
import { findList } from './build-up.ts';
import { ListComputation, bulkOfItems } from './compute-rows.ts';
import type { ShownPrices } from './shown-order.ts';
import { HIDDEN, ListRows } from './list-rows.ts';
import { COST_COLUMNS, LOOK_BITS, OPEN_COLUMNS, SEARCHED } from './list-table.ts';
import type { ListStanding, Standing } from '../windows/standing.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

type Query = Readonly<Record<string, string>>;

/** How a list stands on the day asked about, and what may be asked of it. */
interface Stands {
  readonly day: string;
  readonly standing: Standing<ListStanding>;
  readonly of: Arrangeable;
}

async function stands(context: Context, id: string, day: string, showCost: boolean): Promise<Stands> {
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

async function exactRows(
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

/** The rows that fit and would be posted: typed prices to be released, or prices that change or were typed. */
function placesToPost(
  { standing, of }: Stands,
  { arranged, what }: Pick<ToPost, 'arranged' | 'what'>,
  byHand: ReadonlyMap<string, string>,
): number[] {
  const { items, packs } = standing.of.packs;
  const bit = what === 'releases' ? LOOK_BITS.hand : LOOK_BITS.postable;
  return [...orderOf(of, arranged)].filter(
    (place) =>
      (standing.of.masks[place]! & bit) !== 0 || (byHand.size > 0 && byHand.has(keyOf(items[place]!, packs[place]!))),
  );
}

/** A row that would be posted. */
interface Line {
  readonly place: number;
  /** What was typed, or what the recipe makes in place of what was; null: what is computed. */
  readonly after: string | null;
}

const keyOf = (item: number | string, pack: number | string) => `${item}/${pack}`;

/** The figure of a row in a column; null: there is none. */
const figureAt = (column: PackedColumn, place: number): number | null =>
  'values' in column && column.codes[place]! > 0 ? column.values[column.codes[place]! - 1]! : null;

/** What was typed for packs of a list, but for what is computed anyway: that was not typed. By pack, exactly compared. */
async function typedOver(
  loaded: Loaded,
  id: string,
  { what, typed }: Pick<ToPost, 'what' | 'typed'>,
): Promise<ReadonlyMap<string, string>> {
  if (what === 'releases') return new Map();
  const { ws } = loaded;
  const items = [...new Set(typed.flatMap((t) => ws.items.get(t.item) ?? []))];
  const computed = new ListComputation(loaded, findList(ws, id), bulkOfItems(loaded, items));
  const out = new Map<string, string>();
  for (const { item, pack, after } of typed) {
    const { proposed } = await computed.row(item, pack);
    if (proposed === null || compareNumbers(after, proposed) !== 0) out.set(keyOf(item, pack), after);
  }
  return out;
}

/** The rows that would be posted. */
async function linesOf(loaded: Loaded, id: string, stands: Stands, body: ToPost): Promise<Line[]> {
  const { items, packs } = stands.standing.of.packs;
  const byHand = await typedOver(loaded, id, body);
  const places = placesToPost(stands, body, byHand);
  if (body.what === 'changes')
    return places.map((place) => ({ place, after: byHand.get(keyOf(items[place]!, packs[place]!)) ?? null }));
  const { ws, day } = loaded;
  const decimals = ws.decimalsOf(findList(ws, id));
  const turn = turns();
  const lines: Line[] = [];
  for (const place of places) {
    await turn();
    const made = priceToPost(ws, { list: id, item: String(items[place]), pack: String(packs[place]), day });
    if (made.ok) lines.push({ place, after: money(made.value.recipePrice, decimals) });
  }
  return lines;
}

/** How many prices are posted: of a lockstep group one, for all of its members. */
async function pricesOf({ ws }: Loaded, { packs: of }: ListStanding, lines: readonly Line[]): Promise<number> {
  if (ws.workspace.lockstep.length === 0) return lines.length;
  const turn = turns();
  const posted = new Set<string>();
  for (const { place } of lines) {
    await turn();
    posted.add(postedAs(ws, String(of.items[place]), String(of.packs[place])).pack);
  }
  return posted.size;
}

const LARGEST = 10;

/** What posting the rows that fit would come to. */
export async function wouldPost(context: Context, id: string, query: Query, body: ToPost): Promise<WouldPost> {
  const here = await stands(context, id, await askedDay(context, query), true);
  const { standing, of } = here;
  const loaded = await stateOn(context, here.day);
  const lines = await linesOf(loaded, id, here, body);
  const change = of.table.columns['change']!;
  const posted = of.table.columns['posted']!;
  const size = ({ place, after }: Line) =>
    after === null
      ? Math.abs(figureAt(change, place) ?? 0)
      : Math.abs(Number(priceChange(String(figureAt(posted, place) ?? 0), after) ?? 0));
  const largest: { line: Line; size: number }[] = [];
  for (const line of lines) {
    const one = { line, size: size(line) };
    if (largest.length === LARGEST && one.size <= largest[LARGEST - 1]!.size) continue;
    const at = largest.findIndex((l) => l.size < one.size);
    largest.splice(at < 0 ? largest.length : at, 0, one);
    largest.length = Math.min(largest.length, LARGEST);
  }
  const proposed = of.table.columns['proposed']!;
  const text = (figure: number | null) => (figure === null ? null : String(figure));
  function* moves() {
    for (const { place, after } of lines)
      yield { before: text(figureAt(posted, place)), after: after ?? text(figureAt(proposed, place)) };
  }
  const places = Uint32Array.from(largest, (l) => l.line.place);
  const rows = await exactRows(loaded, id, here, places, true);
  return {
    lines: lines.length,
    posts: await pricesOf(loaded, standing.of, lines),
    typed: body.what === 'releases' ? 0 : lines.filter((l) => l.after !== null).length,
    untilDay: lines.filter((l) => standing.of.masks[l.place]! & LOOK_BITS.ending).length,
    prices: of.table.rows,
    largest: rows.flatMap((row, n) => {
      const typed = largest[n]!.line.after;
      const after = typed ?? row.proposed;
      return after === null ? [] : [{ row, after, typed: typed !== null && body.what === 'changes' }];
    }),
    state: standing.state,
    stale: standing.stale,
    // told beforehand, by the figures that the grid is arranged by; decided by the exact ones when it is posted
    secondPerson: needsSecondPerson((await beyondOf(context.db, [Number(id)])).get(Number(id)), moves()),
  };
}

/** The prices of the rows that fit, to be posted. Refuses where what they are made from is not what was seen. */
export async function shownPrices(context: Context, id: string, query: Query, body: PostShown): Promise<ShownPrices> {
  const here = await stands(context, id, await askedDay(context, query), true);
  if (here.standing.stale || here.standing.state !== body.state) throw refused('list_moved_on');
  const loaded = await stateOn(context, here.day);
  if (`${loaded.revision}/${here.day}` !== body.state) throw refused('list_moved_on');
  const { items, packs } = here.standing.of.packs;
  const byHand = await typedOver(loaded, id, body);
  const places = placesToPost(here, body, byHand);
  const { effective, lastDay, reason, typedReason, what } = body;
  const typed = new Map<number, string>();
  for (const [n, place] of byHand.size > 0 ? places.entries() : []) {
    const after = byHand.get(keyOf(items[place]!, packs[place]!));
    if (after !== undefined) typed.set(n, after);
  }
  return {
    ...{ effective, lastDay, reason, typedReason, what, typed },
    list: Number(id),
    day: here.day,
    revision: loaded.revision,
    items: Uint32Array.from(places, (place) => items[place]!),
    packs: Uint32Array.from(places, (place) => packs[place]!),
  };
}
