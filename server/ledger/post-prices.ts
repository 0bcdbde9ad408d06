import type { InferType } from 'yup';
import type { postBody } from '#contract/lists.ts';
import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { computePrice } from '#core/lists/list-price.ts';
import type { Prepared } from '#core/workspace/index.ts';
import { findList } from '../lists/build-up.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { workspaceIn, workspaceOn } from '../workspace/state.ts';
import { audit, entryOf, holdState, revisionOf } from './audit.ts';
import { postingLines, postings } from './tables.ts';

type PostBody = InferType<typeof postBody>;
type LineValues = Omit<typeof postingLines.$inferInsert, 'postingId' | 'listId' | 'effective'>;

const CHUNK = 1000;

export async function writeLines(
  tx: Tx,
  head: { postingId: number; listId: number; effective: string },
  lines: readonly LineValues[],
): Promise<void> {
  for (let i = 0; i < lines.length; i += CHUNK)
    await tx.insert(postingLines).values(lines.slice(i, i + CHUNK).map((l) => ({ ...head, ...l })));
}

/** Lines that no field alone shows to be wrong: a pack twice or of another item, digits that the list does not keep, an end before the beginning. */
function refuseOdd(ws: Prepared, body: PostBody, decimals: number): void {
  const faults: { path: string; message: string }[] = [];
  const seen = new Set<string>();
  if (body.lastDay && body.lastDay < body.effective)
    faults.push({ path: 'lastDay', message: `${body.lastDay} lies before the first day, ${body.effective}` });
  for (const [n, line] of body.lines.entries()) {
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

/** The state has moved on since the lines were made: they are made again. */
class MovedOn extends Error {}

/** How often lines are made beside the work of others before everybody else waits for them. */
const TRIES = 3;

/**
 * Posts prices of a list from a day on. Everything is computed again: what differs from what the person saw refuses the
 * posting, and names the prices. It is computed and written while others go on working; only at the end nobody may change
 * anything for a moment, and if somebody has since, it is done again.
 */
export async function postPrices(
  context: Context,
  person: SignedIn,
  listId: number,
  body: PostBody,
  today: string,
): Promise<{ posting: string; lines: number }> {
  if (body.effective < today) throw refused('day_in_the_past', { today });
  for (let attempt = 1; ; attempt++) {
    const seen = attempt < TRIES ? await workspaceOn(context.db, body.effective) : null;
    const lines = seen && linesOf(seen.ws, listId, body);
    try {
      return await inTransaction(context.db, async (tx) => {
        const last = seen ?? (await workspaceIn(tx, context.db, body.effective));
        const asOf = entryOf(last.revision);
        const written = await write(
          tx,
          context,
          person,
          listId,
          { ...body, asOf },
          lines ?? linesOf(last.ws, listId, body),
        );
        await holdState(tx);
        if ((await revisionOf(tx)) !== last.revision) throw new MovedOn();
        await audit(tx, {
          at: context.now(),
          personId: person.id,
          action: 'posted prices',
          subject: 'postings',
          subjectId: written.posting,
          after: {
            list: last.ws.lists.get(String(listId))!.name,
            effective: body.effective,
            lines: written.lines,
            reason: body.reason,
          },
        });
        return written;
      });
    } catch (error) {
      if (!(error instanceof MovedOn)) throw error;
    }
  }
}

/** What is to be written, from the state of its day; refuses what differs from what was seen. */
function linesOf(ws: Prepared, listId: number, body: PostBody): LineValues[] {
  const list = findList(ws, String(listId));
  const decimals = ws.decimalsOf(list);
  const same = (a: string | null, b: string | null) => (a === null || b === null ? a === b : dec(a).eq(b));
  const changed: unknown[] = [];
  let held = 0;
  const lines: LineValues[] = [];
  const written = new Map<string, string>();
  refuseOdd(ws, body, decimals);
  for (const line of body.lines) {
    const q = { item: line.item, pack: line.pack, list: String(listId), day: body.effective };
    const item = ws.items.get(line.item)!;
    const posted = ws.postedFor(q.list, item, q.pack, body.effective);
    const before = posted ? money(dec(posted.price!), decimals) : null;
    const found = computePrice(ws, q, line.fall ? 'allow_fall' : 'keep');
    const made = found.ok ? (line.release ? found.value.recipePrice : found.value.price) : null;
    const computed = made && money(made, decimals);
    if (!same(before, line.before) || (!line.handSet && !same(computed, line.after))) {
      changed.push({
        item: line.item,
        pack: line.pack,
        sku: ws.items.get(line.item)?.sku ?? line.item,
        seen: { before: line.before, after: line.after },
        now: { before, after: computed },
      });
      continue;
    }
    if (!line.handSet && found.ok && found.value.flag === 'floor_above_ceiling') held++;
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
    const achieved = achievedAt(ws, q, dec(line.after));
    const round = (d: Dec | null) => (d ? plain(roundHalfUp(d, 4)) : null);
    lines.push({
      itemId: Number(lead.id),
      packId: Number(pack),
      before,
      after: money(dec(line.after), decimals),
      cost: achieved.ok ? plain(roundHalfUp(achieved.value.cost, 10)) : null,
      margin: achieved.ok ? round(achieved.value.margin) : null,
      handSetReason: line.handSet?.reason ?? null,
      lastDay: line.handSet?.lastDay ?? body.lastDay,
    });
  }
  if (changed.length > 0)
    throw refused('prices_changed_meanwhile', { count: String(changed.length) }, { current: changed.slice(0, 200) });
  if (held > 0) throw refused('held_lines', { count: String(held) });
  if (lines.length === 0) throw refused('nothing_to_post');
  return lines;
}

async function write(
  tx: Tx,
  context: Context,
  person: SignedIn,
  listId: number,
  body: PostBody & { asOf: number },
  lines: readonly LineValues[],
): Promise<{ posting: string; lines: number }> {
  const [posting] = await tx
    .insert(postings)
    .values({
      listId,
      kind: 'post',
      reason: body.reason,
      effective: body.effective,
      lastDay: body.lastDay,
      asOf: body.asOf,
      postedBy: person.id,
      postedAt: context.now(),
    })
    .returning({ id: postings.id });
  await writeLines(tx, { postingId: posting!.id, listId, effective: body.effective }, lines);
  return { posting: String(posting!.id), lines: lines.length };
}
