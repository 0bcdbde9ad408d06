import { and, asc, desc, eq, inArray, isNotNull, sql } from 'drizzle-orm';
import { type CostChange, type CostSupplier, type SheetCounts, type SheetSummary, needsLook } from '#contract/costs.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { items, packs } from '../items/tables.ts';
import { people } from '../people/tables.ts';
import type { Queries } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { suppliers } from '../setup/tables.ts';
import { selectCatalogue } from '../workspace/catalogue-rows.ts';
import { loadRules } from '../workspace/load-workspace.ts';
import { selfPostingsOf } from '../worksheets/self-posting.ts';
import { CodeBook, compareRows } from './compare-sheet.ts';
import type { Learnt } from './propose-match.ts';
import { readRows } from './read-rows.ts';
import { type Source, readTable, unpackPages } from './read-table.ts';
import { type KeptOutcome, costSheets, followedSuppliers, supplierCodes } from './tables.ts';
import { UnreadableSheet } from './unreadable.ts';

export type Sheet = typeof costSheets.$inferSelect;

/** More are counted, not listed. */
const MOST_FAULTS = 1000;
const MOST_GONE = 500;

function refuseUnreadable(error: unknown): never {
  if (error instanceof UnreadableSheet) throw refused('sheet_unreadable', { why: error.message });
  throw error;
}

/** A file that cannot be read is refused with the reason. */
export function readable<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    return refuseUnreadable(error);
  }
}
export const readableSoon = <T>(work: Promise<T>): Promise<T> => work.catch(refuseUnreadable);

export const sourceOf = (sheet: Pick<Sheet, 'content' | 'pages'>): Source => ({
  content: sheet.content,
  pages: unpackPages(sheet.pages),
});

const NO_COUNTS: SheetCounts = {
  new: 0,
  up: 0,
  down: 0,
  unchanged: 0,
  unknown: 0,
  faulty: 0,
  leftOut: 0,
  held: 0,
  taken: 0,
  suspicious: 0,
};

export async function listSheets(db: Queries, only?: number): Promise<SheetSummary[]> {
  const rows = await db
    .select({
      id: costSheets.id,
      version: costSheets.version,
      supplier: costSheets.supplierId,
      supplierName: suppliers.name,
      fileName: costSheets.fileName,
      origin: costSheets.origin,
      bytes: sql<number>`octet_length(${costSheets.content})`,
      state: costSheets.state,
      arrivedAt: costSheets.arrivedAt,
      broughtBy: people.name,
      takenInAt: costSheets.takenInAt,
      byItself: costSheets.byItself,
      reason: costSheets.reason,
      counts: costSheets.counts,
    })
    .from(costSheets)
    .innerJoin(suppliers, eq(suppliers.id, costSheets.supplierId))
    .innerJoin(people, eq(people.id, costSheets.broughtBy))
    .where(only === undefined ? undefined : eq(costSheets.id, only))
    .orderBy(desc(costSheets.arrivedAt), desc(costSheets.id))
    .limit(200);
  return rows.map((r) => ({
    ...r,
    id: String(r.id),
    supplier: String(r.supplier),
    arrivedAt: r.arrivedAt.toISOString(),
    takenInAt: r.takenInAt?.toISOString() ?? null,
    counts: r.counts ?? NO_COUNTS,
  }));
}

/** The suppliers as the inbox shows them. */
export async function costSuppliers(db: Queries): Promise<CostSupplier[]> {
  const rows = await db
    .select({
      id: suppliers.id,
      name: suppliers.name,
      currency: suppliers.currency,
      follow: sql<boolean>`${followedSuppliers.supplierId} is not null`,
      lastArrival: sql<Date | null>`max(${costSheets.arrivedAt})`.mapWith(costSheets.arrivedAt),
      waiting: sql<number>`count(*) filter (where ${costSheets.state} in ('waiting', 'part_taken'))::int`,
    })
    .from(suppliers)
    .leftJoin(costSheets, eq(costSheets.supplierId, suppliers.id))
    .leftJoin(followedSuppliers, eq(followedSuppliers.supplierId, suppliers.id))
    .groupBy(suppliers.id, followedSuppliers.supplierId)
    .orderBy(asc(suppliers.name));
  const posts = await selfPostingsOf(db);
  return rows.map((r) => ({
    ...r,
    id: String(r.id),
    lastArrival: r.lastArrival?.toISOString() ?? null,
    posts: posts.filter((p) => p.supplier === r.id).map(({ list, name, most }) => ({ list: String(list), name, most })),
  }));
}

export async function findSheet(db: Queries, id: number): Promise<Sheet> {
  const [sheet] = await db.select().from(costSheets).where(eq(costSheets.id, id));
  if (!sheet) throw refused('not_found', { what: 'The cost sheet', id: String(id) });
  return sheet;
}

