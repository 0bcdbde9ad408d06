import { and, eq, inArray } from 'drizzle-orm';
import { audit } from '../ledger/audit.ts';
import { priceLists } from '../lists/tables.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { type RequestedList, postingRequests } from './tables.ts';

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
    subject: 'posting-requests',
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

/** What was agreed is posted: part of the transaction that does. */
export async function settleRequest(
  tx: Tx,
  request: number,
  by: { readonly person: number; readonly at: Date },
  postings: readonly number[],
): Promise<void> {
  await tx
    .update(postingRequests)
    .set({ state: 'posted', decidedBy: by.person, decidedAt: by.at, postings: [...postings] })
    .where(eq(postingRequests.id, request));
}

/** The worksheet that was to be posted is gone. */
export async function withdrawOf(tx: Tx, worksheet: number, by: { person: number; at: Date }): Promise<void> {
  await tx
    .update(postingRequests)
    .set({ state: 'withdrawn', decidedBy: by.person, decidedAt: by.at, why: 'the worksheet was discarded' })
    .where(and(eq(postingRequests.worksheetId, worksheet), eq(postingRequests.state, 'waiting')));
}
