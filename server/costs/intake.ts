import { and, eq, isNull, not } from 'drizzle-orm';
import type { Answers } from '#contract/api/answers.ts';
import { type CostIntake, LONG_INTAKE, type TakeInBody } from '#contract/costs.ts';
import { audit } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Db, type Queries, type Tx, inTransaction } from '../platform/database.ts';
import { Refused, refused } from '../platform/refused.ts';
import { examine, findSheet } from './arrivals.ts';
import { openSheet } from './decide-sheet.ts';
import { takeIn, writeTaken } from './take-in.ts';
import { costIntakes, costSheets } from './tables.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

export const COST_INTAKES = 'cost-intakes';

/** Takes rows of a sheet in at once, or orders it where they are many: then it is done in the background. */
export async function takeInOrOrder(
  context: Context,
  person: SignedIn,
  id: number,
  body: TakeInBody,
  today: string,
): Promise<Answers['taken_in']> {
  const { counts } = await findSheet(context.db, id);
  const all = counts ? counts.new + counts.up + counts.down + counts.unchanged + counts.unknown : 0;
  const rows = body.rows?.length ?? all;
  if (rows < LONG_INTAKE) {
    const { worksheet, ...taken } = await takeIn(context, person, id, body, today);
    return { ...taken, worksheet: worksheet === null ? null : String(worksheet), later: false };
  }
  const order = { rows: body.rows, rest: body.rest };
  const ordered = {
    order,
    orderedBy: person.id,
    orderedAt: context.now(),
    done: 0,
    of: null,
    cancelled: false,
    trouble: null,
  };
  await inTransaction(context.db, async (tx) => {
    // whoever saw the sheet before this is told of it
    await openSheet(tx, id, body.version);
    await tx
      .update(costSheets)
      .set({ version: body.version + 1 })
      .where(eq(costSheets.id, id));
    await tx
      .insert(costIntakes)
      .values({ sheetId: id, ...ordered })
      .onConflictDoUpdate({ target: costIntakes.sheetId, set: ordered });
    await told(tx, context, person, 'ordered the taking in of', id);
  });
  await context.jobs.enqueue(COST_INTAKES, id);
  return { costs: 0, newItems: 0, leftOut: 0, waiting: 0, worksheet: null, later: true };
}

/** Written down for whoever looks what became of a sheet; no price is made from it. */
const told = (tx: Tx, context: Context, person: SignedIn, action: string, id: number): Promise<void> =>
  audit(tx, {
    at: context.now(),
    personId: person.id,
    action,
    subject: 'cost-sheets',
    subjectId: String(id),
    layers: [],
  });

/** A person stopped it. */
class Cancelled extends Error {}

/**
 * Carries out what was ordered: one transaction, so that a server or database that ends in the middle leaves the sheet as it
 * was, and it is begun anew. Does nothing where it was done or given up. Returns the worksheet that follows by itself.
 */
export async function carryOutIntake(
  { db, now }: { readonly db: Db; readonly now: () => Date },
  id: number,
  today: string,
  /** For tests: called after every part that is written. */
  onPart: () => Promise<void> = () => Promise.resolve(),
): Promise<number | null> {
  const ours = and(eq(costIntakes.sheetId, id), isNull(costIntakes.trouble));
  const [ordered] = await db.select().from(costIntakes).where(ours);
  if (!ordered) return null;
  try {
    return await inTransaction(db, async (tx) => {
      const [sheet] = await tx.select().from(costSheets).where(eq(costSheets.id, id)).for('no key update');
      // another server may have done it meanwhile
      const [still] = await tx.select({ id: costIntakes.sheetId }).from(costIntakes).where(ours);
      if (!sheet || !still) return null;
      const examined = await examine(tx, sheet, today);
      const { worksheet } = await writeTaken(tx, {
        at: now(),
        person: { id: ordered.orderedBy },
        sheet,
        examined,
        ...ordered.order,
        byItself: false,
        today,
        // told beside the transaction, for others to see
        onDone: async (done, of) => {
          const [now] = await db.update(costIntakes).set({ done, of }).where(ours).returning();
          if (now?.cancelled) throw new Cancelled();
          await onPart();
        },
      });
      // stopped after the last part it is stopped too
      const ended = await tx
        .delete(costIntakes)
        .where(and(eq(costIntakes.sheetId, id), not(costIntakes.cancelled)))
        .returning();
      if (ended.length === 0) throw new Cancelled();
      return worksheet;
    });
  } catch (error) {
    if (error instanceof Cancelled) {
      await db.delete(costIntakes).where(eq(costIntakes.sheetId, id));
      return null;
    }
    if (!(error instanceof Refused)) throw error;
    await db.update(costIntakes).set({ trouble: error.message }).where(ours);
    return null;
  }
}

export async function intakeOf(db: Queries, id: number): Promise<{ intake: CostIntake | null }> {
  const [row] = await db
    .select({
      by: people.name,
      orderedAt: costIntakes.orderedAt,
      done: costIntakes.done,
      of: costIntakes.of,
      cancelled: costIntakes.cancelled,
      trouble: costIntakes.trouble,
    })
    .from(costIntakes)
    .innerJoin(people, eq(people.id, costIntakes.orderedBy))
    .where(eq(costIntakes.sheetId, id));
  return { intake: row ? { ...row, orderedAt: row.orderedAt.toISOString() } : null };
}

/** Has an intake stop at its next part, or where nobody is at work on it at once; nothing of it is taken in. */
export async function cancelIntake(
  context: Context,
  person: SignedIn,
  id: number,
): Promise<{ intake: CostIntake | null }> {
  await inTransaction(context.db, async (tx) => {
    // whoever takes it in holds the sheet
    const [free] = await tx
      .select({ id: costSheets.id })
      .from(costSheets)
      .where(eq(costSheets.id, id))
      .for('no key update', { skipLocked: true });
    await told(tx, context, person, 'stopped the taking in of', id);
    const of = eq(costIntakes.sheetId, id);
    const found = free
      ? await tx.delete(costIntakes).where(of).returning()
      : await tx.update(costIntakes).set({ cancelled: true }).where(of).returning();
    if (found.length === 0) throw refused('not_found', { what: 'An intake under way of the sheet', id: String(id) });
  });
  return intakeOf(context.db, id);
}

/** Sheets that were being taken in when the server that did it ended. */
export const leftIntakes = async (db: Queries): Promise<number[]> =>
  (await db.select({ id: costIntakes.sheetId }).from(costIntakes).where(isNull(costIntakes.trouble))).map((r) => r.id);
