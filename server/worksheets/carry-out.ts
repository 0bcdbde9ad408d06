import { setTimeout } from 'node:timers/promises';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { besideOthers } from '../ledger/beside.ts';
import { writeReversal } from '../ledger/reverse-posting.ts';
import type { WorksheetState } from '#contract/worksheets.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, isAway } from '../platform/database.ts';
import { Refused, refused } from '../platform/refused.ts';
import { today } from '../workspace/asked-day.ts';
import { type Orders, post } from './post-worksheet.ts';
import { nobodyComputes, standingPostings } from './store.ts';
import { type ReverseOrder, isReversal, worksheets } from './tables.ts';

/** Somebody cancelled what was under way. */
class Cancelled extends Error {}

/** What a worksheet is again whose order is not carried out: as SQL on its own row. */
export const AS_BEFORE = sql`case when state = 'reversing' then "order" ->> 'was' else 'draft' end`;

/**
 * Carries out what a worksheet was ordered to: posts its prices, or reverses them, in one transaction, or leaves everything
 * as it was and says why. Nobody waits for it but at its end, for a moment. Where another process holds the worksheet it is looked
 * at again until that is done with it: who computes one holds it for a moment longer than it is computed.
 */
export async function carryOutOrder(context: Pick<Context, 'db' | 'now'>, id: number): Promise<void> {
  try {
    while (!(await besideOthers(context.db, (tx, unmoved) => carryOut(tx, context, id, unmoved))))
      await setTimeout(HELD_MS);
  } catch (error) {
    // nothing of it is written: it is done once the database is back
    if (isAway(error)) throw error;
    const cancelled = error instanceof Cancelled;
    const trouble = cancelled ? null : error instanceof Refused ? error.message : 'the prices could not be written';
    await context.db
      .update(worksheets)
      .set({ state: AS_BEFORE, order: null, trouble, cancelAsked: false })
      .where(and(eq(worksheets.id, id), inArray(worksheets.state, ['posting', 'reversing'])));
    if (!cancelled && !(error instanceof Refused)) throw error;
  }
}

/** How long until it is looked again whether a worksheet is free, in milliseconds. */
const HELD_MS = 200;

/** Whether the order needs nothing more: it is carried out, or there is none any more. False: somebody else holds the worksheet. */
async function carryOut(
  tx: Tx,
  context: Pick<Context, 'db' | 'now'>,
  id: number,
  unmoved: () => Promise<void>,
): Promise<boolean> {
  const free = await nobodyComputes(tx, id);
  const [head] = await tx.select().from(worksheets).where(eq(worksheets.id, id));
  if (!head?.order || (head.state !== 'posting' && head.state !== 'reversing')) return true;
  if (!free) return false;
  const orders: Orders = {
    tx,
    context,
    head,
    unmoved,
    // told beside the transaction, so that others see it
    written: async (postings) => {
      const [going] = await context.db
        .update(worksheets)
        .set({ order: sql`jsonb_set("order", '{written}', to_jsonb(${postings}::int))` })
        .where(and(eq(worksheets.id, id), eq(worksheets.state, head.state), eq(worksheets.cancelAsked, false)))
        .returning({ id: worksheets.id });
      if (!going) throw new Cancelled();
    },
  };
  const { order } = head;
  const state = isReversal(order) ? await reverse(orders, order) : await post(orders, order);
  // who cancels from here on is too late: this row is held
  const [ended] = await tx
    .update(worksheets)
    .set({ state, order: null, trouble: null })
    .where(and(eq(worksheets.id, id), eq(worksheets.cancelAsked, false)))
    .returning({ id: worksheets.id });
  if (!ended) throw new Cancelled();
  return true;
}

/** Reverses every posting of a worksheet that stands, wholly or in part. */
async function reverse({ tx, context, head, written, unmoved }: Orders, order: ReverseOrder): Promise<WorksheetState> {
  const standing = (await standingPostings(tx, [head.id])).filter((p) => p.stands);
  if (standing.length === 0) throw refused('nothing_to_reverse');
  const how = { ...order, lines: null, at: context.now(), today: await today(context as Context) };
  const made = [];
  const kept: Refused[] = [];
  for (const [n, { id }] of standing.entries()) {
    await written(n);
    try {
      made.push(await writeReversal(tx, id, how));
    } catch (error) {
      // of one that later postings have changed whole nothing goes back: the others may
      if (!(error instanceof Refused) || !order.leaveChanged || error.problem.code !== 'cannot_reverse') throw error;
      kept.push(error);
    }
  }
  if (made.length === 0) throw kept[0]!;
  await written(standing.length);
  await unmoved();
  for (const m of made) await m.record();
  return (await standingPostings(tx, [head.id])).some((p) => p.stands) ? order.was : 'reversed';
}
