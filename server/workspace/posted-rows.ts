import { type SQL, sql } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { type PostedPrice, heldUntil } from '#core/lists/posted-price.ts';
import { type PostedStore, PostedStoreBuilder } from '#core/workspace/posted-store.ts';
import { mayBeInForce, undone } from '../ledger/in-force.ts';
import { priceLists } from '../lists/tables.ts';
import { copyOut, plainText } from '../platform/copy.ts';
import type { Queries } from '../platform/database.ts';
import { paused, turnsShared } from '../platform/turns.ts';

const id = (n: number): string => String(n);

/** The posting of each price of some items that is in force on a day. */
export async function readPostedOf(
  db: Queries,
  day: string,
  items: readonly number[],
): Promise<readonly PostedPrice[]> {
  // by list and item: so the index of prices finds them among millions
  const of = sql`and l.list_id in (select id from price_lists) and l.item_id = any(${sql.param(items)}::int[])`;
  return readLines(db, day, of, sharedTexts());
}

/** The posting of each price that is in force on a day, list after list: a million rows at once would stand in memory twice. */
async function* postedLists(
  db: Queries,
  day: string,
  only?: readonly number[],
): AsyncGenerator<readonly PostedPrice[]> {
  const same = sharedTexts();
  const rows = db.select({ id: priceLists.id }).from(priceLists);
  const lists = only ?? (await rows.orderBy(priceLists.id)).map((r) => r.id);
  for (const list of lists) yield await readLines(db, day, sql`and l.list_id = ${list}`, same);
}

/** The posting of each price that is in force on a day. */
export async function readPosted(db: Queries, day: string): Promise<readonly PostedPrice[]> {
  const out: PostedPrice[] = [];
  for await (const lines of postedLists(db, day)) for (const line of lines) out.push(line);
  return out;
}

/** The same as columns. `only`: of these lists. */
export async function storePosted(db: Queries, day: string, only?: readonly number[]): Promise<PostedStore> {
  const out = new PostedStoreBuilder();
  for await (const lines of postedLists(db, day, only)) for (const line of lines) out.add(line);
  return out.made();
}

/** One text for all that are the same: of a million prices most texts are. */
function sharedTexts(): (text: string) => string {
  const known = new Map<string, string>();
  return (text) => {
    const one = known.get(text);
    if (one === undefined) known.set(text, text);
    return one ?? text;
  };
}

async function readLines(
  db: Queries,
  day: string,
  which: SQL,
  same: (text: string) => string,
): Promise<readonly PostedPrice[]> {
  const posted = await db.execute<{
    list: number;
    item: number;
    pack: number;
    price: string | null;
    from: string;
    posting: number;
    entry: string;
    reason: string | null;
    last_day: string | null;
    by: string;
    undone: boolean;
  }>(sql`
    select distinct on (l.list_id, l.item_id, l.pack_id)
      l.list_id as list, l.item_id as item, l.pack_id as pack, l.after as price, l.effective::text as from, l.posting_id as posting, l.id as entry,
      l.hand_set_reason as reason, l.last_day::text as last_day, p.name as by, ${sql.raw(undone('l'))} as undone
    from posting_lines l join postings h on h.id = l.posting_id join people p on p.id = h.posted_by
    where ${sql.raw(mayBeInForce(day))} ${which}
    order by l.list_id, l.item_id, l.pack_id, l.effective desc, l.id desc`);
  const standing = posted.rows.filter((p) => !p.undone);
  return standing.map((p) => ({
    list: same(id(p.list)),
    item: same(id(p.item)),
    pack: same(id(p.pack)),
    price: p.price === null ? null : same(p.price),
    from: same(p.from),
    posting: same(id(p.posting)),
    entry: Number(p.entry),
    ...heldUntil(p.reason === null ? null : { reason: p.reason, by: p.by }, p.last_day),
  }));
}

type PostedFields = [string, string, string, string, string, string, string, string, string];

/** The same by COPY, on a connection of its own: of a million prices twice as fast. */
export async function copyPosted(client: PoolClient, day: string, only?: readonly number[]): Promise<PostedStore> {
  const out = new PostedStoreBuilder();
  const { rows: all } = await client.query<{ id: number }>('select id from price_lists order by id');
  const lists = only ?? all.map((r) => r.id);
  const { rows: heads } = await client.query<{ id: number; by: string }>(
    'select h.id, p.name as by from postings h join people p on p.id = h.posted_by',
  );
  const postedBy = new Map(heads.map((h) => [String(h.id), h.by]));
  const text = (field: string) => (field === '\\N' ? null : plainText(field));
  const turn = turnsShared();
  for (const of of lists) {
    const list = id(of);
    // the index is walked backwards, so nothing is sorted
    const query = `select distinct on (item_id, pack_id) item_id, pack_id, after, effective, posting_id, id, hand_set_reason, last_day, (${undone('l')})::int
      from posting_lines l where list_id = ${of} and ${mayBeInForce(day)}
      order by item_id desc, pack_id desc, effective desc, id desc`;
    for await (const lines of copyOut(client, query)) {
      for (const line of lines) {
        const [item, pack, price, from, posting, entry, reason, last, gone] = line.split('\t') as PostedFields;
        if (gone === '1') continue;
        const typed = text(reason);
        out.add({
          list,
          item,
          pack,
          price: price === '\\N' ? null : price,
          from,
          posting,
          entry: Number(entry),
          ...heldUntil(typed === null ? null : { reason: typed, by: postedBy.get(posting) ?? '' }, text(last)),
        });
      }
      await turn();
    }
  }
  return paused(out.making(), turn);
}
