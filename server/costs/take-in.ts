import { eq, sql } from 'drizzle-orm';
import { type CostChange, type TakeInBody, canBeTaken, isOpenRow } from '#contract/costs.ts';
import { items, packs } from '../items/tables.ts';
import { audit } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { type Tx, inTransaction } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { suppliers } from '../setup/tables.ts';
import { type Examined, type Sheet, examine, outcomeOf } from './arrivals.ts';
import { openSheet } from './decide-sheet.ts';
import type { SheetRow } from './read-rows.ts';
import { type TakenFigures, costSheets } from './tables.ts';
import { PROPOSALS } from '../worksheets/proposals.ts';
import { followByItself } from '../worksheets/self-posting.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

const CHUNK = 2000;
const COSTS_AT_ONCE = 5_000;

export interface TakenIn {
  readonly costs: number;
  readonly newItems: number;
  /** Turned down, unreadable or unknown, and not waiting any more. */
  readonly leftOut: number;
  /** Rows that wait on. */
  readonly waiting: number;
  /** That follows by itself; to be computed. */
  readonly worksheet: number | null;
}

/** Takes rows of a sheet in: one transaction, new items first, then every cost that differs. */
export async function takeIn(
  context: Context,
  person: SignedIn,
  id: number,
  body: TakeInBody,
  today: string,
): Promise<TakenIn> {
  const taken = await inTransaction(context.db, async (tx) => {
    const sheet = await openSheet(tx, id, body.version);
    const examined = await examine(tx, sheet, today);
    return writeTaken(tx, {
      at: context.now(),
      person,
      sheet,
      examined,
      rows: body.rows,
      rest: body.rest,
      byItself: false,
      today,
    });
  });
  if (taken.worksheet !== null) await context.jobs.enqueue(PROPOSALS, taken.worksheet);
  return taken;
}

/** What is taken in of a sheet, by whom. */
export interface Taking {
  readonly at: Date;
  readonly person: Pick<SignedIn, 'id'>;
  readonly sheet: Sheet;
  readonly examined: Examined;
  /** Null: every one that can be. */
  readonly rows: readonly number[] | null;
  readonly rest: TakeInBody['rest'];
  readonly byItself: boolean;
  readonly today: string;
  /** Told after every few thousand costs; what it throws ends the whole. */
  readonly onDone?: (done: number, of: number) => Promise<void>;
}

/** Writes what is taken in of a sheet that was examined: new items first, then every cost that differs. */
export async function writeTaken(
  tx: Tx,
  { at, person, sheet, examined, rows, rest, byItself, today, onDone }: Taking,
): Promise<TakenIn> {
  const { read, changes } = examined;
  const chosen = rows && new Set(rows);
  const takes = (c: CostChange) => canBeTaken(c) && (chosen ? chosen.has(c.row) : !c.held);
  const taking = changes.filter(takes);
  const byRow = new Map(read.rows.map((r) => [r.row, r]));
  const fresh = taking.filter((c) => c.item === null).map((c) => byRow.get(c.row)!);
  const added = await addItems(tx, sheet, fresh);
  for (let i = 0; i < taking.length; i += COSTS_AT_ONCE) {
    await addCosts(tx, { at, person, sheet }, taking.slice(i, i + COSTS_AT_ONCE), added);
    await onDone?.(Math.min(i + COSTS_AT_ONCE, taking.length), taking.length);
  }
  const described =
    sheet.match.known === 'take' ? changes.filter((c) => c.figures && (takes(c) || c.kind === 'unchanged')) : [];
  const figuresTaken = await takeFigures(tx, described);
  const after = changes.map((c) => (takes(c) ? { ...c, taken: true, held: false } : c));
  const open = after.filter(isOpenRow);
  const faulty = new Set(read.faults.map((f) => f.row)).size;
  const waiting = rest === 'waits' ? open.length + faulty : 0;
  const outcome = outcomeOf({ ...examined, changes: after });
  await tx
    .update(costSheets)
    .set({
      state: waiting > 0 ? 'part_taken' : 'taken_in',
      version: sheet.version + 1,
      takenInAt: at,
      byItself,
      outcome,
      counts: outcome.counts,
      figuresTaken: [...sheet.figuresTaken, ...figuresTaken],
    })
    .where(eq(costSheets.id, sheet.id));
  const leftOut = read.leftOut.length + (rest === 'waits' ? 0 : open.length + faulty);
  const worksheet = await followByItself(tx, {
    at,
    person: person.id,
    supplier: sheet.supplierId,
    cameWith: { costSheet: sheet.id },
    of: sheet.fileName,
    from: taking.map((c) => c.after.from),
    today,
  });
  const result = { costs: taking.length, newItems: fresh.length, leftOut, waiting, worksheet };
  await audit(tx, {
    at,
    personId: person.id,
    action: byItself ? 'took in costs by themselves' : 'took in costs',
    subject: 'cost-sheets',
    subjectId: String(sheet.id),
    after: {
      ...result,
      fileName: sheet.fileName,
      changes: taking.map((c) => [
        c.sku ?? c.code,
        c.before?.amount ?? null,
        c.after.amount,
        c.after.currency,
        c.after.from,
      ]),
      figures: described.flatMap((c) => c.figures!.map((f) => [c.sku, f.field, f.before, f.after])),
    },
  });
  return result;
}

