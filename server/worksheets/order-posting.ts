import { eq } from 'drizzle-orm';
import { type PostWorksheetBody, WORKSHEET_STATE_NAMES } from '#contract/worksheets.ts';
import { holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { askSecondPerson, refuseSecondRequest } from '../second-person/ask.ts';
import { today } from '../workspace/asked-day.ts';
import { refuseUnfit, requestedLists } from './post-worksheet.ts';
import { WORKSHEET_POSTINGS } from './proposals.ts';
import { type PostOrder, worksheets } from './tables.ts';

/** The worksheet that is to be posted, held; refuses where something speaks against it. */
async function fit(tx: Tx, worksheet: number, body: PostWorksheetBody, now: string) {
  const [head] = await tx.select().from(worksheets).where(eq(worksheets.id, worksheet)).for('no key update');
  if (head?.state !== 'draft')
    throw refused('worksheet_not_a_draft', { state: WORKSHEET_STATE_NAMES[head?.state ?? 'cancelled'] });
  await refuseUnfit(tx, head, body, now);
  return head;
}

const toBePosted = (tx: Tx, worksheet: number, order: PostOrder) =>
  tx
    .update(worksheets)
    .set({ state: 'posting', order, trouble: null, cancelAsked: false })
    .where(eq(worksheets.id, worksheet));

/**
 * Orders that prices of a worksheet are posted: refused at once where something speaks against it, else done in the background,
 * or once a second person has agreed where one of its lists says so.
 */
export async function orderPosting(
  context: Context,
  person: number,
  worksheet: number,
  body: PostWorksheetBody,
): Promise<void> {
  const now = await today(context);
  const asks = await requestedLists(context.db, worksheet, body);
  const waits = asks?.some((l) => l.beyond !== null) ?? false;
  await inTransaction(context.db, async (tx) => {
    // in the order in which who posts takes them: the state, then the worksheet
    if (waits) await holdState(tx);
    const head = await fit(tx, worksheet, body, now);
    await refuseSecondRequest(tx, worksheet);
    if (!waits) await toBePosted(tx, worksheet, { ...body, person });
    else
      await askSecondPerson(tx, {
        reason: body.reason,
        effective: head.day,
        lastDay: body.lastDay,
        askedBy: person,
        askedAt: context.now(),
        worksheetId: worksheet,
        worksheet: body,
        lists: asks ?? [],
      });
  });
  if (!waits) await context.jobs.enqueue(WORKSHEET_POSTINGS, worksheet);
}

/** Orders what was asked for, once somebody has agreed; part of the transaction that holds the request. */
export async function orderAgreed(tx: Tx, context: Context, worksheet: number, order: PostOrder): Promise<void> {
  await fit(tx, worksheet, order, await today(context));
  await toBePosted(tx, worksheet, order);
}