/** How the sheet of this supplier, of the same origin, was read that a person looked at last. */
export async function learntOf(db: Queries, supplier: number, origin: Sheet['origin']): Promise<Learnt | null> {
  const [last] = await db
    .select({
      id: costSheets.id,
      fileName: costSheets.fileName,
      arrivedAt: costSheets.arrivedAt,
      match: costSheets.match,
      header: costSheets.header,
    })
    .from(costSheets)
    .where(
      and(
        eq(costSheets.supplierId, supplier),
        eq(costSheets.origin, origin),
        inArray(costSheets.state, ['part_taken', 'taken_in']),
        isNotNull(costSheets.header),
      ),
    )
    .orderBy(desc(costSheets.takenInAt), desc(costSheets.id))
    .limit(1);
  if (!last) return null;
  const like = { id: String(last.id), fileName: last.fileName, arrivedAt: last.arrivedAt.toISOString() };
  return { like, match: last.match, header: last.header! };
}

/** What the rows of a supplier's sheets are held against. */
export interface HeldAgainst {
  readonly ws: Prepared;
  readonly codes: CodeBook;
}

export const heldAgainst = async (db: Queries, supplier: number, today: string): Promise<HeldAgainst> => ({
  codes: await codeBook(db, supplier),
  ws: new Prepared(await loadRules(db, today, await selectCatalogue(db, '9999-12-31'))),
});

/** Reads the sheet as its match says and compares every row with what is known: nothing is written. */
export async function examine(db: Queries, sheet: Sheet, today: string, against?: HeldAgainst) {
  const [supplier] = await db.select().from(suppliers).where(eq(suppliers.id, sheet.supplierId));
  const table = readable(() => readTable(sourceOf(sheet), sheet.match));
  const asRead = readRows(table, sheet.match, supplier!.currency, sheet.corrections);
  const { ws, codes } = against ?? (await heldAgainst(db, sheet.supplierId, today));
  const read = { ...asRead, rows: asRead.rows.map((r) => codes.settled(r)) };
  const decided = Object.entries(sheet.corrections).map(([row, c]) => [Number(row), c!] as const);
  const compared = compareRows(ws, read.rows, codes, {
    supplier: String(sheet.supplierId),
    today,
    addNew: sheet.match.newItems === 'add',
    added: new Set(decided.filter(([, c]) => c.add).map(([row]) => row)),
  });
  const taken = new Map((sheet.outcome?.changes ?? []).filter((c) => c.taken).map((c) => [c.row, c]));
  const changes = compared.map((c): CostChange => {
    const said = sheet.corrections[c.row];
    // what was taken in is told as it was then: it is known by now
    return taken.get(c.row) ?? (said?.decision === 'held' ? { ...c, held: true, reason: said.reason ?? '' } : c);
  });
  const listed = new Set(compared.map((c) => c.item));
  const own = ws.workspace.items.filter((i) => i.supplier === String(sheet.supplierId) && !listed.has(i.id));
  const gone = {
    count: own.length,
    items: own.slice(0, MOST_GONE).map(({ id, sku, name }) => ({ item: id, sku, name })),
  };
  return { table, read, changes, gone };
}

export type Examined = Awaited<ReturnType<typeof examine>>;

/** What is counted of the rows alone. */
export function countsOf(changes: readonly CostChange[]): SheetCounts {
  const counts = { ...NO_COUNTS };
  for (const c of changes) {
    counts[c.kind]++;
    if (c.held) counts.held++;
    if (c.taken) counts.taken++;
    else if (needsLook(c)) counts.suspicious++;
  }
  return counts;
}

export function outcomeOf({ table, read, changes, gone }: Examined): KeptOutcome {
  const counts = countsOf(changes);
  counts.faulty = new Set(read.faults.map((f) => f.row)).size;
  counts.leftOut = read.leftOut.length;
  return { rowCount: table.rows.length, faults: read.faults.slice(0, MOST_FAULTS), changes, counts, gone };
}

export async function codeBook(db: Queries, supplier: number): Promise<CodeBook> {
  const rows = await db
    .select({ id: items.id, sku: items.sku, supplier: items.supplierId, supplierCode: items.supplierCode })
    .from(items);
  const coded = await db
    .select({ item: packs.itemId, units: packs.units, barcode: packs.barcode })
    .from(packs)
    .where(isNotNull(packs.barcode));
  const said = await db.select().from(supplierCodes).where(eq(supplierCodes.supplierId, supplier));
  return new CodeBook(
    rows.map((r) => ({ ...r, id: String(r.id), supplier: r.supplier === null ? null : String(r.supplier) })),
    String(supplier),
    coded.map((p) => ({ item: String(p.item), units: p.units, barcode: p.barcode! })),
    said.map((s) => ({ code: s.code, item: String(s.itemId) })),
  );
}
