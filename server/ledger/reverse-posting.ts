import { inTransaction } from '../platform/database.ts';
import { asc, eq, sql } from 'drizzle-orm';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { audit } from './audit.ts';
import { writeLines } from './post-prices.ts';
import { postingLines, postings } from './tables.ts';

/**
 * Undoes a posting by an opposite one: every price goes back to what it was before. Begins on the posting's own day,
 * or today where that day has gone by, so that days gone by stay as they were. Refused where a later posting has
 * changed one of the prices: that one has to be reversed first.
 */
export async function reversePosting(
  context: Context,
  person: SignedIn,
  id: number,
  reason: string,
  today: string,
): Promise<{ posting: string; lines: number }> {
  return inTransaction(context.db, async (tx) => {
    const [posting] = await tx.select().from(postings).where(eq(postings.id, id));
    if (!posting) throw refused('not_found', { what: 'The posting', id: String(id) });
    await tx.select().from(priceLists).where(eq(priceLists.id, posting.listId)).for('no key update');
    const [already] = await tx.select({ id: postings.id }).from(postings).where(eq(postings.reversesId, id));
    if (already) throw refused('already_reversed', { id: String(id), by: String(already.id) });
    const lines = await tx
      .select()
      .from(postingLines)
      .where(eq(postingLines.postingId, id))
      .orderBy(asc(postingLines.id));
    const later = await tx.execute<{ count: string }>(sql`
      select count(*) as count from posting_lines mine
      where mine.posting_id = ${id} and exists (
        select 1 from posting_lines other join postings h on h.id = other.posting_id
        where other.list_id = mine.list_id and other.item_id = mine.item_id and other.pack_id = mine.pack_id and other.id > mine.id
          and not exists (select 1 from postings r where r.reverses_id = other.posting_id) and h.kind = 'post')`);
    const blocking = Number(later.rows[0]!.count);
    if (posting.kind === 'reverse' || blocking > 0)
      throw refused('cannot_reverse', { id: String(id), count: String(blocking) });
    const effective = posting.effective > today ? posting.effective : today;
    const earlier = await whatStoodBefore(tx, id);
    const at = context.now();
    const [made] = await tx
      .insert(postings)
      .values({
        listId: posting.listId,
        kind: 'reverse',
        reversesId: id,
        reason,
        effective,
        postedBy: person.id,
        postedAt: at,
      })
      .returning({ id: postings.id });
    await writeLines(
      tx,
      { postingId: made!.id, listId: posting.listId, effective },
      lines.map((l) => {
        const was = earlier.get(`${l.itemId}/${l.packId}`);
        return {
          itemId: l.itemId,
          packId: l.packId,
          before: l.after,
          after: l.before,
          cost: was?.cost ?? null,
          margin: was?.margin ?? null,
          steps: was?.steps ?? null,
          handSetReason: was?.handSetReason ?? null,
          handSetLastDay: was?.handSetLastDay ?? null,
        };
      }),
    );
    await audit(tx, {
      at,
      personId: person.id,
      action: 'reversed a posting',
      subject: 'postings',
      subjectId: String(made!.id),
      after: { reverses: id, lines: lines.length, reason },
    });
    return { posting: String(made!.id), lines: lines.length };
  });
}

/** What stood before the posting, with its build-up and whether it was set by hand: that comes back too. */
async function whatStoodBefore(tx: Parameters<Parameters<Context['db']['transaction']>[0]>[0], id: number) {
  const rows = await tx.execute<{
    item_id: number;
    pack_id: number;
    cost: string | null;
    margin: string | null;
    steps: typeof postingLines.$inferSelect.steps;
    reason: string | null;
    last_day: string | null;
  }>(sql`
    select mine.item_id, mine.pack_id, was.cost, was.margin, was.steps, was.hand_set_reason as reason, was.hand_set_last_day::text as last_day
    from posting_lines mine join lateral (
      select * from posting_lines o
      where o.list_id = mine.list_id and o.item_id = mine.item_id and o.pack_id = mine.pack_id and o.id < mine.id and o.effective <= mine.effective
        and (o.hand_set_last_day is null or o.hand_set_last_day >= mine.effective)
        and not exists (select 1 from posting_lines held
          where held.list_id = o.list_id and held.item_id = o.item_id and held.pack_id = o.pack_id and held.hand_set_reason is not null
            and held.effective <= mine.effective and (held.hand_set_last_day is null or held.hand_set_last_day >= mine.effective)
            and held.id > o.id and held.id < mine.id)
      order by o.effective desc, o.id desc limit 1) was on true
    where mine.posting_id = ${id}`);
  return new Map(
    rows.rows.map((r) => [
      `${r.item_id}/${r.pack_id}`,
      { cost: r.cost, margin: r.margin, steps: r.steps, handSetReason: r.reason, handSetLastDay: r.last_day },
    ]),
  );
}
