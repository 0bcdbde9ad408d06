import { type SQL, asc, eq, sql } from 'drizzle-orm';
import type { PostWorksheetBody, PostedShare, WorksheetState } from '#contract/worksheets.ts';
import { FLAGS } from '#core/bulk/price-rows.ts';
import { audit, entryOf, revisionOf } from '../ledger/audit.ts';
import { mayBeInForce } from '../ledger/in-force.ts';
import { postings } from '../ledger/tables.ts';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { type RequestedList } from '../second-person/tables.ts';
import { auditAgreement, beyondOf, settleRequest } from '../second-person/ask.ts';
import { today } from '../workspace/asked-day.ts';
import { onlyOwnPostings } from './store.ts';
import { type PostOrder, worksheetLists, type worksheets } from './tables.ts';

type Head = typeof worksheets.$inferSelect;

const SHARES: Readonly<Record<PostedShare, SQL>> = {
  changed: sql`w.after is distinct from w.before`,
  rises: sql`w.after > w.before`,
  falls: sql`w.after < w.before`,
  first: sql`w.before is null`,
};

/**
 * Proposed prices of a list that can be posted, as SQL from `with` on: computed, not to be decided by hand, of the item's own
 * pack (who follows a lead of a lockstep group has no price of its own), and not posted from this worksheet before. What was
 * is read once and beforehand: lines that are just being written are no part of it.
 */
const postable = (worksheet: number, list: number, share: PostedShare) => sql`
  with done as materialized (
    select l.item_id, l.pack_id from postings h join posting_lines l on l.posting_id = h.id
    where h.worksheet_id = ${worksheet} and h.list_id = ${list} and h.kind = 'post'),
  w as materialized (
    select w.* from worksheet_prices w
    where w.worksheet_id = ${worksheet} and w.list_id = ${list} and w.after is not null and (${SHARES[share]})
      and w.after is distinct from w.before and w.flag <> ${FLAGS.indexOf('floor_above_ceiling')}
      and (w.item_id, w.pack_id) in (select p.item_id, p.id from packs p)
      and (w.item_id, w.pack_id) not in (select item_id, pack_id from done))`;

/** What speaks against posting a worksheet that is a draft; refuses it. */
export async function refuseUnfit(db: Queries, head: Head, body: PostWorksheetBody, now: string): Promise<void> {
  if (head.day < now) throw refused('worksheet_day_gone', { day: head.day });
  if (body.lastDay && body.lastDay < head.day)
    throw refused(
      'fields_wrong',
      {},
      { faults: [{ path: 'lastDay', message: `${body.lastDay} lies before the first day, ${head.day}` }] },
    );
  const lists = await listsOf(db, head.id);
  const nameOf = (id: string) => lists.find((l) => l.list === id)?.name;
  const missing = body.lists.find((id) => !nameOf(id));
  if (missing) throw refused('not_found', { what: 'On this worksheet the price list', id: missing });
  if (!body.asComputed && (await revisionOf(db)) !== head.revision && !(await onlyOwnPostings(db, head)))
    throw refused('worksheet_outdated');
  // a list that is made from another was computed from what that would become
  for (const { name, madeFrom } of lists.filter((l) => body.lists.includes(l.list)))
    for (const parent of madeFrom) {
      const whole = body.lists.includes(parent) && body.share === 'changed';
      if (!whole && (await left(db, head.id, Number(parent))) > 0)
        throw refused('worksheet_needs_list', { list: name, parent: nameOf(parent)! });
    }
}

/** The lists of a worksheet, those that others were made from first. */
export async function listsOf(db: Queries, worksheet: number) {
  const rows = await db
    .select({ id: worksheetLists.listId, name: priceLists.name, madeFrom: worksheetLists.madeFrom })
    .from(worksheetLists)
    .innerJoin(priceLists, eq(priceLists.id, worksheetLists.listId))
    .where(eq(worksheetLists.worksheetId, worksheet))
    .orderBy(asc(worksheetLists.listId));
  // what is behind a list has all but itself behind it
  return rows.map(({ id, ...l }) => ({ ...l, list: String(id) })).sort((a, b) => a.madeFrom.length - b.madeFrom.length);
}

/** The prices of a list that posting the worksheet would put in force. */
export async function wouldBePosted(
  db: Queries,
  worksheet: number,
  list: number,
): Promise<{ item: number; pack: number; after: string }[]> {
  const { rows } = await db.execute<{ item: number; pack: number; after: string }>(
    sql`${postable(worksheet, list, 'changed')} select item_id as item, pack_id as pack, after::text from w`,
  );
  return rows;
}

/** As the core decides it of a price that is proposed (`needsSecondPerson`), as SQL on a row `w`. */
export const movesBeyond = (beyond: string): SQL => sql`(${beyond}::numeric = 0 or w.before is null
  or abs(w.after - w.before) * 100 > ${beyond}::numeric * w.before)`;

