import { sql } from 'drizzle-orm';
import type { PostedStore } from '#core/workspace/posted-store.ts';
import type { Moved, PostedByItem, Prepared } from '#core/workspace/prepared.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import type { Revisions } from '../ledger/audit.ts';
import type { Queries } from '../platform/database.ts';
import { paused, turnsShared } from '../platform/turns.ts';
import type { Catalogue } from './catalogue.ts';
import { selectCatalogue } from './catalogue-rows.ts';
import { readPostedOf } from './posted-rows.ts';

/** A state of a day, and the revisions of the one that is made from it. */
export interface Since {
  readonly ws: Prepared;
  readonly day: string;
  readonly revisions: Revisions;
  readonly now: Revisions;
}

/** Beyond so many changed rows everything is read: one sorted pass is faster than many look-ups. */
const MOST_CHANGED = 20_000;

export interface NextCatalogue extends Catalogue {
  readonly moved?: Moved['items'];
}

/** Items and costs: those at hand, with what was changed since. Null: so much was, or by a load, that all is to be read. */
export async function nextCatalogue(db: Queries, { ws, day, revisions, now }: Since): Promise<NextCatalogue | null> {
  const { items, costs } = ws.workspace;
  if (revisions.catalogue === now.catalogue) return { items, costs };
  // by the record of changes: it is in the order in which changes were committed, their own numbers need not be
  const { rows: made } = await db.execute<{ change: string }>(sql`
    select distinct change from audit_entries where id > ${revisions.catalogue} limit ${MOST_CHANGED + 1}`);
  // a load bears no number
  if (made.length > MOST_CHANGED || made.some((m) => m.change === '0')) return null;
  const changes = sql`= any(${sql.param(made.map((m) => m.change))}::bigint[])`;
  const { rows } = await db.execute<{ id: number }>(sql`
    select id from items where change > 0 and change ${changes}
    union select item_id from packs where change > 0 and change ${changes}
    union select item_id from costs where change > 0 and change ${changes}
    union select coalesce(body ->> 'item_id', body ->> 'id')::int from history.versions
      where table_name in ('items', 'packs', 'costs') and until_change ${changes}
    limit ${MOST_CHANGED + 1}`);
  if (rows.length > MOST_CHANGED) return null;
  const found = await selectCatalogue(
    db,
    day,
    rows.map((r) => r.id),
  );
  const of = new Set(rows.map((r) => String(r.id)));
  return {
    items: merged(
      items,
      found.items,
      ({ id }) => of.has(id),
      ({ id }) => Number(id),
    ),
    costs: merged(
      costs,
      found.costs,
      (c) => of.has(c.item),
      ({ id }) => Number(id),
    ),
    moved: { items: of, now: found.items, costs: found.costs },
  };
}

/** Rows in the order of their numbers, with those that go taken out and new ones put in. */
function merged<T>(
  rows: readonly T[],
  now: readonly T[],
  goes: (row: T) => boolean,
  numberOf: (row: T) => number,
): readonly T[] {
  const out: T[] = [];
  let next = 0;
  for (const row of rows) {
    if (goes(row)) continue;
    while (next < now.length && numberOf(now[next]!) < numberOf(row)) out.push(now[next++]!);
    out.push(row);
  }
  return [...out, ...now.slice(next)];
}

/** Beyond so many items with posted prices all of the lists that were posted on are read: by COPY, in one sorted pass each. */
const MOST_POSTED = 4_000;

/** What was posted since: on lists, and for items, where they are few. */
interface PostedSince {
  readonly lists: readonly number[];
  /** Null: too many. */
  readonly items: readonly number[] | null;
}

async function postedSince(db: Queries, { revisions, now }: Since, most: number): Promise<PostedSince> {
  if (revisions.posted === now.posted) return { lists: [], items: [] };
  // by the record of changes: it is in the order in which changes were committed, the numbers of lines need not be
  const made = sql`(select a.subject_id::int from audit_entries a where a.id > ${revisions.posted} and a.subject = 'postings')`;
  const { rows: lists } = await db.execute<{ list: number }>(
    sql`select distinct list_id as list from postings where id in ${made} order by list_id`,
  );
  const { rows: items } = await db.execute<{ item: number }>(
    sql`select distinct l.item_id as item from posting_lines l where l.posting_id in ${made} limit ${most + 1}`,
  );
  return { lists: lists.map((r) => r.list), items: items.length > most ? null : items.map((r) => r.item) };
}

/**
 * What is posted, for the state that follows one at hand: of items that differ, or put together where many do. `read`: all
 * that is posted, of some lists. Null: nothing is kept that it could be made from. `most`: items that are looked up one by one.
 */
export async function nextPosted(
  db: Queries,
  since: Since,
  read: (lists: readonly number[]) => Promise<PostedStore>,
  most = MOST_POSTED,
): Promise<PostedByItem | PostedStore | null> {
  const { ws, day } = since;
  const turn = turnsShared();
  const { lists, items } = await postedSince(db, since, most);
  if (!items) return paused(ws.postedOfLists(new Set(lists.map(String)), await read(lists)), turn);
  const moved = new Map<string, PostedPrice[]>(items.map((item) => [String(item), []]));
  for (const p of items.length > 0 ? await readPostedOf(db, day, items) : []) moved.get(p.item)!.push(p);
  return paused(ws.postedOfItems(moved), turn);
}
