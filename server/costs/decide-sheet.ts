import { and, eq, isNull, not } from 'drizzle-orm';
import type { CorrectRowsBody, KnownCodeBody, SheetCorrection, SheetState } from '#contract/costs.ts';
import type { SheetMatch } from '#contract/sheet-match.ts';
import { dec, plain } from '#core/numbers/decimal.ts';
import { items } from '../items/tables.ts';
import { type Layer, audit } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { type Sheet, readable, sourceOf } from './arrivals.ts';
import { readTable } from './read-table.ts';
import { type TakenFigures, costIntakes, costSheets, costs, supplierCodes } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const STATE_WORDS: Record<SheetState, string> = {
  waiting: 'waiting',
  part_taken: 'taken in in part',
  taken_in: 'taken in',
  set_aside: 'turned down',
};

/** A sheet that waits makes no price: nothing that is worked out of prices is worked out again. */
const NONE: readonly Layer[] = [];

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

/** A sheet with rows that can still be decided, held for whoever asks. */
export async function openSheet(tx: Tx, id: number, version: number): Promise<Sheet> {
  const sheet = await locked(tx, id, version);
  const [under] = await tx
    .select({ id: costIntakes.sheetId })
    .from(costIntakes)
    .where(and(eq(costIntakes.sheetId, id), isNull(costIntakes.trouble)));
  if (under) throw refused('sheet_being_taken', {});
  if (sheet.state !== 'waiting' && sheet.state !== 'part_taken')
    throw refused('sheet_not_waiting', { state: STATE_WORDS[sheet.state] });
  return sheet;
}

/** Holds single rows, turns them down, reads them with what a person typed instead, or makes items of them. */
export async function correctRows(
  context: Context,
  person: SignedIn,
  id: number,
  body: CorrectRowsBody,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const sheet = await openSheet(tx, id, body.version);
    const { rows } = readable(() => readTable(sourceOf(sheet), sheet.match));
    const known = new Set(rows.map((r) => r.row));
    const unknown = body.rows.find((r) => !known.has(r.row));
    if (unknown) throw refused('not_found', { what: 'The row', id: String(unknown.row) });
    const corrections = { ...sheet.corrections };
    const taken = new Set(sheet.outcome?.changes.flatMap((c) => (c.taken ? [c.row] : [])));
    for (const { row, decision, reason, cells, add } of body.rows) {
      if (taken.has(row)) throw refused('row_taken_in', { row: String(row) });
      const typed = Object.fromEntries(Object.entries(cells).filter(([, text]) => text !== undefined));
      const said: SheetCorrection = {
        ...(decision === 'read' ? {} : { decision }),
        ...(decision !== 'read' && reason ? { reason } : {}),
        ...(decision !== 'left_out' && Object.keys(typed).length > 0 ? { cells: typed } : {}),
        ...(decision !== 'left_out' && add ? { add } : {}),
      };
      if (Object.keys(said).length > 0) corrections[row] = said;
      else delete corrections[row];
    }
    await tx
      .update(costSheets)
      .set({ corrections, version: body.version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'decided rows of',
      subject: 'cost-sheets',
      subjectId: String(id),
      layers: NONE,
      before: sheet.corrections,
      after: corrections,
    });
  });
}

/** Says which item a code of the sheet's supplier means, now and in its later files; or no longer. */
export async function sayCode(context: Context, person: SignedIn, id: number, body: KnownCodeBody): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const sheet = await openSheet(tx, id, body.version);
    const code = body.code.toLowerCase();
    const at = context.now();
    if (body.item === null) {
      await tx
        .delete(supplierCodes)
        .where(and(eq(supplierCodes.supplierId, sheet.supplierId), eq(supplierCodes.code, code)));
    } else {
      const [item] = await tx
        .select({ id: items.id })
        .from(items)
        .where(eq(items.id, Number(body.item)));
      if (!item) throw refused('not_found', { what: 'The item', id: body.item });
      const said = { itemId: item.id, saidBy: person.id, saidAt: at };
      await tx
        .insert(supplierCodes)
        .values({ supplierId: sheet.supplierId, code, ...said })
        .onConflictDoUpdate({ target: [supplierCodes.supplierId, supplierCodes.code], set: said });
    }
    await tx
      .update(costSheets)
      .set({ version: body.version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at,
      personId: person.id,
      action: body.item === null ? 'forgot what a code means of' : 'said what a code means of',
      subject: 'cost-sheets',
      subjectId: String(id),
      layers: NONE,
      after: { code: body.code, item: body.item },
    });
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
    const sheet = await openSheet(tx, id, version);
    if (sheet.state === 'part_taken') throw refused('sheet_part_taken', {});
    const { header } = readable(() => readTable(sourceOf(sheet), match));
    await tx
      .update(costSheets)
      .set({ match, header: match.headerRows === 0 ? [] : header, version: version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'matched',
      subject: 'cost-sheets',
      subjectId: String(id),
      layers: NONE,
      before: sheet.match,
      after: match,
    });
  });
}

/** Turns a sheet down, with the reason: what was not taken in of it is not. */
export async function turnDown(
  context: Context,
  person: SignedIn,
  id: number,
  version: number,
  reason: string,
): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const sheet = await openSheet(tx, id, version);
    if (sheet.state === 'part_taken') throw refused('sheet_part_taken', {});
    await tx
      .update(costSheets)
      .set({ state: 'set_aside', reason, version: version + 1 })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'turned down',
      subject: 'cost-sheets',
      subjectId: String(id),
      layers: NONE,
      after: { fileName: sheet.fileName, reason },
    });
  });
}

/** Puts back what stood of items before a sheet, the last written first; what somebody changed since stays. */
async function takeFiguresBack(tx: Tx, taken: readonly TakenFigures[]): Promise<(readonly [string, string])[]> {
  const back: (readonly [string, string])[] = [];
  for (const { item, before, wrote } of [...taken].reverse()) {
    const [row] = await tx.select().from(items).where(eq(items.id, item)).for('update');
    if (!row) continue;
    const text = (v: unknown) => (typeof v === 'string' && /^\d+(\.\d+)?$/.test(v) ? plain(dec(v)) : v);
    const same = Object.entries(wrote).every(([k, v]) => text(row[k as keyof typeof row]) === text(v));
    back.push([row.sku, same ? 'as it was' : 'changed since, left as it is']);
    if (same)
      await tx
        .update(items)
        .set({ ...before, version: row.version + 1 })
        .where(eq(items.id, item));
  }
  return back;
}

/**
 * Takes a whole sheet back: its costs count for nothing any more and what was known before counts again; or fetches back
 * one that was turned down. It waits again, and can be corrected and taken in anew. Items it added stay.
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
    const figures = await takeFiguresBack(tx, sheet.figuresTaken);
    await tx
      .update(costSheets)
      .set({
        state: 'waiting',
        outcome: null,
        figuresTaken: [],
        takenInAt: null,
        byItself: false,
        reason: null,
        version: version + 1,
      })
      .where(eq(costSheets.id, id));
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: sheet.state === 'set_aside' ? 'fetched back' : 'took back the costs of',
      subject: 'cost-sheets',
      subjectId: String(id),
      ...(sheet.state === 'set_aside' ? { layers: NONE } : {}),
      after: { fileName: sheet.fileName, costs: gone.length, ...(figures.length > 0 ? { figures } : {}) },
    });
    return { costs: gone.length };
  });
}
