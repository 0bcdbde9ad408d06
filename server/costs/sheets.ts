import { and, desc, eq, isNotNull, not } from 'drizzle-orm';
import {
  CHANGE_KINDS,
  type ChangeKind,
  type CorrectRowsBody,
  type SheetMatch,
  type SheetOutcome,
  type SheetSummary,
  type SheetView,
} from '#contract/costs.ts';
import { Prepared } from '#core/workspace/index.ts';
import { items, packs } from '../items/tables.ts';
import { audit } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, type Tx, inTransaction } from '../platform/database.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { suppliers } from '../setup/tables.ts';
import { loadWorkspace } from '../workspace/load-workspace.ts';
import { CodeBook, compareRows } from './compare-sheet.ts';
import { type SheetRow, UnreadableSheet, proposeMatch, readRows, readTable } from './read-sheet.ts';
import { costSheets, costs } from './tables.ts';

type Sheet = typeof costSheets.$inferSelect;

const STATE_WORDS = { waiting: 'waiting', taken_in: 'taken in', set_aside: 'set aside' } as const;

function readable<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof UnreadableSheet) throw refused('sheet_unreadable', { why: error.message });
    throw error;
  }
}

/** Keeps a supplier's file as it came, with a proposal for how to read it. */
export async function receiveSheet(
  context: Context,
  person: SignedIn,
  supplierId: number,
  fileName: string,
  content: Buffer,
  today: string,
): Promise<{ id: string }> {
  return inTransaction(context.db, async (tx) => {
    const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, supplierId));
    if (!supplier) throw refused('not_found', { what: 'The supplier', id: String(supplierId) });
    if (content.length === 0) throw refused('sheet_unreadable', { why: 'it is empty' });
    const match = readable(() => proposeMatch(content, today));
    const at = context.now();
    const [sheet] = await tx
      .insert(costSheets)
      .values({ supplierId, fileName, content, match, arrivedAt: at, broughtBy: person.id })
      .returning({ id: costSheets.id });
    const id = String(sheet!.id);
    await audit(tx, {
      at,
      personId: person.id,
      action: 'brought in',
      subject: 'cost-sheets',
      subjectId: id,
      after: { fileName, supplier: supplier.name, bytes: content.length },
    });
    return { id };
  });
}

export async function listSheets(db: Queries, only?: number): Promise<SheetSummary[]> {
  const rows = await db
    .select({
      id: costSheets.id,
      version: costSheets.version,
      supplier: costSheets.supplierId,
      supplierName: suppliers.name,
      fileName: costSheets.fileName,
      state: costSheets.state,
      arrivedAt: costSheets.arrivedAt,
      broughtBy: people.name,
      takenInAt: costSheets.takenInAt,
    })
    .from(costSheets)
    .innerJoin(suppliers, eq(suppliers.id, costSheets.supplierId))
    .innerJoin(people, eq(people.id, costSheets.broughtBy))
    .where(only === undefined ? undefined : eq(costSheets.id, only))
    .orderBy(desc(costSheets.id))
    .limit(200);
  return rows.map((r) => ({
    ...r,
    id: String(r.id),
    supplier: String(r.supplier),
    arrivedAt: r.arrivedAt.toISOString(),
    takenInAt: r.takenInAt?.toISOString() ?? null,
  }));
}

async function findSheet(db: Queries, id: number): Promise<Sheet> {
  const [sheet] = await db.select().from(costSheets).where(eq(costSheets.id, id));
  if (!sheet) throw refused('not_found', { what: 'The cost sheet', id: String(id) });
  return sheet;
}

/** Reads the sheet as its match says and compares every row with what is known: nothing is written. */
async function examine(db: Queries, sheet: Sheet) {
  const [supplier] = await db.select().from(suppliers).where(eq(suppliers.id, sheet.supplierId));
  const table = readable(() => readTable(sheet.content, sheet.match));
  const asRead = readRows(table, sheet.match, supplier!.currency, sheet.corrections);
  const codes = await codeBook(db, String(sheet.supplierId));
  const read = { ...asRead, rows: asRead.rows.map((r) => codes.settled(r)) };
  const ws = new Prepared(await loadWorkspace(db, '9999-12-31'));
  const changes = compareRows(ws, read.rows, codes, String(sheet.supplierId), sheet.match.newItems === 'add');
  return { table, read, changes };
}

function outcomeOf({ table, read, changes }: Awaited<ReturnType<typeof examine>>): SheetOutcome {
  const counts = Object.fromEntries(CHANGE_KINDS.map((k) => [k, 0])) as Record<ChangeKind, number>;
  for (const c of changes) counts[c.kind]++;
  const faulty = new Set(read.faults.map((f) => f.row)).size;
  return {
    rowCount: table.rows.length,
    faults: read.faults.slice(0, MOST_FAULTS),
    changes,
    counts: { ...counts, faulty, leftOut: read.leftOut.length },
  };
}

