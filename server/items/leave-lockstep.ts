import { and, eq, inArray, not } from 'drizzle-orm';
import type { LockstepGroup } from '#core/lockstep/group.ts';
import { onLeaving } from '#core/lockstep/lockstep.ts';
import { costOn } from '#core/costs/landed-cost.ts';
import type { Day } from '#core/numbers/day.ts';
import type { Item } from '#core/items/item.ts';
import { type PostedPrice, heldUntil, lastDayOf } from '#core/lists/posted-price.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { costs } from '../costs/tables.ts';
import { audit } from '../ledger/audit.ts';
import { writeLines } from '../ledger/post-prices.ts';
import { achievedMargin } from '../ledger/posting-lines.ts';
import { stepsOfLine } from '../ledger/rebuilt-steps.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Tx } from '../platform/database.ts';
import { workspaceIn } from '../workspace/state.ts';
import { packColumns } from './columns.ts';
import { items, packs } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

type Group = Pick<LockstepGroup, 'lead' | 'members'>;

/** Who no longer follows the lead once a group is as it is sent; a member that becomes the lead keeps the lead's values too. */
export function leaversOf(before: Group, after: Group | null): string[] {
  const stay = new Set(after ? after.members.filter((m) => m !== after.lead) : []);
  return before.members.filter((m) => !stay.has(m));
}

interface Here {
  readonly tx: Tx;
  readonly context: Context;
  readonly person: SignedIn;
}

/**
 * An item that leaves a lockstep group keeps the lead's values as its own, docs/arithmetic.md, "Lockstep": tax class, packs,
 * supplier, the costs that count or are to count, and on every list the price that stands and those to come. Runs before the
 * group is changed, in the same transaction.
 */
export async function keepLeadsValues(
  { tx, context, person }: Here,
  group: Group & { readonly name: string },
  leavers: readonly string[],
  today: Day,
): Promise<void> {
  if (leavers.length === 0) return;
  const known = (await workspaceIn(tx, context.db, today)).ws;
  // a state knows what may be in force on its day alone: here what is to come counts too
  const ws = new Prepared({ ...known.workspace, posted: await everPosted(tx, [group.lead, ...leavers]) }, known);
  const lead = ws.items.get(group.lead);
  if (!lead) return;
  const lines = new Map<string, Line[]>();
  const stepsOf = new Map<number, Awaited<ReturnType<typeof stepsOfLine>>>();
  for (const id of leavers) {
    const item = ws.items.get(id);
    if (!item) continue;
    await keepTerms(tx, lead, item);
    await keepCosts({ tx, context, person }, ws, lead, item, today);
    const packOf = await keepPacks(tx, lead, item);
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: `left the lockstep group “${group.name}”`,
      subject: 'items',
      subjectId: item.id,
      before: { taxClass: item.taxClass, supplier: item.supplier ?? null, packs: item.packs },
      after: {
        sku: item.sku,
        keeps: lead.sku,
        taxClass: lead.taxClass,
        supplier: lead.supplier ?? null,
        packs: lead.packs,
      },
    });
    for (const list of ws.workspace.lists)
      for (const pack of lead.packs) {
        const own = packOf.get(pack.id)!;
        for (const day of daysOf(ws, list.id, [`${lead.id}/${pack.id}`, `${item.id}/${own}`], today)) {
          const now = ws.postedOn(list.id, lead.id, pack.id, day);
          const was = ws.postedOn(list.id, item.id, String(own), day);
          if (!now && !was) continue;
          const key = `${list.id}/${day}`;
          if (now && !stepsOf.has(now.entry)) stepsOf.set(now.entry, await stepsOfLine(context.db, now.entry));
          const at = lines.get(key) ?? [];
          lines.set(key, at);
          at.push({ itemId: Number(item.id), packId: own, now, lead: lead.id, leadPack: pack.id });
        }
      }
  }
  for (const [key, of] of lines) {
    const [list = '', day = ''] = key.split('/');
    await post(
      { tx, context, person },
      ws,
      { list, day, reason: `left the lockstep group “${group.name}”` },
      of,
      stepsOf,
    );
  }
}

async function everPosted(tx: Tx, of: readonly string[]): Promise<PostedPrice[]> {
  const rows = await tx
    .select()
    .from(postingLines)
    .where(inArray(postingLines.itemId, of.map(Number)));
  return rows.map((l) => ({
    list: String(l.listId),
    item: String(l.itemId),
    pack: String(l.packId),
    price: l.after,
    from: l.effective,
    posting: String(l.postingId),
    entry: l.id,
    ...heldUntil(l.handSetReason === null ? null : { reason: l.handSetReason, by: '' }, l.lastDay),
  }));
}

interface Line {
  readonly itemId: number;
  readonly packId: number;
  /** What stood for the lead; null: no price. */
  readonly now: PostedPrice | null;
  readonly lead: string;
  readonly leadPack: string;
}

