import { type SQL, and, asc, eq, gt, inArray } from 'drizzle-orm';
import type { PostingLine, PostingLines } from '#contract/lists.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { items, packs } from '../items/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Db } from '../platform/database.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import { type KeptRows, LastLookedAt, packedRows } from '../windows/kept-rows.ts';
import type { PackedBy } from '../windows/pack.ts';
import { askedWindow, headOf, placeOfIds } from '../windows/window.ts';
import { revisionsOf } from './audit.ts';
import { postingLines } from './tables.ts';

type Row = Omit<PostingLine, 'changePercent'> & { readonly id: number };

const figure = (text: string | null): number => (text === null ? NaN : Number(text));

const OPEN: readonly PackedBy<Row>[] = [
  { id: 'sku', text: (l) => l.sku },
  { id: 'name', text: (l) => l.name },
  { id: 'pack', text: (l) => l.packName },
  { id: 'before', places: 2, figure: (l) => figure(l.before) },
  { id: 'after', places: 2, figure: (l) => figure(l.after) },
  { id: 'change', places: 2, figure: (l) => figure(priceChange(l.before, l.after)) },
  { id: 'from', text: (l) => l.from },
  { id: 'until', text: (l) => l.lastDay ?? '' },
  { id: 'hand', text: (l) => l.handSet ?? '' },
];
const MARGIN: PackedBy<Row> = { id: 'margin', places: 2, figure: (l) => figure(l.margin) };
const SEARCHED = ['sku', 'name', 'pack', 'hand'];

/** The lines of a posting as columns; numbers of lines outgrow 32 bits. */
type PostingTable = KeptRows & { readonly ids: Float64Array };

async function read(db: Db, where: SQL | undefined, limit?: number): Promise<Row[]> {
  const query = db
    .select({
      id: postingLines.id,
      sku: items.sku,
      name: items.name,
      item: items.id,
      pack: packs.id,
      packName: packs.name,
      before: postingLines.before,
      after: postingLines.after,
      margin: postingLines.margin,
      from: postingLines.effective,
      lastDay: postingLines.lastDay,
      handSet: postingLines.handSetReason,
    })
    .from(postingLines)
    .innerJoin(items, eq(items.id, postingLines.itemId))
    .innerJoin(packs, eq(packs.id, postingLines.packId))
    .where(where)
    .orderBy(asc(postingLines.id));
  const rows = await (limit === undefined ? query : query.limit(limit));
  return rows.map((r) => ({ ...r, item: String(r.item), pack: String(r.pack) }));
}

/** Lines are read so many at a time. */
const SOME = 2_000;

/** Postings that were looked at last: their lines never change. */
const kept = new LastLookedAt<PostingTable>(6);

async function tableOf({ db, now }: Pick<Context, 'db' | 'now'>, posting: number): Promise<PostingTable> {
  // what items are called may
  const state = `${posting}/${(await revisionsOf(db)).catalogue}`;
  return kept.of(db, String(posting), state, () => {
    const ids: number[] = [];
    return packedRows(
      [...OPEN, MARGIN],
      (last) => read(db, and(eq(postingLines.postingId, posting), gt(postingLines.id, last?.id ?? 0)), SOME),
      { state, at: now().toISOString() },
      { take: ({ id }: Row) => ids.push(id), made: () => ({ ids: Float64Array.from(ids) }) },
    );
  });
}

/** A stretch of the lines of a posting. */
export async function postingWindow(
  context: Pick<Context, 'db' | 'now'>,
  posting: number,
  query: Readonly<Record<string, string>>,
  showCost: boolean,
): Promise<PostingLines> {
  const asked = askedWindow(query);
  const found = await tableOf(context, posting);
  const columns = [...OPEN, ...(showCost ? [MARGIN] : [])].map((c) => c.id);
  const of: Arrangeable = { table: found.table, columns, searched: SEARCHED };
  const { head, places } = headOf(asked, of, { ...found, stale: false }, (order) =>
    placeOfIds(order, query['key'], [found.items, found.packs]),
  );
  const ids = Array.from(places, (place) => found.ids[place]!);
  const rows = new Map(
    ids.length === 0 ? [] : (await read(context.db, inArray(postingLines.id, ids))).map((r) => [r.id, r]),
  );
  return {
    ...head,
    rows: ids.map((id) => {
      const { id: _, margin, ...line } = rows.get(id)!;
      return { ...line, margin: showCost ? margin : null, changePercent: priceChange(line.before, line.after) };
    }),
  };
}
