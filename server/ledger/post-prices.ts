import type { InferType } from 'yup';
import type { postBody } from '#contract/lists.ts';
import type { Posted } from '#contract/posting-requests.ts';
import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { needsSecondPerson } from '#core/lists/second-person.ts';
import type { Prepared } from '#core/workspace/index.ts';
import { findList } from '../lists/build-up.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { askSecondPerson, beyondOf, settleRequest } from '../second-person/ask.ts';
import { workspaceIn, workspaceOn } from '../workspace/state.ts';
import { audit, entryOf, holdState, revisionOf } from './audit.ts';
import type { PricesOrder } from './prices-order.ts';
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

/** A second person's consent to what somebody asked for. */
export interface Agreement {
  readonly request: number;
  readonly by: number;
  /** Refuses where it does not wait any more; part of the transaction. */
  stillWaits(tx: Tx): Promise<void>;
}

interface ListLines {
  readonly list: number;
  readonly name: string;
  readonly lines: LineValues[];
}

/**
 * Posts prices of lists from a day on, of all of them or of none. Everything is computed again: what differs from what the
 * person saw refuses the posting, and names the prices. It is computed and written while others go on working; only at the end
 * nobody may change anything for a moment, and if somebody has since, it is done again. Where a list says that a second person
 * has to agree, it waits for that instead.
 */
export async function postPrices(
  context: Pick<Context, 'db' | 'now'>,
  person: number,
  order: PricesOrder,
  today: string,
  agreement?: Agreement,
): Promise<Posted> {
  if (order.effective < today) throw refused('day_in_the_past', { today });
  for (let attempt = 1; ; attempt++) {
    const seen = attempt < TRIES ? await workspaceOn(context.db, order.effective) : null;
    const lines = seen && linesOf(seen.ws, order);
    try {
      return await inTransaction(context.db, async (tx) => {
        await agreement?.stillWaits(tx);
        const last = seen ?? (await workspaceIn(tx, context.db, order.effective));
        const found = lines ?? linesOf(last.ws, order);
        const waits = agreement ? null : await askedFor(tx, context, person, order, found);
        if (waits) return waits;
        const asOf = entryOf(last.revision);
        const written: { id: number; of: ListLines }[] = [];
        for (const of of found)
          written.push({ id: await write(tx, context, { person, agreement }, order, asOf, of), of });
        await holdState(tx);
        if ((await revisionOf(tx)) !== last.revision) throw new MovedOn();
        for (const { id, of } of written)
          await audit(tx, {
            at: context.now(),
            personId: person,
            action: 'posted prices',
            subject: 'postings',
            subjectId: String(id),
            after: {
              list: of.name,
              effective: order.effective,
              lines: of.lines.length,
              reason: order.reason,
              ...(agreement ? { request: agreement.request } : {}),
            },
          });
        const ids = written.map((w) => w.id);
        if (agreement) await settleRequest(tx, agreement.request, { person: agreement.by, at: context.now() }, ids);
        return { postings: ids.map(String), lines: countOf(found), request: null };
      });
    } catch (error) {
      if (!(error instanceof MovedOn)) throw error;
    }
  }
}

const countOf = (of: readonly ListLines[]): number => of.reduce((n, l) => n + l.lines.length, 0);

/** Asks a second person where one of the lists says so; null: none does. */
async function askedFor(
  tx: Tx,
  context: Pick<Context, 'now'>,
  person: number,
  order: PricesOrder,
  found: readonly ListLines[],
): Promise<Posted | null> {
  const said = await beyondOf(
    tx,
    found.map((f) => f.list),
  );
  const lists = found.map(({ list, lines }) => {
    const beyond = said.get(list) ?? null;
    const moved = lines.map((l) => ({ before: l.before ?? null, after: l.after ?? null }));
    return { list: String(list), prices: lines.length, beyond: needsSecondPerson(beyond, moved) ? beyond : null };
  });
  if (lists.every((l) => l.beyond === null)) return null;
  const request = await askSecondPerson(tx, {
    reason: order.reason,
    effective: order.effective,
    lastDay: order.lastDay,
    askedBy: person,
    askedAt: context.now(),
    prices: order,
    margins: Object.fromEntries(
      found.flatMap(({ list, lines }) =>
        lines.flatMap((l) => (l.margin ? [[`${list}/${l.itemId}/${l.packId}`, l.margin]] : [])),
      ),
    ),
    lists,
  });
  return { postings: [], lines: countOf(found), request: String(request) };
}

/** What is to be written on each list; refuses what differs from what was seen. */
function linesOf(ws: Prepared, { lists, ...head }: PricesOrder): ListLines[] {
  const out = lists.map(({ list, lines }) => ({
    list,
    name: findList(ws, String(list)).name,
    lines: linesOfList(ws, list, { ...head, lines }),
  }));
  if (countOf(out) === 0) throw refused('nothing_to_post');
  return out.filter((l) => l.lines.length > 0);
}

/** What is to be written, from the state of its day; refuses what differs from what was seen. */
function linesOfList(ws: Prepared, listId: number, body: PostBody): LineValues[] {
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
  return lines;
}

async function write(
  tx: Tx,
  context: Pick<Context, 'now'>,
  who: { person: number; agreement: Agreement | undefined },
  order: PricesOrder,
  asOf: number,
  { list: listId, lines }: ListLines,
): Promise<number> {
  const [posting] = await tx
    .insert(postings)
    .values({
      listId,
      kind: 'post',
      reason: order.reason,
      effective: order.effective,
      lastDay: order.lastDay,
      asOf,
      postedBy: who.person,
      agreedBy: who.agreement?.by,
      postedAt: context.now(),
    })
    .returning({ id: postings.id });
  await writeLines(tx, { postingId: posting!.id, listId, effective: order.effective }, lines);
  return posting!.id;
}
