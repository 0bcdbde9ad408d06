import { desc, eq, ne } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import type { PostingRequest } from '#contract/posting-requests.ts';
import { audit } from '../ledger/audit.ts';
import { postLong } from '../ledger/long-posting.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { recordId } from '../setup/one-record.ts';
import { orderAgreed } from '../worksheets/order-posting.ts';
import { WORKSHEET_POSTINGS } from '../worksheets/proposals.ts';
import { today } from '../workspace/asked-day.ts';
import { refuseDecided } from './ask.ts';
import { postingRequests } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const second = alias(people, 'second');
/** Of those that are decided, so many are told. */
const DECIDED = 50;
const r = postingRequests;

async function read(db: Queries, person: SignedIn, of: 'waiting' | 'decided' | number): Promise<PostingRequest[]> {
  const where = of === 'waiting' ? eq(r.state, 'waiting') : of === 'decided' ? ne(r.state, 'waiting') : eq(r.id, of);
  const rows = await db
    .select({ request: { ...columns }, by: people.name, decidedBy: second.name })
    .from(r)
    .innerJoin(people, eq(people.id, r.askedBy))
    .leftJoin(second, eq(second.id, r.decidedBy))
    .where(where)
    .orderBy(desc(r.id))
    .limit(of === 'decided' ? DECIDED : 1_000);
  const lists = await db
    .select({ id: priceLists.id, name: priceLists.name, currency: priceLists.currency })
    .from(priceLists);
  return rows.map(({ request: one, by, decidedBy }) => ({
    id: String(one.id),
    state: one.state,
    reason: one.reason,
    effective: one.effective,
    lastDay: one.lastDay,
    by,
    at: one.askedAt.toISOString(),
    own: one.askedBy === person.id,
    lists: one.lists.map(({ list, prices, beyond }) => {
      const named = lists.find((l) => String(l.id) === list);
      return { list, name: named?.name ?? '', currency: named?.currency ?? '', prices, beyond };
    }),
    prices: one.lists.reduce((n, l) => n + l.prices, 0),
    worksheet: one.worksheetId === null ? null : String(one.worksheetId),
    decided: one.decidedAt && { by: decidedBy ?? '', at: one.decidedAt.toISOString(), why: one.why },
    postings: one.postings.map(String),
  }));
}

/** All but the prices, which can be many. */
const columns = {
  id: r.id,
  state: r.state,
  reason: r.reason,
  effective: r.effective,
  lastDay: r.lastDay,
  askedBy: r.askedBy,
  askedAt: r.askedAt,
  decidedAt: r.decidedAt,
  why: r.why,
  worksheetId: r.worksheetId,
  lists: r.lists,
  postings: r.postings,
};

/** Those that wait, then those that were decided last. */
export async function requests(db: Queries, person: SignedIn): Promise<PostingRequest[]> {
  return [...(await read(db, person, 'waiting')), ...(await read(db, person, 'decided'))];
}

export async function oneRequest(db: Queries, person: SignedIn, id: string | undefined): Promise<PostingRequest> {
  const key = recordId('The request', id);
  const [found] = await read(db, person, key);
  if (!found) throw refused('not_found', { what: 'The request', id: String(key) });
  return found;
}

/** Agrees as the second person: everything is computed again, and posted if it is as it was seen. */
export async function agree(context: Context, person: SignedIn, id: string | undefined): Promise<PostingRequest> {
  const { id: key, own, worksheet, prices } = await oneRequest(context.db, person, id);
  if (own) throw refused('second_person_only');
  const agreed = { request: Number(key), by: person.id };
  if (worksheet === null) await postLong(context, { of: 'request', agreed, today: await today(context) }, prices);
  else {
    const worksheetId = Number(worksheet);
    await inTransaction(context.db, async (tx) => {
      await refuseDecided(tx, agreed.request);
      const [asked] = await tx.select().from(r).where(eq(r.id, agreed.request));
      await orderAgreed(tx, context, worksheetId, { ...asked!.worksheet!, person: asked!.askedBy, agreed });
    });
    await context.jobs.enqueue(WORKSHEET_POSTINGS, worksheetId);
  }
  return oneRequest(context.db, person, id);
}

/** Refuses as the second person, or withdraws what oneself asked for. */
export async function decline(
  context: Context,
  person: SignedIn,
  id: string | undefined,
  said: { readonly state: 'refused'; readonly why: string } | { readonly state: 'withdrawn' },
): Promise<PostingRequest> {
  const { id: key, own, by } = await oneRequest(context.db, person, id);
  if (said.state === 'refused' && own) throw refused('second_person_only');
  if (said.state === 'withdrawn' && !own) throw refused('own_request_only', { by });
  const why = said.state === 'refused' ? said.why : null;
  await inTransaction(context.db, async (tx) => {
    await refuseDecided(tx, Number(key));
    await tx
      .update(r)
      .set({ state: said.state, decidedBy: person.id, decidedAt: context.now(), why })
      .where(eq(r.id, Number(key)));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: said.state === 'refused' ? 'refused a posting' : 'withdrew a posting',
      subject: 'posting-requests',
      subjectId: key,
      after: why === null ? null : { why },
    });
  });
  return oneRequest(context.db, person, id);
}
