import type { Posted } from '#contract/posting-requests.ts';
import { needsSecondPerson } from '#core/lists/second-person.ts';
import type { Context } from '../platform/context.ts';
import { type Db, type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { askSecondPerson, auditAgreement, beyondOf, settleRequest } from '../second-person/ask.ts';
import { workspaceIn } from '../workspace/state.ts';
import { audit, entryOf, holdState, revisionOf } from './audit.ts';
import { countOf, linesOf, madeLines } from './posting-lines.ts';
import type { PricesOrder, LineValues, ListLines, MadeLines } from './prices-order.ts';
import { postingLines, postings } from './tables.ts';

const CHUNK = 1000;

export async function writeLines(
  tx: Tx,
  head: { postingId: number; listId: number; effective: string },
  lines: readonly LineValues[],
): Promise<void> {
  for (let i = 0; i < lines.length; i += CHUNK)
    await tx.insert(postingLines).values(lines.slice(i, i + CHUNK).map((l) => ({ ...head, ...l })));
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

/** `costs`: where long postings are made beside the server's own thread. */
type PostsIn = Pick<Context, 'db' | 'now'> & Partial<Pick<Context, 'costs'>>;

/**
 * Posts prices of lists from a day on, of all of them or of none. Everything is computed again: what differs from what the
 * person saw refuses the posting, and names the prices. It is computed and written while others go on working; only at the end
 * nobody may change anything for a moment, and if somebody has since, it is done again. Where a list says that a second person
 * has to agree, it waits for that instead.
 */
export async function postPrices(
  context: PostsIn,
  person: number,
  order: PricesOrder,
  today: string,
  agreement?: Agreement,
): Promise<Posted> {
  if (order.effective < today) throw refused('day_in_the_past', { today });
  for (let attempt = 1; ; attempt++) {
    const seen = attempt < TRIES ? await madeBeside(context, order) : null;
    try {
      return await inTransaction(context.db, async (tx) => {
        await agreement?.stillWaits(tx);
        const last = seen ?? (await madeWithin(tx, context.db, order));
        const found = last.lines;
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
        if (agreement) {
          const by = { person: agreement.by, at: context.now() };
          await settleRequest(tx, agreement.request, by, ids);
          await auditAgreement(tx, agreement.request, by, ids);
        }
        return { postings: ids.map(String), lines: countOf(found), request: null };
      });
    } catch (error) {
      if (!(error instanceof MovedOn)) throw error;
    }
  }
}

/** From so many lines on they are made in a thread of their own. */
const LONG = 1_000;

const madeBeside = ({ db, costs }: PostsIn, order: PricesOrder): Promise<MadeLines> =>
  costs && order.lists.reduce((n, l) => n + l.lines.length, 0) >= LONG ? costs.lines(order) : madeLines(db, order);

/** While everybody else waits. */
async function madeWithin(tx: Tx, owner: Db, order: PricesOrder): Promise<MadeLines> {
  const loaded = await workspaceIn(tx, owner, order.effective);
  return { revision: loaded.revision, lines: await linesOf(loaded, order) };
}

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
