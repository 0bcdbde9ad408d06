import { sql } from 'drizzle-orm';
import type { Posted } from '#contract/posting-requests.ts';
import { needsSecondPerson } from '#core/lists/second-person.ts';
import type { Context } from '../platform/context.ts';
import { type Db, type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { askSecondPerson, auditAgreement, beyondOf, refuseDecided, settleRequest } from '../second-person/ask.ts';
import { workspaceIn } from '../workspace/state.ts';
import { audit, entryOf, holdState, revisionOf } from './audit.ts';
import { countOf, linesOf, madeLines } from './posting-lines.ts';
import type { PricesOrder, LineValues, ListLines, MadeLines } from './prices-order.ts';
import { postings } from './tables.ts';

/** So many lines are written by one statement. */
const CHUNK = 5_000;

/** Writes lines of a posting, in their order. */
export async function writeLines(
  tx: Tx,
  head: { postingId: number; listId: number; effective: string },
  lines: readonly LineValues[],
): Promise<void> {
  for (let i = 0; i < lines.length; i += CHUNK) {
    const some = lines.slice(i, i + CHUNK);
    // a parameter a column: of a parameter a figure, making the statement would take longer than carrying it out
    const column = (of: (line: LineValues) => unknown) => sql.param(some.map(of));
    await tx.execute(sql`
      insert into posting_lines (posting_id, list_id, effective, item_id, pack_id, before, after, margin, steps, hand_set_reason, last_day)
      select ${head.postingId}, ${head.listId}, ${head.effective}::date, l.item, l.pack, l.before, l.after, l.margin, l.steps, l.reason, l.last
      from unnest(${column((l) => l.itemId)}::int[], ${column((l) => l.packId)}::int[], ${column((l) => l.before)}::numeric[],
        ${column((l) => l.after)}::numeric[], ${column((l) => l.margin)}::numeric[],
        ${column((l) => (l.steps ? JSON.stringify(l.steps) : null))}::jsonb[], ${column((l) => l.handSetReason)}::text[],
        ${column((l) => l.lastDay)}::date[]) with ordinality as l (item, pack, before, after, margin, steps, reason, last, place)
      order by l.place`);
  }
}

/** The state has moved on since the lines were made: they are made again. */
class MovedOn extends Error {}

/** How often lines are made beside the work of others before everybody else waits for them. */
const TRIES = 3;

/** A second person's consent to what somebody asked for. */
export interface Agreement {
  readonly request: number;
  readonly by: number;
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
    const seen = attempt < TRIES ? await madeLines(context.db, order) : null;
    try {
      return await inTransaction(context.db, async (tx) => {
        if (agreement) await refuseDecided(tx, agreement.request);
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
