import { compareNumbers } from '#contract/filters.ts';
import { POSTING_HARMS, type PostShown, type ToPost, type WouldPost, harmWords } from '#contract/lists.ts';
import { postedAs, priceToPost } from '#core/lists/price-to-post.ts';
import { dec, money, roundUp } from '#core/numbers/decimal.ts';
import { priceHarms } from '#core/lists/price-harm.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { movesBeyond, needsSecondPerson } from '#core/lists/second-person.ts';
import type { Context } from '../platform/context.ts';
import { turns } from '../platform/turns.ts';
import { refused } from '../platform/refused.ts';
import type { PackedColumn } from '../windows/pack.ts';
import { orderOf, wordAt } from '../windows/window.ts';
import { beyondOf } from '../second-person/ask.ts';
import { askedDay, stateOn } from '../workspace/asked-day.ts';
import type { Loaded } from '../workspace/state.ts';
import { findList } from './build-up.ts';
import { ListComputation, bulkForSome, bulkOfItems } from './compute-rows.ts';
import type { ShownPrices } from './shown-order.ts';
import { LOOK_BITS } from './list-table.ts';
import type { ListStanding } from '../windows/standing.ts';
import { type Stands, exactRows, stands } from './list-window.ts';

type Query = Readonly<Record<string, string>>;

/**
 * The rows that would be posted: of those that fit, typed prices to be released, or prices that change or were typed. What
 * was typed is posted by itself whether its rows fit or not, and nothing with it.
 */
