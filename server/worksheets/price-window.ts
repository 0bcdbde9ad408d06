import { type SQL, and, asc, eq, inArray, sql } from 'drizzle-orm';
import {
  WORKSHEET_SHOWS,
  type WorksheetPrice,
  type WorksheetPrices,
  type WorksheetShows,
  remarkOf,
} from '#contract/worksheets.ts';
import { FLAGS } from '#core/bulk/price-rows.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import { GUARD_KINDS } from '#core/recipes/recipe.ts';
import { items, packs } from '../items/tables.ts';
import { revisionsOf } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import type { Db } from '../platform/database.ts';
import type { Arrangeable } from '../windows/arrange.ts';
import { type KeptRows, LastLookedAt, packedRows } from '../windows/kept-rows.ts';
import type { PackedBy } from '../windows/pack.ts';
import { askedWindow, headOf, placeOfIds } from '../windows/window.ts';
import { worksheetPrices } from './tables.ts';
import type { PriceFlag } from '#contract/list-row.ts';

const p = worksheetPrices;

const flagOf = (flag: (typeof FLAGS)[number]): PriceFlag | null =>
  flag === 'bit' || flag === 'no_ending_fits' || flag === 'floor_above_ceiling' ? flag : null;

const figure = (text: string | null): number => (text === null ? NaN : Number(text));

const columns = (places: number): readonly PackedBy<WorksheetPrice>[] => [
  { id: 'sku', text: (r) => r.sku },
  { id: 'name', text: (r) => r.name },
  { id: 'pack', text: (r) => r.packName },
  { id: 'before', places, figure: (r) => figure(r.before) },
  { id: 'after', places, figure: (r) => figure(r.after) },
  { id: 'change', places: 2, figure: (r) => figure(r.changePercent) },
  { id: 'markup', places: 2, figure: (r) => figure(r.markup) },
  { id: 'margin', places: 2, figure: (r) => figure(r.margin) },
  { id: 'remark', text: remarkOf },
];
const SEARCHED = ['sku', 'name', 'pack', 'remark'];

const compare = (a: string | null, b: string | null): number => (a === null || b === null ? NaN : dec(a).cmp(dec(b)));

/** Which prices each look shows. */
const FITS: Readonly<Record<WorksheetShows, (r: WorksheetPrice) => boolean>> = {
  changed: (r) => (r.before === null || r.after === null ? r.before !== r.after : compare(r.before, r.after) !== 0),
  rises: (r) => compare(r.after, r.before) > 0,
  falls: (r) => compare(r.after, r.before) < 0,
  first: (r) => r.before === null && r.after !== null,
  guarded: (r) => r.flag !== null,
  held: (r) => r.flag === 'floor_above_ceiling',
  without: (r) => r.after === null,
  all: () => true,
};
const BITS = Object.fromEntries(WORKSHEET_SHOWS.map((show, n) => [show, 1 << n])) as Record<WorksheetShows, number>;
const maskOf = (r: WorksheetPrice): number =>
  WORKSHEET_SHOWS.reduce((mask, show) => (FITS[show](r) ? mask | BITS[show] : mask), 0);

interface ListOfWorksheet {
  readonly worksheet: number;
  readonly list: number;
  /** Of its prices. */
  readonly decimals: number;
  /** When its computation ended; null: it has not. */
  readonly ended: string | null;
}

async function read(
  db: Db,
  { worksheet, list, decimals }: ListOfWorksheet,
  where: SQL | undefined,
  limit: number,
): Promise<WorksheetPrice[]> {
  const rows = await db
    .select({ price: p, sku: items.sku, name: items.name, packName: packs.name })
    .from(p)
    .innerJoin(items, eq(items.id, p.itemId))
    .innerJoin(packs, eq(packs.id, p.packId))
    .where(and(eq(p.worksheetId, worksheet), eq(p.listId, list), where))
    .orderBy(asc(p.itemId), asc(p.packId))
    .limit(limit);
  const shown = (text: string | null) => text && money(dec(text), decimals);
  return rows.map(({ price, sku, name, packName }) => ({
    item: String(price.itemId),
    pack: String(price.packId),
    sku,
    name,
    packName,
    before: shown(price.before),
    after: shown(price.after),
    changePercent: price.after === null ? null : priceChange(price.before, price.after),
    markup: price.markup,
    margin: price.margin,
    flag: flagOf(FLAGS[price.flag]!),
    guards: GUARD_KINDS.filter((_, i) => price.guards & (1 << i)).map((kind) => GUARD_NAMES[kind]),
    wouldFallTo: shown(price.wouldFallTo),
    reason: price.reason,
  }));
}

/** Prices are read so many at a time. */
const SOME = 2_000;

type PriceTable = KeptRows & { readonly masks: Uint16Array };

/** Lists of worksheets that were looked at last: what is proposed never changes, another proposal is another worksheet. */
const kept = new LastLookedAt<PriceTable>(6);

async function tableOf({ db, now }: Pick<Context, 'db' | 'now'>, of: ListOfWorksheet): Promise<PriceTable> {
  const name = `${of.worksheet}/${of.list}`;
  // before its end there are none: what is written down of it may be taken back
  // what items are called may
  const state = `${name}/${of.ended}/${(await revisionsOf(db)).catalogue}`;
  return kept.of(db, name, state, () => {
    const masks: number[] = [];
    const after = (last: WorksheetPrice | undefined) =>
      last && sql`(${p.itemId}, ${p.packId}) > (${Number(last.item)}, ${Number(last.pack)})`;
    return packedRows(
      columns(of.decimals),
      (last) => (of.ended === null ? Promise.resolve([]) : read(db, of, after(last), SOME)),
      { state, at: now().toISOString() },
      { take: (row: WorksheetPrice) => masks.push(maskOf(row)), made: () => ({ masks: Uint16Array.from(masks) }) },
    );
  });
}

/** A stretch of the prices proposed for a list. */
export async function worksheetWindow(
  context: Pick<Context, 'db' | 'now'>,
  list: ListOfWorksheet,
  query: Readonly<Record<string, string>>,
): Promise<WorksheetPrices> {
  const asked = askedWindow(query);
  const found = await tableOf(context, list);
  const of: Arrangeable = {
    table: found.table,
    columns: columns(list.decimals).map((c) => c.id),
    searched: SEARCHED,
    looks: { masks: found.masks, bits: BITS },
  };
  const { head, places } = headOf(asked, of, { ...found, stale: false }, (order) =>
    placeOfIds(order, query['key'], [found.items, found.packs]),
  );
  const keys = Array.from(places, (place) => [found.items[place]!, found.packs[place]!] as const);
  const among = and(
    inArray(p.itemId, [...new Set(keys.map(([item]) => item))]),
    inArray(
      p.packId,
      keys.map(([, pack]) => pack),
    ),
  );
  const rows = new Map(
    keys.length === 0
      ? []
      : (await read(context.db, list, among, 2 * keys.length + SOME)).map((r) => [`${r.item}-${r.pack}`, r]),
  );
  return { ...head, rows: keys.map(([item, pack]) => rows.get(`${item}-${pack}`)!) };
}
