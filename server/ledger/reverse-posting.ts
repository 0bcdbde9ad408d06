import { type SQL, desc, eq, sql } from 'drizzle-orm';
import type { Reversal, ReverseBody } from '#contract/lists.ts';
import type { Context } from '../platform/context.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { audit } from './audit.ts';
import { besideOthers } from './beside.ts';
import { postings } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** Prices named in an answer; more are counted. */
const NAMED = 200;

/** Prices of a posting by item and pack; null: all of it. */
type Chosen = ReverseBody['lines'];

const among = (chosen: Chosen): SQL =>
  chosen === null
    ? sql``
    : sql`and (item_id, pack_id) in (select * from unnest(
        ${sql.param(chosen.map((c) => Number(c.item)))}::int[], ${sql.param(chosen.map((c) => Number(c.pack)))}::int[]))`;

/**
 * Of a posting, as SQL from `with` on: `standing`, those of the chosen prices that no reversal has put back yet, and
 * `changed`, those of its list that later postings set and that were not put back themselves. As whole sets, so that a
 * hundred thousand prices are sought once and not one by one.
 */
const found = (id: number, list: number, chosen: Chosen) => sql`
  with standing as materialized (
    (select item_id, pack_id from posting_lines where posting_id = ${id} ${among(chosen)})
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

/** What was due on a day without a line, with what made it, whether it was typed and until when. As SQL on `posting_lines mine`. */
const dueWithout = (day: SQL) => sql`
  select * from posting_lines o
  where o.list_id = mine.list_id and o.item_id = mine.item_id and o.pack_id = mine.pack_id and o.id < mine.id and o.effective <= ${day}
    and (o.last_day is null or o.last_day >= ${day})
    and not exists (select 1 from posting_lines held
      where held.list_id = o.list_id and held.item_id = o.item_id and held.pack_id = o.pack_id and held.hand_set_reason is not null
        and held.effective <= ${day} and (held.last_day is null or held.last_day >= ${day})
        and held.id > o.id and held.id < mine.id)
  order by o.effective desc, o.id desc limit 1`;

/**
 * Joins whole sets, whatever the database believes of their size: right after a large posting it believes that there is next to
 * nothing of it, and would go through a hundred thousand prices for each of a hundred thousand.
 */
const inSets = <T>(db: Queries, work: (tx: Tx) => Promise<T>): Promise<T> =>
  db.transaction(async (tx) => {
    await tx.execute(sql`set local enable_nestloop = off`);
    const done = await work(tx);
    await tx.execute(sql`set local enable_nestloop = on`);
    return done;
  });

async function findPosting(db: Queries, id: number) {
  const [posting] = await db.select().from(postings).where(eq(postings.id, id));
  if (!posting) throw refused('not_found', { what: 'The posting', id: String(id) });
  if (posting.kind === 'reverse') throw refused('is_a_reversal', { id: String(id) });
  return posting;
}

/** What reversing a posting, or some of its prices, would come to: how many go back, and which do not because of what came after. */
export async function reversalOf(db: Queries, id: number, chosen: Chosen): Promise<Reversal> {
  const { listId } = await findPosting(db, id);
  const these = found(id, listId, chosen);
  const counts = await db.execute<{ all: number; changed: number }>(sql`
    ${these}
    select (select count(*)::int from standing) as all, (select count(*)::int from kept) as changed`);
  const { all, changed } = counts.rows[0]!;
  const free = all - changed;
  if (changed === 0) return { free, changed, inTheWay: [], postings: [] };
  const [inTheWay, byPosting] = await inSets(db, async (db) => [
    await db.execute<Reversal['inTheWay'][number]>(sql`
    ${these}
    select i.id::text as item, p.id::text as pack, i.sku, i.name, p.name as "packName", l.after as price,
      h.id::text as posting, h.effective::text as effective, h.reason
    from (select distinct on (c.item_id, c.pack_id) c.* from changed c join kept k on k.item_id = c.item_id and k.pack_id = c.pack_id
        order by c.item_id, c.pack_id, c.posting_id desc) last
      join posting_lines l on l.posting_id = last.posting_id and l.item_id = last.item_id and l.pack_id = last.pack_id
      join postings h on h.id = last.posting_id join items i on i.id = last.item_id join packs p on p.id = last.pack_id
    order by h.id desc, l.id limit ${NAMED}`),
    await db.execute<Reversal['postings'][number]>(sql`
    ${these}
    select h.id::text as posting, h.reason, count(*)::int as prices
    from changed c join kept k on k.item_id = c.item_id and k.pack_id = c.pack_id join postings h on h.id = c.posting_id
    group by h.id, h.reason order by h.id desc limit ${NAMED}`),
  ]);
  return { free, changed, inTheWay: inTheWay.rows, postings: byPosting.rows };
}

/** A reversal that is written, and not yet in the record of changes. */
export interface WrittenReversal {
  readonly posting: number;
  readonly lines: number;
  /** Tells the record of changes: once nobody may change anything any more. */
  record(): Promise<void>;
}

/** Who reverses prices, when, and how. */
export interface Reverses extends ReverseBody {
  readonly person: number;
  readonly at: Date;
  readonly today: string;
}

/**
 * Writes the opposite of a posting: from its own day on, or from today where that day has gone by, its prices are what is due
 * without it; days gone by stay as they were. Refused where a later posting has changed one of the prices, unless these are
 * left as they are; what is left can be reversed later.
 */
export async function writeReversal(tx: Tx, id: number, how: Reverses): Promise<WrittenReversal> {
  const { reason, leaveChanged, lines: chosen, person, at, today } = how;
  const posting = await findPosting(tx, id);
  const { free, changed, postings: later } = await reversalOf(tx, id, chosen);
  if (free + changed === 0) {
    const [by] = await tx
      .select({ id: postings.id })
      .from(postings)
      .where(eq(postings.reversesId, id))
      .orderBy(desc(postings.id))
      .limit(1);
    throw by
      ? refused('already_reversed', { id: String(id), by: String(by.id) })
      : refused('not_found', { what: `In posting ${id} a price`, id: 'as chosen' });
  }
  if (free === 0 || (changed > 0 && !leaveChanged))
    throw refused('cannot_reverse', {
      id: String(id),
      prices: changed === 1 ? 'one of its prices' : `${changed} of its prices`,
      postings: `posting ${later.map((l) => l.posting).join(', ')}`,
    });
  const effective = posting.effective > today ? posting.effective : today;
  const [made] = await tx
    .insert(postings)
    .values({
      listId: posting.listId,
      kind: 'reverse',
      reversesId: id,
      reason,
      effective,
      postedBy: person,
      postedAt: at,
    })
    .returning({ id: postings.id });
  const from = sql`${effective}::date`;
  // each price is sought by an index, whatever the database believes of how many there are
  const ofList = (counts: SQL) => sql`back join lateral (select * from posting_lines o
    where o.list_id = ${posting.listId} and o.item_id = back.item_id and o.pack_id = back.pack_id and ${counts} offset 0) l on true`;
  // From then on, day by day on which anything of the price begins or ends, what is due without the posting: a typed price
  // that came back would else hold against what was to follow it, and one that ends would leave what was reversed.
  // Sorted at its end, so everything is found before anything is written.
  await tx.execute(sql`
    ${found(id, posting.listId, chosen)},
    back as materialized (select item_id, pack_id from standing except select item_id, pack_id from kept),
    days as (
      select item_id, pack_id, ${from} as day, true as begins from back
      union all select l.item_id, l.pack_id, l.effective, true from ${ofList(sql`o.effective > ${from}`)}
      union all select l.item_id, l.pack_id, l.last_day + 1, false from ${ofList(sql`o.last_day >= ${from}`)}),
    due as (
      select mine.id as mine, mine.item_id, mine.pack_id, d.day, d.begins, was.id as was,
        case when mine.hand_set_reason is null and was.effective > mine.effective then was.after else mine.after end as stood,
        was.after, was.margin, was.hand_set_reason, was.last_day, coalesce(was.made_by, was.posting_id) as made_by,
        lag(was.id, 1, -1) over price as was_before
      from (select item_id, pack_id, day, bool_or(begins) as begins from days group by item_id, pack_id, day) d
        join lateral (select * from posting_lines o
          where o.posting_id = ${id} and o.item_id = d.item_id and o.pack_id = d.pack_id offset 0) mine on true
        left join lateral (${dueWithout(sql`d.day`)}) was on true
      window price as (partition by mine.id order by d.day))
    insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after, margin, hand_set_reason, last_day, made_by)
    select ${made!.id}, ${posting.listId}, item_id, pack_id, day, case when day = ${from} then stood else lag(after) over price end, after,
      margin, hand_set_reason,
      case when hand_set_reason is not null or last_day is not null then least(last_day, lead(day) over price - 1) end, made_by
    from due where begins or was is distinct from was_before
    window price as (partition by mine order by day)
    order by mine, day`);
  const { rows: written } = await tx.execute<{ lines: number }>(
    sql`select count(*)::int as lines from posting_lines where posting_id = ${made!.id} and effective = ${from}`,
  );
  const { lines } = written[0]!;
  return {
    posting: made!.id,
    lines,
    record: () =>
      audit(tx, {
        at,
        personId: person,
        action: 'reversed a posting',
        subject: 'postings',
        subjectId: String(made!.id),
        after: { reverses: id, lines, left: changed, reason },
      }),
  };
}

/** Undoes a posting, or some of its prices, by an opposite one. */
export async function reversePosting(
  context: Context,
  person: SignedIn,
  id: number,
  body: ReverseBody,
  today: string,
): Promise<{ posting: string; lines: number }> {
  return besideOthers(context.db, async (tx, unmoved) => {
    const written = await writeReversal(tx, id, { ...body, person: person.id, at: context.now(), today });
    // what was posted meanwhile is no part of what was found
    await unmoved();
    await written.record();
    return { posting: String(written.posting), lines: written.lines };
  });
}
