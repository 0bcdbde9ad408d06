import { and, eq, inArray } from 'drizzle-orm';
import { audit } from '../ledger/audit.ts';
import { priceLists } from '../lists/tables.ts';
import { people } from '../people/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { type RequestedList, postingRequests } from './tables.ts';

const SUBJECT = 'posting-requests';

/** Beyond which moves a second person has to agree, in per cent, by list: as it is said now, whatever day is posted for. */
export async function beyondOf(db: Queries, lists: readonly number[]): Promise<ReadonlyMap<number, string | null>> {
  const rows = await db
    .select({ id: priceLists.id, more: priceLists.more })
    .from(priceLists)
    .where(inArray(priceLists.id, [...lists]));
  return new Map(rows.map(({ id, more }) => [id, (more['secondPersonBeyond'] as string | null | undefined) ?? null]));
}

type Asked = Omit<typeof postingRequests.$inferInsert, 'id' | 'state' | 'lists'> & {
  readonly lists: readonly RequestedList[];
};

/** Writes down what waits for a second person; returns its number. */
export async function askSecondPerson(tx: Tx, asked: Asked): Promise<number> {
  const [row] = await tx
    .insert(postingRequests)
    .values({ ...asked, lists: [...asked.lists] })
    .returning({ id: postingRequests.id });
  await audit(tx, {
    at: asked.askedAt as Date,
    personId: asked.askedBy,
    action: 'asked a second person to agree to prices',
    subject: SUBJECT,
    subjectId: String(row!.id),
    after: {
      lists: asked.lists.map((l) => l.list),
      effective: asked.effective,
      prices: asked.lists.reduce((n, l) => n + l.prices, 0),
      reason: asked.reason,
      ...(asked.worksheetId ? { worksheet: asked.worksheetId } : {}),
    },
  });
  return row!.id;
}

/** The requests that wait for worksheets to be posted, by worksheet. */
export async function waitingRequests(db: Queries, of: readonly number[]): Promise<ReadonlyMap<number, string>> {
  const rows = await db
    .select({ id: postingRequests.id, worksheet: postingRequests.worksheetId })
    .from(postingRequests)
    .where(and(inArray(postingRequests.worksheetId, [...of]), eq(postingRequests.state, 'waiting')));
  return new Map(rows.map((r) => [r.worksheet!, String(r.id)]));
}

/** A worksheet is asked about once at a time. */
export async function refuseSecondRequest(db: Queries, worksheet: number): Promise<void> {
  const waiting = (await waitingRequests(db, [worksheet])).get(worksheet);
  if (waiting !== undefined) throw refused('request_waits', { id: waiting });
}

/** Holds a request that waits; refuses where it does not any more. */
export async function refuseDecided(tx: Tx, id: number): Promise<void> {
  const [row] = await tx
    .select({ state: postingRequests.state, by: postingRequests.decidedBy })
    .from(postingRequests)
    .where(eq(postingRequests.id, id))
    .for('update');
  if (row?.state === 'waiting') return;
  const [person] = await tx
    .select({ name: people.name })
    .from(people)
    .where(eq(people.id, row?.by ?? 0));
  throw refused('request_decided', { state: row?.state ?? 'withdrawn', by: person?.name ?? '' });
}

interface Decided {
  readonly person: number;
  readonly at: Date;
}

/** What was agreed is posted: part of the transaction that does. The request is held before the state is. */
export async function settleRequest(tx: Tx, request: number, by: Decided, postings: readonly number[]): Promise<void> {
  await tx
    .update(postingRequests)
    .set({ state: 'posted', decidedBy: by.person, decidedAt: by.at, postings: [...postings] })
    .where(eq(postingRequests.id, request));
}

/** Who agreed, in the record of changes. */
export const auditAgreement = (tx: Tx, request: number, by: Decided, postings: readonly number[]): Promise<void> =>
  audit(tx, {
    at: by.at,
    personId: by.person,
    action: 'agreed to prices that somebody asked for',
    subject: SUBJECT,
    subjectId: String(request),
    after: { postings },
  });

/** The worksheet that was to be posted is gone. */
export async function withdrawOf(tx: Tx, worksheet: number, by: Decided): Promise<void> {
  const why = 'the worksheet was discarded';
  const gone = await tx
    .update(postingRequests)
    .set({ state: 'withdrawn', decidedBy: by.person, decidedAt: by.at, why })
    .where(and(eq(postingRequests.worksheetId, worksheet), eq(postingRequests.state, 'waiting')))
    .returning({ id: postingRequests.id });
  for (const { id } of gone)
    await audit(tx, {
      at: by.at,
      personId: by.person,
      action: 'withdrew a posting',
      subject: SUBJECT,
      subjectId: String(id),
      after: { why },
    });
}