/** Rows by columns: a parameter for each value of a hundred thousand costs would take longer than all else. */
async function addCosts(
  tx: Tx,
  { at, person, sheet }: Pick<Taking, 'at' | 'person' | 'sheet'>,
  taking: readonly CostChange[],
  added: ReadonlyMap<number, number>,
): Promise<void> {
  if (taking.length === 0) return;
  const column = <T>(of: (c: CostChange) => T, type: string) => sql`${sql.param(taking.map(of))}::${sql.raw(type)}[]`;
  await tx.execute(sql`
    insert into costs (item_id, supplier_id, amount, reduced_amount, currency, pack_units, quantity_prices, valid_from, valid_to, origin, sheet_id, entered_by, entered_at)
    select r.item, ${sheet.supplierId}, r.amount, r.reduced, r.currency, r.units, r.more, r.day, r.last, ${sheet.origin}, ${sheet.id}, ${person.id}, ${at.toISOString()}::timestamptz
    from unnest(
      ${column((c) => (c.item === null ? added.get(c.row)! : Number(c.item)), 'int')},
      ${column((c) => c.after.amount, 'numeric')}, ${column((c) => c.after.reduced ?? null, 'numeric')},
      ${column((c) => c.after.currency, 'text')}, ${column((c) => c.after.packUnits, 'numeric')},
      ${column((c) => (c.after.quantityPrices ? JSON.stringify(c.after.quantityPrices) : null), 'jsonb')},
      ${column((c) => c.after.from, 'date')}, ${column((c) => c.after.to ?? null, 'date')}
    ) with ordinality as r (item, amount, reduced, currency, units, more, day, last, place)
    order by r.place`);
}

const FIGURE_COLUMNS = {
  rrp: (after: string, currency: string) => ({ rrpAmount: after, rrpCurrency: currency, rrpTaxIn: true }),
  map: (after: string, currency: string) => ({ mapAmount: after, mapCurrency: currency, mapTaxIn: true }),
  weightKg: (after: string) => ({ weightKg: after }),
};

/** Writes what the sheet says of the items themselves; returns what stood there before. */
async function takeFigures(tx: Tx, changes: readonly CostChange[]): Promise<TakenFigures[]> {
  const taken: TakenFigures[] = [];
  for (const c of changes)
    if (c.item !== null && c.figures) {
      const item = Number(c.item);
      const wrote = Object.assign(
        {},
        ...c.figures.map((f) => FIGURE_COLUMNS[f.field](f.after, c.after.currency)),
      ) as TakenFigures['wrote'];
      const [row] = await tx.select().from(items).where(eq(items.id, item)).for('update');
      const before = Object.fromEntries(Object.keys(wrote).map((k) => [k, row![k as keyof typeof wrote]]));
      await tx
        .update(items)
        .set({ ...wrote, version: row!.version + 1 })
        .where(eq(items.id, item));
      taken.push({ item, before, wrote });
    }
  return taken;
}

async function addItems(tx: Tx, sheet: Sheet, rows: readonly SheetRow[]): Promise<Map<number, number>> {
  const out = new Map<number, number>();
  if (rows.length === 0) return out;
  const ofRow = (r: SheetRow) => ({
    category: sheet.corrections[r.row]?.add?.category ?? sheet.match.category,
    taxClass: sheet.corrections[r.row]?.add?.taxClass ?? sheet.match.taxClass,
  });
  const missing = [
    ...(rows.every((r) => ofRow(r).category)
      ? []
      : [{ path: 'match.category', message: 'choose the category of the new items' }]),
    ...(rows.every((r) => ofRow(r).taxClass)
      ? []
      : [{ path: 'match.taxClass', message: 'choose the tax class of the new items' }]),
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
          categoryId: Number(ofRow(r).category),
          supplierId: sheet.supplierId,
          supplierCode: r.code,
          weightKg: r.weightKg,
          taxClass: ofRow(r).taxClass!,
          rrpAmount: r.rrp,
          rrpCurrency: r.rrp ? supplier!.currency : null,
          mapAmount: r.map,
          mapCurrency: r.map ? supplier!.currency : null,
        })),
      )
      .returning({ id: items.id, sku: items.sku });
    const ids = new Map(made.map((m) => [m.sku, m.id]));
    for (const r of part) out.set(r.row, ids.get(r.code)!);
    await tx.insert(packs).values(made.map((m) => ({ itemId: m.id, name: 'each', units: '1' })));
  }
  return out;
}