async function codeBook(db: Queries, supplier: string): Promise<CodeBook> {
  const rows = await db
    .select({ id: items.id, sku: items.sku, supplier: items.supplierId, supplierCode: items.supplierCode })
    .from(items);
  const coded = await db
    .select({ item: packs.itemId, units: packs.units, barcode: packs.barcode })
    .from(packs)
    .where(isNotNull(packs.barcode));
  return new CodeBook(
    rows.map((r) => ({ ...r, id: String(r.id), supplier: r.supplier === null ? null : String(r.supplier) })),
    supplier,
    coded.map((p) => ({ item: String(p.item), units: p.units, barcode: p.barcode! })),
  );
}

export async function viewSheet(db: Queries, id: number): Promise<SheetView> {
  const sheet = await findSheet(db, id);
  const [summary] = await listSheets(db, id);
  const table = readable(() => readTable(sheet.content, sheet.match));
  const outcome = sheet.outcome ?? outcomeOf(await examine(db, sheet));
  const wrong = new Set(outcome.faults.map((f) => f.row));
  return {
    ...summary!,
    ...outcome,
    faulty: Object.fromEntries(table.rows.filter((r) => wrong.has(r.row)).map((r) => [r.row, r.cells])),
    match: sheet.match,
    header: table.header,
    sample: table.rows.slice(0, 5).map((r) => r.cells),
    corrections: sheet.corrections,
  };
}

/** Leaves single rows out, or reads them with what a person typed instead; the file itself stays as it came. */
export async function correctRows(
  context: Context,
  person: SignedIn,
  id: number,
  body: CorrectRowsBody,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const sheet = await waiting(tx, id, body.version);
    const { rows } = readable(() => readTable(sheet.content, sheet.match));
    const known = new Set(rows.map((r) => r.row));
    const unknown = body.rows.filter((r) => !known.has(r.row));
    if (unknown.length > 0) throw refused('not_found', { what: 'The row', id: String(unknown[0]!.row) });
    const corrections = { ...sheet.corrections };
    for (const { row, leaveOut, cells } of body.rows) {
      const typed = Object.fromEntries(Object.entries(cells).filter(([, text]) => text !== undefined));
      if (leaveOut) corrections[row] = { leaveOut: true };
      else if (Object.keys(typed).length > 0) corrections[row] = { cells: typed };
      else delete corrections[row];
    }
    await tx
      .update(costSheets)
      .set({ corrections, version: body.version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'corrected rows of',
      subject: 'cost-sheets',
      subjectId: String(id),
      before: sheet.corrections,
      after: corrections,
    });
  });
}

/**
 * Takes a whole sheet back: its costs count for nothing any more and what was known before counts again; or fetches back
 * one that was set aside. It waits again, and can be corrected and taken in anew. Items it added stay.
 */
export async function takeBack(
  context: Context,
  person: SignedIn,
  id: number,
  version: number,
): Promise<{ costs: number }> {
  return inTransaction(context.db, async (tx) => {
    const sheet = await locked(tx, id, version);
    if (sheet.state === 'waiting') throw refused('sheet_waits', {});
    const gone = await tx
      .update(costs)
      .set({ takenBack: true })
      .where(and(eq(costs.sheetId, id), not(costs.takenBack)))
      .returning({ id: costs.id });
    await tx
      .update(costSheets)
      .set({ state: 'waiting', outcome: null, takenInAt: null, version: version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: sheet.state === 'taken_in' ? 'took back the costs of' : 'fetched back',
      subject: 'cost-sheets',
      subjectId: String(id),
      after: { fileName: sheet.fileName, costs: gone.length },
    });
    return { costs: gone.length };
  });
}

/** Keeps a corrected match. The version guards against two people matching the same sheet. */
export async function matchSheet(
  context: Context,
  person: SignedIn,
  id: number,
  version: number,
  match: SheetMatch,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const sheet = await waiting(tx, id, version);
    readable(() => readTable(sheet.content, match));
    await tx
      .update(costSheets)
      .set({ match, version: version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'matched',
      subject: 'cost-sheets',
      subjectId: String(id),
      before: sheet.match,
      after: match,
    });
  });
}

async function waiting(tx: Tx, id: number, version: number): Promise<Sheet> {
  const sheet = await locked(tx, id, version);
  if (sheet.state !== 'waiting') throw refused('sheet_not_waiting', { state: STATE_WORDS[sheet.state] });
  return sheet;
}

