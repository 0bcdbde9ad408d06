import { type Queries, inTransaction } from '../platform/database.ts';
import { desc, eq, sql } from 'drizzle-orm';
import type { Reversal, ReverseBody } from '#contract/lists.ts';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { audit } from './audit.ts';
import { postings } from './tables.ts';

/** Prices named in an answer; more are counted. */
const NAMED = 200;

/** Its prices that no reversal has put back yet, as SQL on `posting_lines mine`. */
const standing = (id: number) => sql`mine.posting_id = ${id} and not exists (
  select 1 from postings r join posting_lines back on back.posting_id = r.id
  where r.reverses_id = mine.posting_id and back.item_id = mine.item_id and back.pack_id = mine.pack_id)`;

/** Lines of later postings that have changed the same price and were not put back themselves. */
const laterLines = sql`select other.* from posting_lines other join postings h on h.id = other.posting_id
  where other.list_id = mine.list_id and other.item_id = mine.item_id and other.pack_id = mine.pack_id and other.id > mine.id and h.kind = 'post'
    and not exists (select 1 from postings r join posting_lines back on back.posting_id = r.id
      where r.reverses_id = other.posting_id and back.item_id = other.item_id and back.pack_id = other.pack_id)`;

/** What stood before a line, with what made it and whether it was set by hand: that comes back too. As SQL on `posting_lines mine`. */
const STOOD_BEFORE = sql`
  select * from posting_lines o
  where o.list_id = mine.list_id and o.item_id = mine.item_id and o.pack_id = mine.pack_id and o.id < mine.id and o.effective <= mine.effective
    and (o.hand_set_last_day is null or o.hand_set_last_day >= mine.effective)
    and not exists (select 1 from posting_lines held
      where held.list_id = o.list_id and held.item_id = o.item_id and held.pack_id = o.pack_id and held.hand_set_reason is not null
        and held.effective <= mine.effective and (held.hand_set_last_day is null or held.hand_set_last_day >= mine.effective)
        and held.id > o.id and held.id < mine.id)
  order by o.effective desc, o.id desc limit 1`;

async function findPosting(db: Queries, id: number) {
  const [posting] = await db.select().from(postings).where(eq(postings.id, id));
  if (!posting) throw refused('not_found', { what: 'The posting', id: String(id) });
  if (posting.kind === 'reverse') throw refused('is_a_reversal', { id: String(id) });
  return posting;
}

/** What reversing a posting would come to: how many prices go back, and which do not because of what came after it. */
export async function reversalOf(db: Queries, id: number): Promise<Reversal> {
  await findPosting(db, id);
  const counts = await db.execute<{ free: number; changed: number }>(sql`
    select (count(*) filter (where not later))::int as free, (count(*) filter (where later))::int as changed
    from (select exists (${laterLines}) as later from posting_lines mine where ${standing(id)}) found`);
  const { free, changed } = counts.rows[0]!;
  if (changed === 0) return { free, changed, inTheWay: [], postings: [] };
  const inTheWay = await db.execute<Reversal['inTheWay'][number]>(sql`
    select i.id::text as item, p.id::text as pack, i.sku, i.name, p.name as "packName", later.after as price,
      h.id::text as posting, h.effective::text as effective, h.reason
    from posting_lines mine join lateral (${laterLines} order by other.id desc limit 1) later on true
      join postings h on h.id = later.posting_id join items i on i.id = mine.item_id join packs p on p.id = mine.pack_id
    where ${standing(id)} order by h.id desc, mine.id limit ${NAMED}`);
  const byPosting = await db.execute<Reversal['postings'][number]>(sql`
    select h.id::text as posting, h.reason, count(*)::int as prices
    from posting_lines mine join lateral (${laterLines}) later on true join postings h on h.id = later.posting_id
    where ${standing(id)} group by h.id, h.reason order by h.id desc limit ${NAMED}`);
  return { free, changed, inTheWay: inTheWay.rows, postings: byPosting.rows };
}

/**
 * Undoes a posting by an opposite one: every price goes back to what it was before. Begins on the posting's own day,
 * or today where that day has gone by, so that days gone by stay as they were. Refused where a later posting has
 * changed one of the prices, unless these are left as they are; what is left can be reversed later.
 */
export async function reversePosting(
  context: Context,
  person: SignedIn,
  id: number,
  { reason, leaveChanged }: ReverseBody,
  today: string,
): Promise<{ posting: string; lines: number }> {
  return inTransaction(context.db, async (tx) => {
    const posting = await findPosting(tx, id);
    await tx.select().from(priceLists).where(eq(priceLists.id, posting.listId)).for('no key update');
    const { free, changed, postings: later } = await reversalOf(tx, id);
    if (free + changed === 0) {
      const [by] = await tx
        .select({ id: postings.id })
        .from(postings)
        .where(eq(postings.reversesId, id))
        .orderBy(desc(postings.id))
        .limit(1);
      throw refused('already_reversed', { id: String(id), by: String(by?.id) });
    }
    if (free === 0 || (changed > 0 && !leaveChanged))
      throw refused('cannot_reverse', {
        id: String(id),
        prices: changed === 1 ? 'one of its prices' : `${changed} of its prices`,
        postings: `posting ${later.map((l) => l.posting).join(', ')}`,
      });
    const effective = posting.effective > today ? posting.effective : today;
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
    // found beforehand: else every line would be sought among those that are just being written
    const written = await tx.execute(sql`
      with mine as materialized (
        select mine.* from posting_lines mine where ${standing(id)} and not exists (${laterLines}))
      insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after, cost, margin,
        hand_set_reason, hand_set_last_day, made_by)
      select ${made!.id}, mine.list_id, mine.item_id, mine.pack_id, ${effective}, mine.after, mine.before, was.cost, was.margin,
        was.hand_set_reason, was.hand_set_last_day, coalesce(was.made_by, was.posting_id)
      from mine left join lateral (${STOOD_BEFORE}) was on true order by mine.id`);
    const lines = written.rowCount ?? 0;
    await audit(tx, {
      at,
      personId: person.id,
      action: 'reversed a posting',
      subject: 'postings',
      subjectId: String(made!.id),
      after: { reverses: id, lines, left: changed, reason },
    });
    return { posting: String(made!.id), lines };
  });
}
