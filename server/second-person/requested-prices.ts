import { eq, inArray } from 'drizzle-orm';
import type { RequestedPrice, RequestedPrices } from '#contract/posting-requests.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { items, packs } from '../items/tables.ts';
import { revisionsOf } from '../ledger/audit.ts';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Db } from '../platform/database.ts';
import { type KeptRows, LastLookedAt, packedRows } from '../windows/kept-rows.ts';
import type { PackedBy } from '../windows/pack.ts';
import { askedWindow, headOf, placeOfIds } from '../windows/window.ts';
import { postingRequests } from './tables.ts';

const figure = (text: string | null): number => (text === null ? NaN : Number(text));
const PLACES = 4;

const COLUMNS: readonly PackedBy<RequestedPrice>[] = [
  { id: 'list', text: (r) => r.listName },
  { id: 'sku', text: (r) => r.sku },
  { id: 'name', text: (r) => r.name },
  { id: 'pack', text: (r) => r.packName },
  { id: 'before', places: PLACES, figure: (r) => figure(r.before) },
  { id: 'after', places: PLACES, figure: (r) => figure(r.after) },
  { id: 'change', places: 2, figure: (r) => figure(r.changePercent) },
  { id: 'margin', places: 2, figure: (r) => figure(r.margin) },
  { id: 'hand', text: (r) => r.handSet ?? '' },
];
const SEARCHED = ['list', 'sku', 'name', 'pack', 'hand'];

type Table = KeptRows & { readonly rows: readonly RequestedPrice[] };

/** Those that were looked at last: what is asked for never changes. */
const kept = new LastLookedAt<Table>(4);

/** Names are looked up for so many at a time. */
const SOME = 5_000;

async function read(db: Db, id: number): Promise<RequestedPrice[]> {
  const [row] = await db
    .select({ prices: postingRequests.prices, margins: postingRequests.margins })
    .from(postingRequests)
    .where(eq(postingRequests.id, id));
  const order = row?.prices;
  if (!order) return [];
  const lists = new Map(
    (await db.select({ id: priceLists.id, name: priceLists.name }).from(priceLists)).map((l) => [l.id, l.name]),
  );
  const lines = order.lists.flatMap(({ list, lines: of }) => of.map((line) => ({ list, ...line })));
  const out: RequestedPrice[] = [];
  for (let from = 0; from < lines.length; from += SOME) {
    const some = lines.slice(from, from + SOME);
    const named = await db
      .select({ pack: packs.id, packName: packs.name, sku: items.sku, name: items.name })
      .from(packs)
      .innerJoin(items, eq(items.id, packs.itemId))
      .where(
        inArray(
          packs.id,
          some.map((l) => Number(l.pack)),
        ),
      );
    const names = new Map(named.map((n) => [String(n.pack), n]));
    for (const { list, item, pack, before, after, handSet } of some) {
      const of = names.get(pack);
      out.push({
        list: String(list),
        listName: lists.get(list) ?? '',
        item,
        pack,
        sku: of?.sku ?? '',
        name: of?.name ?? '',
        packName: of?.packName ?? '',
        before: before ?? null,
        after,
        changePercent: priceChange(before ?? null, after),
        margin: row.margins[`${list}/${item}/${pack}`] ?? null,
        handSet: handSet?.reason ?? null,
      });
    }
  }
  return out;
}

/** A stretch of the prices that somebody asked to be posted. */
export async function requestedWindow(
  { db, now }: Pick<Context, 'db' | 'now'>,
  id: number,
  query: Readonly<Record<string, string>>,
): Promise<RequestedPrices> {
  const asked = askedWindow(query);
  const state = `${id}/${(await revisionsOf(db)).catalogue}`;
  const found = await kept.of(db, String(id), state, async () => {
    const rows = await read(db, id);
    return packedRows(
      COLUMNS,
      (last) => Promise.resolve(last === undefined ? rows : []),
      { state, at: now().toISOString() },
      { take: () => undefined, made: () => ({ rows }) },
    );
  });
  const { head, places } = headOf(
    asked,
    { table: found.table, columns: COLUMNS.map((c) => c.id), searched: SEARCHED },
    { ...found, stale: false },
    (order) => placeOfIds(order, query['key'], [found.items, found.packs]),
  );
  return { ...head, request: String(id), rows: Array.from(places, (place) => found.rows[place]!) };
}