function placesToPost(
  stands: Stands,
  { arranged, what, typed }: Pick<ToPost, 'arranged' | 'what' | 'typed'>,
  byHand: ReadonlyMap<string, string>,
): number[] {
  const { standing, of } = stands;
  const { items, packs } = standing.of.packs;
  const mine = new Set(typed.map((t) => keyOf(t.item, t.pack)));
  const isMine = (place: number) => mine.size > 0 && mine.has(keyOf(items[place]!, packs[place]!));
  const isByHand = (place: number) => byHand.size > 0 && byHand.has(keyOf(items[place]!, packs[place]!));
  const has = (place: number, bit: number) => (standing.of.masks[place]! & bit) !== 0;
  switch (what) {
    case 'typed':
      return Array.from({ length: of.table.rows }, (_, place) => place).filter(
        (place) => isMine(place) && (isByHand(place) || has(place, LOOK_BITS.postable)),
      );
    case 'computed':
      return [...orderOf(of, arranged)].filter((place) => has(place, LOOK_BITS.postable) && !isMine(place));
    case 'releases':
      return [...orderOf(of, arranged)].filter((place) => has(place, LOOK_BITS.hand));
    case 'changes':
      return (['typed', 'computed'] as const).flatMap((one) =>
        placesToPost(stands, { arranged, what: one, typed }, byHand),
      );
  }
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
  if (what === 'releases' || what === 'computed') return new Map();
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
  if (body.what !== 'releases')
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

/** The lines of the widest moves by a measure, first the widest. */
function widest(lines: readonly Line[], sizeOf: (line: Line) => number): Line[] {
  const largest: { line: Line; size: number }[] = [];
  for (const line of lines) {
    const one = { line, size: sizeOf(line) };
    if (largest.length === LARGEST && one.size <= largest[LARGEST - 1]!.size) continue;
    const at = largest.findIndex((l) => l.size < one.size);
    largest.splice(at < 0 ? largest.length : at, 0, one);
    largest.length = Math.min(largest.length, LARGEST);
  }
  return largest.map((l) => l.line);
}

/** A computed price may lie below cost from this margin on, in per cent: what the grid is arranged by is the nearest double. */
const NEAR_COST = 0.01;
const HARMED_SHOWN = 6;

type Harms = Pick<WouldPost, 'harms' | 'harmed'>;

/**
 * What the lines would do that whoever posts them has to mean: exactly, for what was typed or is released, and for computed
 * prices that may lie below cost; the guards of their recipe have seen to the rest.
 */
async function harmsOf(
  loaded: Loaded,
  id: string,
  { standing, of }: Stands,
  lines: readonly Line[],
  beyond: string | null | undefined,
): Promise<Harms> {
  const { ws, day } = loaded;
  const list = findList(ws, id);
  const decimals = ws.decimalsOf(list);
  const { items, packs } = standing.of.packs;
  const [posted, proposed, margin] = ['posted', 'proposed', 'marginAfter'].map((c) => of.table.columns[c]!);
  const harms = Object.fromEntries(POSTING_HARMS.map((harm) => [harm, 0])) as Harms['harms'];
  const harmed: Harms['harmed'] = [];
  const nearCost = (place: number) => (figureAt(margin!, place) ?? Infinity) <= NEAR_COST;
  const unsure = lines.filter((l) => l.after === null && nearCost(l.place));
  const doubtful = new Set(unsure.flatMap((l) => ws.items.get(String(items[l.place])) ?? []));
  const computed = new ListComputation(loaded, list, bulkForSome(loaded, doubtful));
  const turn = turns();
  const most = beyond === null || beyond === undefined ? null : dec(beyond);
  const text = (figure: number | null) => (figure === null ? null : String(figure));
  for (const { place, after } of lines) {
    const before = text(figureAt(posted!, place));
    if (most && movesBeyond(most, { before, after: after ?? text(figureAt(proposed!, place)) })) harms.beyond++;
    if (after === null && !nearCost(place)) continue;
    await turn();
    const q = { item: String(items[place]), pack: String(packs[place]), list: id, day };
    const price = after ?? (await computed.row(q.item, q.pack)).proposed;
    if (price === null) continue;
    const found = priceHarms(ws, q, dec(price));
    for (const { harm } of found) harms[harm]++;
    const [first] = found;
    if (!first || harmed.length >= HARMED_SHOWN) continue;
    const [sku, name, packName] = ['sku', 'name', 'pack'].map((c) => wordAt(of, c, place));
    harmed.push({
      sku: sku!,
      name: name!,
      packName: packName!,
      after: price,
      harm: first.harm,
      at: money(roundUp(first.at, decimals), decimals),
    });
  }
  return { harms, harmed };
}

/** What posting the rows that fit would come to. */
export async function wouldPost(context: Context, id: string, query: Query, body: ToPost): Promise<WouldPost> {
  const here = await stands(context, id, await askedDay(context, query), true);
  const { standing, of } = here;
  const loaded = await stateOn(context, here.day);
  const lines = await linesOf(loaded, id, here, body);
  const [change, posted, proposed] = ['change', 'posted', 'proposed'].map((c) => of.table.columns[c]!);
  const inPercent = ({ place, after }: Line) =>
    after === null
      ? Math.abs(figureAt(change!, place) ?? 0)
      : Math.abs(Number(priceChange(String(figureAt(posted!, place) ?? 0), after) ?? 0));
  const inMoney = ({ place, after }: Line) =>
    Math.abs(Number(after ?? figureAt(proposed!, place) ?? 0) - (figureAt(posted!, place) ?? 0));
  const shownOf = async (some: readonly Line[]): Promise<WouldPost['largest']> => {
    const rows = await exactRows(
      loaded,
      id,
      here,
      Uint32Array.from(some, (l) => l.place),
      true,
    );
    return rows.flatMap((row, n) => {
      const typed = some[n]!.after;
      const after = typed ?? row.proposed;
      return after === null ? [] : [{ row, after, typed: typed !== null && body.what !== 'releases' }];
    });
  };
  const text = (figure: number | null) => (figure === null ? null : String(figure));
  function* moves() {
    for (const { place, after } of lines)
      yield { before: text(figureAt(posted!, place)), after: after ?? text(figureAt(proposed!, place)) };
  }
  const beyond = (await beyondOf(context.db, [Number(id)])).get(Number(id));
  const byHand = await typedOver(loaded, id, { ...body, what: 'typed' });
  const countOf = (what: ToPost['what']) => placesToPost(here, { ...body, what }, byHand).length;
  return {
    lines: lines.length,
    posts: await pricesOf(loaded, standing.of, lines),
    typed: body.what === 'releases' ? 0 : lines.filter((l) => l.after !== null).length,
    choices:
      body.what === 'releases' ? { typed: 0, computed: 0 } : { typed: countOf('typed'), computed: countOf('computed') },
    untilDay: lines.filter((l) => standing.of.masks[l.place]! & LOOK_BITS.ending).length,
    prices: of.table.rows,
    largest: await shownOf(widest(lines, inPercent)),
    largestMoney: await shownOf(widest(lines, inMoney)),
    ...(await harmsOf(loaded, id, here, lines, beyond)),
    state: standing.state,
    stale: standing.stale,
    // told beforehand, by the figures that the grid is arranged by; decided by the exact ones when it is posted
    secondPerson: needsSecondPerson(beyond, moves()),
  };
}

/** Refuses prices that would hurt and that nobody has confirmed, naming how many do what. */
async function refuseUnconfirmed(
  context: Context,
  loaded: Loaded,
  here: Stands,
  id: string,
  body: PostShown,
): Promise<void> {
  if (body.confirmed) return;
  const beyond = (await beyondOf(context.db, [Number(id)])).get(Number(id));
  const { harms } = await harmsOf(loaded, id, here, await linesOf(loaded, id, here, body), beyond);
  const told = POSTING_HARMS.filter((harm) => harm !== 'beyond' && harms[harm] > 0);
  if (told.length === 0) return;
  const what = told
    .map((harm) => harmWords(harm, harms[harm], `${harms[harm]} price${harms[harm] === 1 ? '' : 's'}`))
    .join(', ');
  throw refused('posting_unconfirmed', { what });
}

/** The prices of the rows that fit, to be posted. Refuses where what they are made from is not what was seen. */
export async function shownPrices(context: Context, id: string, query: Query, body: PostShown): Promise<ShownPrices> {
  const here = await stands(context, id, await askedDay(context, query), true);
  if (here.standing.stale || here.standing.state !== body.state) throw refused('list_moved_on');
  const loaded = await stateOn(context, here.day);
  if (`${loaded.revision}/${here.day}` !== body.state) throw refused('list_moved_on');
  await refuseUnconfirmed(context, loaded, here, id, body);
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
