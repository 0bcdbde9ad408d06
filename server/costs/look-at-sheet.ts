import { isDeepStrictEqual } from 'node:util';
import { and, count, eq, max, sql } from 'drizzle-orm';
import { type SheetRows, takingOf } from '#contract/cost-rows.ts';
import type { CostChange, SheetCounts, SheetEffect, SheetView } from '#contract/costs.ts';
import { items } from '../items/tables.ts';
import { revisionText, revisionsOf } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import type { Db, Queries } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { LastLookedAt } from '../windows/kept-rows.ts';
import { today } from '../workspace/asked-day.ts';
import {
  type Examined,
  type HeldAgainst,
  type Sheet,
  countsOf,
  examine,
  findSheet,
  heldAgainst,
  listSheets,
  outcomeOf,
  readable,
  sourceOf,
} from './arrivals.ts';
import { readTable } from './read-table.ts';
import { LONG_SHEET_BYTES } from './receive-sheet.ts';
import { packedSheet, sheetWindow } from './sheet-table.ts';
import { costSheets, supplierCodes } from './tables.ts';
import type { AskedSheet, SheetEffectTable, SheetTable } from './cost-work.ts';

/** Rows decided by hand that are listed; the rest is counted. */
const MOST_SAID = 500;
/** From so many items on a sheet is held against them in a thread. */
const MANY_ITEMS = 5_000;

/** What a sheet looks like hangs on, as one name, and whether to look at it takes long. */
async function stateOf(db: Queries, id: number, day: string): Promise<{ state: string; long: boolean }> {
  const [sheet] = await db
    .select({
      version: costSheets.version,
      state: costSheets.state,
      supplier: costSheets.supplierId,
      long: sql<boolean>`octet_length(${costSheets.content}) >= ${LONG_SHEET_BYTES}
        or exists (select 1 from ${items} offset ${MANY_ITEMS})`,
    })
    .from(costSheets)
    .where(eq(costSheets.id, id));
  if (!sheet) throw refused('not_found', { what: 'The cost sheet', id: String(id) });
  const { version, long } = sheet;
  // what became of it stands
  if (sheet.state === 'taken_in') return { state: `${id}/${version}`, long };
  return { state: `${id}/${version}/${await knownAs(db, sheet.supplier, day)}`, long };
}

/** Names what the sheets of a supplier are held against. */
async function knownAs(db: Queries, supplier: number, day: string): Promise<string> {
  const { catalogue, rules } = await revisionsOf(db);
  // what a code means is said on another sheet of the supplier too
  const [said] = await db
    .select({ codes: count(), last: max(supplierCodes.saidAt) })
    .from(supplierCodes)
    .where(eq(supplierCodes.supplierId, supplier));
  return [supplier, day, catalogue, rules, said!.codes, said!.last?.getTime() ?? 0].join('/');
}

/** What was held against last: a sheet is looked at again after each decision, and nothing else has changed. */
const against = new LastLookedAt<HeldAgainst & { readonly state: string }>(1);

/** Compares a sheet with what is known, which is read only where it is another than last time. */
export async function examineAgain(db: Db, sheet: Sheet, day: string): Promise<Examined> {
  const state = await knownAs(db, sheet.supplierId, day);
  const known = await against.of(db, 'known', state, async () => ({
    state,
    ...(await heldAgainst(db, sheet.supplierId, day)),
  }));
  return examine(db, sheet, day, known);
}

const lastOf = (days: readonly string[]): string | null =>
  days.reduce<string | null>((last, day) => (last === null || day > last ? day : last), null);

function saidOf(sheet: Sheet, changes: readonly CostChange[]): SheetView['said'] {
  const taken = new Set(changes.flatMap((c) => (c.taken ? [c.row] : [])));
  const all = Object.entries(sheet.corrections);
  const rows = all
    .slice(0, MOST_SAID)
    .map(([row, said]) => ({ row: Number(row), said: said!, taken: taken.has(Number(row)) }));
  return { count: all.length, rows };
}