/** The days on which a price of either begins or ends, from today on. */
function daysOf(ws: Prepared, list: string, keys: readonly string[], today: Day): Day[] {
  const days = new Set([today]);
  for (const key of keys) {
    const [item = '', pack = ''] = key.split('/');
    for (const p of ws.postings(list, item, pack)) {
      if (p.from > today) days.add(p.from);
      const last = lastDayOf(p);
      if (last && last >= today) days.add(dayAfter(last));
    }
  }
  return [...days].sort();
}

const dayAfter = (day: Day): Day => new Date(Date.parse(`${day}T00:00:00Z`) + 86_400_000).toISOString().slice(0, 10);

async function keepTerms(tx: Tx, lead: Item, item: Item): Promise<void> {
  const kept = onLeaving(item, lead);
  const [row] = await tx
    .select()
    .from(items)
    .where(eq(items.id, Number(item.id)));
  await tx
    .update(items)
    .set({
      taxClass: kept.taxClass,
      supplierId: kept.supplier ? Number(kept.supplier) : null,
      version: row!.version + 1,
    })
    .where(eq(items.id, row!.id));
}

/** The lead's packs by name; packs of its own that the lead does not have stay. Returns the own pack of each of the lead's. */
async function keepPacks(tx: Tx, lead: Item, item: Item): Promise<Map<string, number>> {
  const packOf = new Map<string, number>();
  for (const p of lead.packs) {
    const columns = packColumns(Number(item.id), p);
    const own = item.packs.find((o) => o.name === p.name);
    if (own) {
      await tx
        .update(packs)
        .set(columns)
        .where(eq(packs.id, Number(own.id)));
      packOf.set(p.id, Number(own.id));
    } else {
      const [made] = await tx.insert(packs).values(columns).returning({ id: packs.id });
      packOf.set(p.id, made!.id);
    }
  }
  return packOf;
}

/** The lead's costs that count or are to count; its own that would count beside them are taken back. */
async function keepCosts(
  { tx, context, person }: Here,
  ws: Prepared,
  lead: Item,
  item: Item,
  today: Day,
): Promise<void> {
  const theirs = await tx
    .select()
    .from(costs)
    .where(and(eq(costs.itemId, Number(lead.id)), not(costs.takenBack)))
    .orderBy(costs.id);
  const known = ws.costsByItem.get(lead.id) ?? [];
  const counting = new Set(
    [...new Set(known.map((c) => c.supplier))].flatMap(
      (s) =>
        costOn(
          known.filter((c) => c.supplier === s),
          today,
        )?.id ?? [],
    ),
  );
  await tx
    .update(costs)
    .set({ takenBack: true })
    .where(and(eq(costs.itemId, Number(item.id)), not(costs.takenBack)));
  const copied = theirs.filter((c) => c.validFrom > today || counting.has(String(c.id)));
  if (copied.length > 0)
    await tx.insert(costs).values(
      copied.map(({ id: _, ...c }) => ({
        ...c,
        itemId: Number(item.id),
        enteredBy: person.id,
        enteredAt: context.now(),
        // its sheet or bill is the lead's: taking that back does not reach an item that has left
        sheetId: null,
        billId: null,
      })),
    );
}

async function post(
  { tx, context, person }: Here,
  ws: Prepared,
  head: { readonly list: string; readonly day: Day; readonly reason: string },
  lines: readonly Line[],
  stepsOf: ReadonlyMap<number, Awaited<ReturnType<typeof stepsOfLine>>>,
): Promise<void> {
  const [posting] = await tx
    .insert(postings)
    .values({
      listId: Number(head.list),
      kind: 'post',
      reason: head.reason,
      effective: head.day,
      // its lines keep the steps of the lead's
      asOf: null,
      postedBy: person.id,
      postedAt: context.now(),
    })
    .returning({ id: postings.id });
  await writeLines(
    tx,
    { postingId: posting!.id, listId: Number(head.list), effective: head.day },
    lines.map(({ itemId, packId, now, lead, leadPack }) => ({
      itemId,
      packId,
      before: now?.price ?? null,
      after: now?.price ?? null,
      margin: now && achievedMargin(ws, { list: head.list, item: lead, pack: leadPack, day: head.day }, now.price!),
      steps: now ? (stepsOf.get(now.entry) ?? null) : null,
      handSetReason: now?.handSet?.reason ?? null,
      lastDay: now && lastDayOf(now),
    })),
  );
  await audit(tx, {
    at: context.now(),
    personId: person.id,
    action: 'posted prices',
    subject: 'postings',
    subjectId: String(posting!.id),
    after: { list: ws.lists.get(head.list)!.name, effective: head.day, lines: lines.length, reason: head.reason },
  });
}