/** What posting it would put in force, list by list, and on which of them a second person has to agree to it; null: no list says so. */
export async function requestedLists(
  db: Queries,
  worksheet: number,
  { lists, share }: Pick<PostWorksheetBody, 'lists' | 'share'>,
): Promise<RequestedList[] | null> {
  const said = await beyondOf(db, lists.map(Number));
  if (![...said.values()].some((beyond) => beyond !== null)) return null;
  const out: RequestedList[] = [];
  for (const list of lists) {
    const beyond = said.get(Number(list)) ?? null;
    const { rows } = await db.execute<{ prices: number; asks: boolean | null }>(sql`
      ${postable(worksheet, Number(list), share)}
      select count(*)::int as prices, bool_or(${beyond === null ? sql`false` : movesBeyond(beyond)}) as asks from w`);
    const { prices, asks } = rows[0]!;
    if (prices > 0) out.push({ list, prices, beyond: beyond !== null && asks ? beyond : null });
  }
  return out;
}

async function left(db: Queries, worksheet: number, list: number): Promise<number> {
  const { rows } = await db.execute<{ n: number }>(
    sql`${postable(worksheet, list, 'changed')} select count(*)::int as n from w`,
  );
  return rows[0]!.n;
}

/** What it was ordered to is carried out in one transaction, or not at all. */
export interface Orders {
  readonly tx: Tx;
  readonly context: Pick<Context, 'db' | 'now'>;
  readonly head: Head;
  /** Tells how many postings are written; refuses to go on where it was cancelled meanwhile. */
  written(postings: number): Promise<void>;
  /** From here on nobody may change anything: somebody has not since the work began. */
  unmoved(): Promise<void>;
}

/** Posts the prices of a worksheet that was ordered to be. Returns what it is then. */
export async function post({ tx, context, head, written, unmoved }: Orders, order: PostOrder): Promise<WorksheetState> {
  const { id } = head;
  await refuseUnfit(tx, head, order, await today(context as Context));
  const asOf = entryOf(head.revision!);
  const alone = await onlyOwnPostings(tx, head);
  const made: { posting: number; list: string; lines: number }[] = [];
  const lists = await listsOf(tx, id);
  const asked = lists.filter((l) => order.lists.includes(l.list));
  for (const [n, { list, name }] of asked.entries()) {
    await written(n);
    const posted = await postList(tx, context, head, order, { id: Number(list), name }, { asOf, alone });
    if (posted) made.push(posted);
  }
  if (made.length === 0) throw refused('nothing_to_post');
  await written(asked.length);
  const { agreed } = order;
  const by = agreed && { person: agreed.by, at: context.now() };
  const ids = made.map((m) => m.posting);
  if (by) await settleRequest(tx, agreed.request, by, ids);
  await unmoved();
  for (const m of made)
    await audit(tx, {
      at: context.now(),
      personId: order.person,
      action: 'posted prices',
      subject: 'postings',
      subjectId: String(m.posting),
      after: {
        list: m.list,
        effective: head.day,
        lines: m.lines,
        reason: order.reason,
        worksheet: id,
        ...(agreed ? { request: agreed.request } : {}),
      },
    });
  if (by) await auditAgreement(tx, agreed.request, by, ids);
  let rest = 0;
  for (const { list } of lists) rest += await left(tx, id, Number(list));
  return rest > 0 ? 'draft' : 'posted';
}

/** `alone`: nobody else has posted anything since it was computed. */
async function postList(
  tx: Tx,
  context: Pick<Context, 'now'>,
  head: Head,
  order: PostOrder,
  list: { id: number; name: string },
  { asOf, alone }: { asOf: number; alone: boolean },
) {
  const found = postable(head.id, list.id, order.share);
  // what was posted by nobody else since is what it was computed beside
  const moved = sql`select count(*)::int as all, (count(*) filter (where now.after is distinct from w.before))::int as moved
    from w left join lateral (
      select l.after from posting_lines l
      where l.list_id = w.list_id and l.item_id = w.item_id and l.pack_id = w.pack_id and ${sql.raw(mayBeInForce(head.day))}
      order by l.effective desc, l.id desc limit 1) now on true`;
  const counted = await tx.execute<{ all: number; moved: number }>(
    sql`${found} ${alone ? sql`select count(*)::int as all, 0 as moved from w` : moved}`,
  );
  const { all, moved: others } = counted.rows[0]!;
  if (others > 0) throw refused('worksheet_prices_moved', { count: String(others), list: list.name });
  if (all === 0) return null;
  const values = {
    listId: list.id,
    kind: 'post' as const,
    reason: order.reason,
    effective: head.day,
    lastDay: order.lastDay ?? null,
    postedBy: order.person,
    agreedBy: order.agreed?.by,
    postedAt: context.now(),
    asOf,
    worksheetId: head.id,
  };
  const [posting] = await tx.insert(postings).values(values).returning({ id: postings.id });
  const written = await tx.execute(sql`
    ${found}
    insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, last_day, before, after, margin)
    select ${posting!.id}, w.list_id, w.item_id, w.pack_id, ${head.day}, ${order.lastDay ?? null}::date, w.before, w.after, w.margin
    from w order by w.item_id, w.pack_id`);
  return { posting: posting!.id, list: list.name, lines: written.rowCount ?? 0 };
}
