import type { Queries } from '../platform/database.ts';
import { desc, eq, sql } from 'drizzle-orm';
import type { Reversal, ReverseBody } from '#contract/lists.ts';
import type { Context } from '../platform/context.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { audit } from './audit.ts';
import { besideOthers } from './beside.ts';
import { postings } from './tables.ts';

/** Prices named in an answer; more are counted. */
const NAMED = 200;

/**
 * Of a posting, as SQL from `with` on: `standing`, its prices that no reversal has put back yet, and `changed`, those of its
 * list that later postings set and that were not put back themselves. As whole sets, so that a hundred thousand prices are
 * sought once and not one by one.
 */
const found = (id: number, list: number) => sql`
  with standing as materialized (
    (select item_id, pack_id from posting_lines where posting_id = ${id})
    except
    (select back.item_id, back.pack_id from postings r join posting_lines back on back.posting_id = r.id where r.reverses_id = ${id})),
  later as materialized (select h.id from postings h where h.list_id = ${list} and h.kind = 'post' and h.id > ${id}),
  changed as materialized (
    select posting_id, item_id, pack_id from posting_lines where posting_id in (select id from later)
    except
    select r.reverses_id, back.item_id, back.pack_id from postings r join posting_lines back on back.posting_id = r.id
    where r.reverses_id in (select id from later)),
  kept as materialized (
    select item_id, pack_id from standing intersect select item_id, pack_id from changed)`;

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
  const { listId } = await findPosting(db, id);
  const counts = await db.execute<{ all: number; changed: number }>(sql`
    ${found(id, listId)}
    select (select count(*)::int from standing) as all, (select count(*)::int from kept) as changed`);
  const { all, changed } = counts.rows[0]!;
  const free = all - changed;
  if (changed === 0) return { free, changed, inTheWay: [], postings: [] };
  const inTheWay = await db.execute<Reversal['inTheWay'][number]>(sql`
    ${found(id, listId)}
    select i.id::text as item, p.id::text as pack, i.sku, i.name, p.name as "packName", l.after as price,
      h.id::text as posting, h.effective::text as effective, h.reason
    from (select distinct on (c.item_id, c.pack_id) c.* from changed c join kept k on k.item_id = c.item_id and k.pack_id = c.pack_id
        order by c.item_id, c.pack_id, c.posting_id desc) last
      join posting_lines l on l.posting_id = last.posting_id and l.item_id = last.item_id and l.pack_id = last.pack_id
      join postings h on h.id = last.posting_id join items i on i.id = last.item_id join packs p on p.id = last.pack_id
    order by h.id desc, l.id limit ${NAMED}`);
  const byPosting = await db.execute<Reversal['postings'][number]>(sql`
    ${found(id, listId)}
    select h.id::text as posting, h.reason, count(*)::int as prices
    from changed c join kept k on k.item_id = c.item_id and k.pack_id = c.pack_id join postings h on h.id = c.posting_id
    group by h.id, h.reason order by h.id desc limit ${NAMED}`);
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
  return besideOthers(context.db, async (tx, unmoved) => {
    const posting = await findPosting(tx, id);
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
    // sorted at its end, so everything is found before anything is written
    const written = await tx.execute(sql`
      ${found(id, posting.listId)},
      back as materialized (select item_id, pack_id from standing except select item_id, pack_id from kept)
      insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after, cost, margin,
        hand_set_reason, hand_set_last_day, made_by)
      select ${made!.id}, mine.list_id, mine.item_id, mine.pack_id, ${effective}, mine.after, mine.before, was.cost, was.margin,
        was.hand_set_reason, was.hand_set_last_day, coalesce(was.made_by, was.posting_id)
      from back join posting_lines mine on mine.posting_id = ${id} and mine.item_id = back.item_id and mine.pack_id = back.pack_id
        left join lateral (${STOOD_BEFORE}) was on true
      order by mine.id`);
    const lines = written.rowCount ?? 0;
    // what was posted meanwhile is no part of what was found
    await unmoved();
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