async function locked(tx: Tx, id: number, version: number): Promise<Sheet> {
  const [sheet] = await tx.select().from(costSheets).where(eq(costSheets.id, id)).for('no key update');
  if (!sheet) throw refused('not_found', { what: 'The cost sheet', id: String(id) });
  if (sheet.version !== version)
    throw refused(
      'changed_meanwhile',
      { what: 'The cost sheet', by: 'someone else' },
      { current: { version: sheet.version, match: sheet.match } },
    );
  return sheet;
}

export async function setAside(context: Context, person: SignedIn, id: number, version: number): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    await waiting(tx, id, version);
    await tx
      .update(costSheets)
      .set({ state: 'set_aside', version: version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'set aside',
      subject: 'cost-sheets',
      subjectId: String(id),
    });
  });
}

const CHUNK = 2000;
/** More are counted, not listed. */
const MOST_FAULTS = 1000;

/** Takes a sheet in: one transaction, new items first, then every cost that differs. Unknown codes are left out unless they are to be added. */
export async function takeIn(
  context: Context,
  person: SignedIn,
  id: number,
  version: number,
  leaveOutFaulty: boolean,
): Promise<{ costs: number; newItems: number; leftOut: number }> {
  return inTransaction(context.db, async (tx) => {
    const sheet = await waiting(tx, id, version);
    const examined = await examine(tx, sheet);
    const { read, changes } = examined;
    const faulty = new Set(read.faults.map((f) => f.row)).size;
    if (faulty > 0 && !leaveOutFaulty) throw refused('sheet_rows_wrong', { count: String(faulty) });
    const at = context.now();
    const rows = new Map(read.rows.map((r) => [r.row, r]));
    const fresh = changes.filter((c) => c.kind === 'new' && c.item === null).map((c) => rows.get(c.row)!);
    const added = await addItems(tx, sheet, fresh);
    const values = changes
      .filter((c) => c.kind !== 'unchanged' && c.kind !== 'unknown')
      .map((c) => ({
        itemId: c.item === null ? added.get(c.row)! : Number(c.item),
        supplierId: sheet.supplierId,
        amount: c.after.amount,
        currency: c.after.currency,
        packUnits: c.after.packUnits,
        validFrom: c.after.from,
        origin: 'file' as const,
        sheetId: id,
        enteredBy: person.id,
        enteredAt: at,
      }));
    for (let i = 0; i < values.length; i += CHUNK) await tx.insert(costs).values(values.slice(i, i + CHUNK));
    await tx
      .update(costSheets)
      .set({ state: 'taken_in', version: version + 1, takenInAt: at, outcome: outcomeOf(examined) })
      .where(eq(costSheets.id, id));
    const result = {
      costs: values.length,
      newItems: fresh.length,
      leftOut: faulty + read.leftOut.length + changes.filter((c) => c.kind === 'unknown').length,
    };
    const log = changes
      .filter((c) => c.kind !== 'unchanged' && c.kind !== 'unknown')
      .map((c) => [c.sku ?? c.code, c.before?.amount ?? null, c.after.amount, c.after.currency, c.after.from]);
    await audit(tx, {
      at,
      personId: person.id,
      action: 'took in costs',
      subject: 'cost-sheets',
      subjectId: String(id),
      after: { ...result, fileName: sheet.fileName, changes: log },
    });
    return result;
  });
}

async function addItems(tx: Tx, sheet: Sheet, rows: readonly SheetRow[]): Promise<Map<number, number>> {
  const out = new Map<number, number>();
  if (rows.length === 0) return out;
  const { category, taxClass } = sheet.match;
  const missing = [
    ...(category ? [] : [{ path: 'match.category', message: 'choose the category of the new items' }]),
    ...(taxClass ? [] : [{ path: 'match.taxClass', message: 'choose the tax class of the new items' }]),
  ];
  if (missing.length > 0) throw refused('fields_wrong', {}, { faults: missing });
  const [supplier] = await tx.select().from(suppliers).where(eq(suppliers.id, sheet.supplierId));
  for (let i = 0; i < rows.length; i += CHUNK) {
    const part = rows.slice(i, i + CHUNK);
    const made = await tx
      .insert(items)
      .values(
        part.map((r) => ({
          sku: r.code,
          name: r.name || r.code,
          unit: r.unit ?? 'each',
          categoryId: Number(category),
          supplierId: sheet.supplierId,
          supplierCode: r.code,
          weightKg: r.weightKg,
          taxClass: taxClass!,
          rrpAmount: r.rrp,
          rrpCurrency: r.rrp ? supplier!.currency : null,
        })),
      )
      .returning({ id: items.id, sku: items.sku });
    const ids = new Map(made.map((m) => [m.sku, m.id]));
    for (const r of part) out.set(r.row, ids.get(r.code)!);
    await tx.insert(packs).values(made.map((m) => ({ itemId: m.id, name: 'each', units: '1' })));
  }
  return out;
}
