import { PERCENT_PLACES } from '#core/bulk/price-rows.ts';
import { type PriceQuestion, achievedAt } from '#core/lists/achieved.ts';
import { priceToPost } from '#core/lists/price-to-post.ts';
import { dec, money, roundHalfUp } from '#core/numbers/decimal.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { findList } from '../lists/build-up.ts';
import { ListComputation, bulkForSome } from '../lists/compute-rows.ts';
import { refused } from '../platform/refused.ts';
import { turns } from '../platform/turns.ts';
import type { Db } from '../platform/database.ts';
import { type Loaded, workspaceOn } from '../workspace/state.ts';
import type { PostBody, PricesOrder, LineValues, ListLines, MadeLines } from './prices-order.ts';

type Line = PostBody['lines'][number];

export async function madeLines(db: Db, order: PricesOrder): Promise<MadeLines> {
  const loaded = await workspaceOn(db, order.effective);
  return { revision: loaded.revision, lines: await linesOf(loaded, order) };
}

export const countOf = (of: readonly ListLines[]): number => of.reduce((n, l) => n + l.lines.length, 0);

/** Lines that no field alone shows to be wrong: a pack twice or of another item, digits that the list does not keep, an end before the beginning. */
async function refuseOdd(ws: Prepared, body: PostBody, decimals: number): Promise<void> {
  const turn = turns();
  const faults: { path: string; message: string }[] = [];
  const seen = new Set<string>();
  if (body.lastDay && body.lastDay < body.effective)
    faults.push({ path: 'lastDay', message: `${body.lastDay} lies before the first day, ${body.effective}` });
  for (const [n, line] of body.lines.entries()) {
    await turn();
    const say = (field: string, message: string) => faults.push({ path: `lines[${n}].${field}`, message });
    const item = ws.items.get(line.item);
    const name = item?.sku ?? line.item;
    if (!item) say('item', 'does not exist');
    else if (!ws.packOf(item, line.pack)) say('pack', `is no pack of ${name}`);
    const key = `${line.item}/${line.pack}`;
    if (seen.has(key)) say('pack', `${name} stands twice in this posting`);
    seen.add(key);
    if (dec(line.after).decimalPlaces() > decimals)
      say('after', `${line.after} for ${name} has more decimals than the ${decimals} the list keeps`);
    const last = line.handSet?.lastDay;
    if (last && last < body.effective)
      say('handSet.lastDay', `${last} for ${name} lies before the first day, ${body.effective}`);
    if (faults.length >= 50) break;
  }
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
}

/** From so many lines on their items are read once as columns, and priced together. */
const MANY = 100;

/** What a line would be posted at now; null: there is no price. */
interface Made {
  readonly price: string | null;
  /** What it achieves, in per cent, where the bulk way told it with the price. */
  readonly margin: string | null;
  /** A person has to decide it. */
  readonly held: boolean;
}

/** Prices the lines of a posting, the bulk way where there are many and it can decide. */
function computed(loaded: Loaded, list: PriceList, { lines, effective }: PostBody): (line: Line) => Promise<Made> {
  const { ws } = loaded;
  const decimals = ws.decimalsOf(list);
  const many =
    lines.length < MANY
      ? null
      : new ListComputation(
          loaded,
          list,
          bulkForSome(loaded, new Set(lines.flatMap((l) => ws.items.get(l.item) ?? []))),
        );
  return async ({ item, pack, fall, release }) => {
    if (many && !fall && !release) {
      const { proposed, marginAfter, flag } = await many.row(item, pack);
      return { price: proposed, margin: marginAfter, held: flag === 'floor_above_ceiling' };
    }
    const q = { item, pack, list: list.id, day: effective };
    const found = priceToPost(ws, q, fall ? 'allow_fall' : 'keep');
    if (!found.ok) return { price: null, margin: null, held: false };
    const { price, recipePrice, flag } = found.value;
    return {
      price: money(release ? recipePrice : price, decimals),
      margin: null,
      held: flag === 'floor_above_ceiling',
    };
  };
}

/** The margin that a price achieves against the cost of its day, as a posting keeps it: in per cent, as it is shown; null: none. */
export function achievedMargin(ws: Prepared, q: PriceQuestion, price: string): string | null {
  const achieved = achievedAt(ws, q, dec(price));
  const margin = achieved.ok ? achieved.value.margin : null;
  return margin && roundHalfUp(margin, PERCENT_PLACES).toFixed(PERCENT_PLACES);
}

/** What is to be written on each list; refuses what differs from what was seen. */
export async function linesOf(loaded: Loaded, { lists, ...head }: PricesOrder): Promise<ListLines[]> {
  const out: ListLines[] = [];
  for (const { list, lines } of lists)
    out.push({
      list,
      name: findList(loaded.ws, String(list)).name,
      lines: await linesOfList(loaded, list, { ...head, lines }),
    });
  if (countOf(out) === 0) throw refused('nothing_to_post');
  return out.filter((l) => l.lines.length > 0);
}

/** What is to be written, from the state of its day; refuses what differs from what was seen. */
async function linesOfList(loaded: Loaded, listId: number, body: PostBody): Promise<LineValues[]> {
  const { ws } = loaded;
  const list = findList(ws, String(listId));
  const decimals = ws.decimalsOf(list);
  const same = (a: string | null, b: string | null) => (a === null || b === null ? a === b : dec(a).eq(b));
  const changed: unknown[] = [];
  let held = 0;
  const lines: LineValues[] = [];
  const written = new Map<string, string>();
  await refuseOdd(ws, body, decimals);
  const compute = computed(loaded, list, body);
  const turn = turns();
  for (const line of body.lines) {
    await turn();
    const q = { item: line.item, pack: line.pack, list: String(listId), day: body.effective };
    const item = ws.items.get(line.item)!;
    const posted = ws.postedFor(q.list, item, q.pack, body.effective);
    const before = posted ? money(dec(posted.price!), decimals) : null;
    const made = await compute(line);
    if (!same(before, line.before) || (!line.handSet && !same(made.price, line.after))) {
      changed.push({
        item: line.item,
        pack: line.pack,
        sku: ws.items.get(line.item)?.sku ?? line.item,
        seen: { before: line.before, after: line.after },
        now: { before, after: made.price },
      });
      continue;
    }
    if (!line.handSet && made.held) held++;
    // a release is posted though the price stays: it is no longer typed
    const releases = line.release && posted?.handSet;
    if (same(before, line.after) && !line.handSet && !releases) continue;
    // a price of one who follows the lead of a lockstep group is the lead's, and every member's
    const lead = ws.followed(item);
    const pack = ws.packOf(item, line.pack)!.id;
    const other = written.get(pack);
    if (other !== undefined) {
      if (!dec(other).eq(line.after)) throw refused('lockstep_apart', { item: item.sku, lead: lead.sku });
      continue;
    }
    written.set(pack, line.after);
    lines.push({
      itemId: Number(lead.id),
      packId: Number(pack),
      before,
      after: money(dec(line.after), decimals),
      margin: (same(made.price, line.after) ? made.margin : null) ?? achievedMargin(ws, q, line.after),
      handSetReason: line.handSet?.reason ?? null,
      lastDay: line.handSet?.lastDay ?? body.lastDay,
    });
  }
  if (changed.length > 0)
    throw refused('prices_changed_meanwhile', { count: String(changed.length) }, { current: changed.slice(0, 200) });
  if (held > 0) throw refused('held_lines', { count: String(held) });
  return lines;
}