/** A sheet with all its rows and what each would change, or did. What is counted is kept, for the inbox. */
export async function sheetTable(db: Db, { id, day, state, at }: AskedSheet): Promise<SheetTable> {
  const sheet = await findSheet(db, id);
  const source = sourceOf(sheet);
  const table = readable(() => readTable(source, sheet.match));
  const settled = sheet.state === 'taken_in' || sheet.state === 'set_aside';
  const { changes, ...outcome } = (settled && sheet.outcome) || outcomeOf(await examineAgain(db, sheet, day));
  const { faulty, leftOut } = outcome.counts;
  const counts = { ...countsOf(changes), faulty, leftOut };
  if (!settled) await keepCounts(db, sheet, counts);
  const wrong = new Set(outcome.faults.map((f) => f.row));
  const view: SheetTable['view'] = {
    version: sheet.version,
    ...outcome,
    counts,
    faulty: Object.fromEntries(
      table.rows
        .filter((r) => wrong.has(r.row))
        .map((r) => [r.row, { cells: r.cells, said: sheet.corrections[r.row] ?? null }]),
    ),
    match: sheet.match,
    layout: sheet.layout ?? { like: null, gone: [], fresh: [], rewritten: false },
    pages: (source.pages ?? []).map((p) => p.name),
    header: table.header,
    sample: table.rows.slice(0, 5).map((r) => r.cells),
    said: saidOf(sheet, changes),
    taking: takingOf(changes),
    takenFrom: lastOf(changes.flatMap((c) => (c.taken ? [c.after.from] : []))),
  };
  return packedSheet({ state, at, view }, changes, sheet.corrections);
}

/** Written only where it says something else: looking is no change of the sheet. */
async function keepCounts(db: Db, sheet: Sheet, counts: SheetCounts): Promise<void> {
  if (isDeepStrictEqual(sheet.counts, counts)) return;
  await db
    .update(costSheets)
    .set({ counts })
    .where(and(eq(costSheets.id, sheet.id), eq(costSheets.version, sheet.version)));
}

/** Sheets that were looked at last, with their rows: some 400 bytes each. */
const kept = new LastLookedAt<SheetTable>(3);

/** A long file, or one that is held against a large catalogue, is compared beside the server's own thread. */
async function lookedAt(context: Context, id: number): Promise<SheetTable> {
  const day = await today(context);
  const { state, long } = await stateOf(context.db, id, day);
  const asked = { id, day, state, at: context.now().toISOString() };
  return kept.of(context.db, String(id), state, () =>
    long ? context.costs.sheet(asked) : sheetTable(context.db, asked),
  );
}

/** A sheet without its rows. */
export async function viewSheet(context: Context, id: number): Promise<SheetView> {
  const { view } = await lookedAt(context, id);
  const [summary] = await listSheets(context.db, id);
  return { ...summary!, ...view };
}

/** What a sheet would move hangs on posted prices too. */
async function effectTable(context: Context, id: number): Promise<SheetEffectTable> {
  return context.costs.effect(id, await today(context), await effectState(context, id));
}

async function effectState({ db }: Context, id: number): Promise<string> {
  const { version } = await findVersion(db, id);
  return `${version}/${revisionText(await revisionsOf(db))}`;
}

async function findVersion(db: Db, id: number): Promise<{ version: number }> {
  const [sheet] = await db.select({ version: costSheets.version }).from(costSheets).where(eq(costSheets.id, id));
  if (!sheet) throw refused('not_found', { what: 'The cost sheet', id: String(id) });
  return sheet;
}

export const viewEffect = async (context: Context, id: number): Promise<SheetEffect> =>
  (await effectTable(context, id)).effect;

/** A stretch of its rows; with what each would move, where that is asked for by the state it is of. */
export async function sheetRows(
  context: Context,
  id: number,
  query: Readonly<Record<string, string>>,
): Promise<SheetRows> {
  const sheet = await lookedAt(context, id);
  const moves = query['moves'] && query['moves'] === (await effectState(context, id));
  return sheetWindow(sheet, moves ? await effectTable(context, id) : null, query);
}
