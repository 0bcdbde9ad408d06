import { inTransaction } from '../platform/database.ts';
import { and, eq, inArray } from 'drizzle-orm';
import {
  type ProposeBody,
  type ReverseWorksheetBody,
  WORKSHEET_STATE_NAMES,
  type Worksheet,
} from '#contract/worksheets.ts';
import { audit, holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { route } from '../platform/http/route.ts';
import { worksheetRoutes as declared } from '#contract/api/worksheets.ts';
import { refused } from '../platform/refused.ts';
import { recordId } from '../setup/one-record.ts';
import { withdrawOf } from '../second-person/ask.ts';
import { today } from '../workspace/asked-day.ts';
import { AS_BEFORE } from './carry-out.ts';
import { orderPosting } from './order-posting.ts';
import { PROPOSALS, WORKSHEET_POSTINGS } from './proposals.ts';
import { nobodyComputes, proposableLists, readWorksheets, standingPostings } from './store.ts';
import { worksheetWindow } from './price-window.ts';
import { worksheetLists, worksheetPrices, worksheets } from './tables.ts';
import { writeWorksheet } from './write-worksheet.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const SUBJECT = 'worksheets';

async function find(context: Context, id: string | undefined): Promise<Worksheet> {
  const key = recordId('The worksheet', id);
  const [found] = await readWorksheets(context.db, key);
  if (!found) throw refused('not_found', { what: 'The worksheet', id: String(key) });
  return found;
}

/** Writes the worksheet down and queues its computation. */
async function propose(context: Context, person: SignedIn, body: ProposeBody): Promise<Worksheet> {
  const now = await today(context);
  if (body.day < now) throw refused('propose_in_the_past', { today: now });
  const id = await inTransaction(context.db, async (tx) => {
    const possible = await proposableLists(tx);
    const asked = body.lists.length === 0 ? possible.map((l) => l.id) : [...new Set(body.lists.map(Number))];
    const missing = asked.filter((list) => !possible.some((l) => l.id === list));
    if (missing.length > 0)
      throw refused('not_found', { what: 'An active list with a recipe,', id: missing.join(', ') });
    if (asked.length === 0) throw refused('nothing_to_propose');
    const cameWith =
      body.costSheet !== null
        ? { costSheet: recordId('The cost sheet', body.costSheet) }
        : body.bill !== null
          ? { bill: recordId('The bill', body.bill) }
          : undefined;
    return writeWorksheet(tx, {
      at: context.now(),
      person: person.id,
      reason: body.reason,
      day: body.day,
      lists: asked,
      cameWith,
    });
  });
  await context.jobs.enqueue(PROPOSALS, id);
  return find(context, String(id));
}

/** Orders that what was posted of it is reversed: done in the background. */
async function reverse(
  context: Context,
  person: SignedIn,
  id: string | undefined,
  body: ReverseWorksheetBody,
): Promise<Worksheet> {
  const found = await find(context, id);
  const key = Number(found.id);
  await inTransaction(context.db, async (tx) => {
    const [head] = await tx.select().from(worksheets).where(eq(worksheets.id, key)).for('no key update');
    const state = head?.state ?? 'cancelled';
    if (state !== 'draft' && state !== 'posted')
      throw refused('worksheet_not_posted', { state: WORKSHEET_STATE_NAMES[state] });
    const standing = (await standingPostings(tx, [key])).filter((p) => p.stands);
    if (standing.length === 0) throw refused('nothing_to_reverse');
    await tx
      .update(worksheets)
      .set({
        state: 'reversing',
        order: { ...body, postings: standing.length, was: state, person: person.id },
        trouble: null,
        cancelAsked: false,
      })
      .where(eq(worksheets.id, key));
  });
  await context.jobs.enqueue(WORKSHEET_POSTINGS, key);
  return find(context, id);
}

/** Where nobody is at it, it is cancelled at once; else when whoever is looks up next. What was posted before stays. */
async function cancel(context: Context, person: SignedIn, id: string | undefined): Promise<Worksheet> {
  const key = Number((await find(context, id)).id);
  await inTransaction(context.db, async (tx) => {
    // in the order in which who posts takes them: the state, then the worksheet
    await holdState(tx);
    const free = await nobodyComputes(tx, key);
    const own = eq(worksheets.id, key);
    const stopped = await tx
      .update(worksheets)
      .set(free ? { state: 'cancelled', cancelAsked: true, done: 0, endedAt: context.now() } : { cancelAsked: true })
      .where(and(own, inArray(worksheets.state, ['waiting', 'computing'])))
      .returning({ id: worksheets.id });
    const unordered = await tx
      .update(worksheets)
      .set(free ? { state: AS_BEFORE, order: null } : { cancelAsked: true })
      .where(and(own, inArray(worksheets.state, ['posting', 'reversing'])))
      .returning({ id: worksheets.id });
    // lists that a server which is gone had written down of it
    if (free && stopped.length > 0) await tx.delete(worksheetPrices).where(eq(worksheetPrices.worksheetId, key));
    if (stopped.length + unordered.length === 0) return;
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: stopped.length > 0 ? 'cancelled a worksheet' : 'cancelled what was ordered of a worksheet',
      subject: SUBJECT,
      subjectId: String(key),
    });
  });
  return find(context, id);
}

async function discard(context: Context, person: SignedIn, id: string | undefined): Promise<void> {
  const found = await find(context, id);
  const key = Number(found.id);
  await inTransaction(context.db, async (tx) => {
    await withdrawOf(tx, key, { person: person.id, at: context.now() });
    const [ended] = await tx
      .select({ state: worksheets.state })
      .from(worksheets)
      .where(
        and(eq(worksheets.id, key), inArray(worksheets.state, ['draft', 'posted', 'reversed', 'failed', 'cancelled'])),
      )
      .for('no key update');
    if (!ended) throw refused('worksheet_under_way', { state: WORKSHEET_STATE_NAMES[found.state] });
    for (const table of [worksheetPrices, worksheetLists]) await tx.delete(table).where(eq(table.worksheetId, key));
    await tx.delete(worksheets).where(eq(worksheets.id, key));
    const { reason, day, madeBy, lists } = found;
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'discarded a worksheet',
      subject: SUBJECT,
      subjectId: found.id,
      before: { reason, day, madeBy, lists },
    });
  });
}

export const worksheetRoutes = [
  route(declared.all, ({ context }) => readWorksheets(context.db)),
  route(declared.one, ({ context, params }) => find(context, params['id'])),
  route(declared.prices, async ({ context, params, query }) => {
    const { id: key, lists, endedAt: ended } = await find(context, params['id']);
    const id = recordId('The price list', params['list']);
    const list = lists.find((l) => l.list === String(id));
    if (!list) throw refused('not_found', { what: 'On this worksheet the price list', id: String(id) });
    return worksheetWindow(context, { worksheet: Number(key), list: id, decimals: list.decimals, ended }, query);
  }),
  route(declared.propose, ({ context, person, body }) => propose(context, person, body)),
  route(declared.post, async ({ context, person, params, body }) => {
    const { id: key } = await find(context, params['id']);
    await orderPosting(context, person.id, Number(key), body);
    return find(context, key);
  }),
  route(declared.reverse, ({ context, person, params, body }) => reverse(context, person, params['id'], body)),
  route(declared.cancel, ({ context, person, params }) => cancel(context, person, params['id'])),
  route(declared.discard, async ({ context, person, params }) => {
    await discard(context, person, params['id']);
    return { discarded: params['id'] };
  }),
];
