import { and, eq, lte } from 'drizzle-orm';
import { audit, holdState } from '../ledger/audit.ts';
import type { Context } from '../platform/context.ts';
import { inTransaction, breaksConstraint } from '../platform/database.ts';
import { dropLinks } from '../records/links.ts';
import { recordTurn } from '../setup/one-record.ts';
import { today } from '../workspace/asked-day.ts';
import { apply } from './moves.ts';
import type { AnyRegister } from '../setup/register.ts';
import { changesToCome } from './tables.ts';
import { type Waiting, allWaiting, makeAnew, wordsOf } from './waiting.ts';

type Here = Pick<Context, 'db' | 'now' | 'log'>;

/**
 * Writes what is due into the records it is about: a new version of each, by who planned it. Prices hold it from the first
 * moment of its day, whether this was done by then or not. What cannot be carried out any more is said, and counts no longer.
 */
export async function carryOutDue(context: Here, registers: readonly AnyRegister[]): Promise<void> {
  const day = await today(context);
  for (const row of await allWaiting(context.db, day)) {
    const register = registers.find((r) => r.name === row.register);
    if (register) await carryOut(context, register, row, day);
  }
}

async function carryOut(context: Here, r: AnyRegister, { id, recordId }: Waiting, day: string): Promise<void> {
  const still = and(eq(changesToCome.id, id), eq(changesToCome.state, 'waiting'), lte(changesToCome.day, day));
  try {
    await inTransaction(context.db, async (tx) => {
      // in the order in which who keeps the record takes them
      await recordTurn(tx, r.name, recordId);
      await holdState(tx);
      const [row] = await tx.select().from(changesToCome).where(still).for('update');
      if (!row) return;
      const [before] = await r.read(tx, row.recordId);
      await apply(tx, r, row.recordId, row.change);
      if (row.change === null) await dropLinks(tx, r.name, row.recordId);
      await tx
        .update(changesToCome)
        .set({ state: 'carried_out', version: row.version + 1 })
        .where(eq(changesToCome.id, id));
      await makeAnew(tx, r, row.recordId);
      const [after] = row.change === null ? [null] : await r.read(tx, row.recordId);
      await audit(tx, {
        at: context.now(),
        personId: row.madeBy,
        action: row.change === null ? `removed, as planned for ${row.day}` : `changed, as planned for ${row.day}`,
        subject: r.name,
        subjectId: String(row.recordId),
        before,
        after,
      });
    });
  } catch (error) {
    const why = wordsOf(error) ?? (breaksConstraint(error) ? 'something it names is there no longer' : null);
    // the database is away, or somebody was in the way: it is tried again
    if (why === null) throw error;
    await inTransaction(context.db, async (tx) => {
      const [row] = await tx.update(changesToCome).set({ state: 'failed', trouble: why }).where(still).returning();
      if (!row) return;
      // what comes after it comes without it; where that cannot be either, it is said on its own day
      await tx
        .transaction((rest) => makeAnew(rest, r, recordId))
        .catch((e: unknown) => {
          if (wordsOf(e) === null && !breaksConstraint(e)) throw e;
        });
      context.log.warn({ change: id }, 'a change to come could not be carried out');
      await audit(tx, {
        at: context.now(),
        personId: row.madeBy,
        action: 'planned a change that could not be carried out',
        subject: 'changes-to-come',
        subjectId: String(id),
        after: { register: row.register, record: String(row.recordId), day: row.day, trouble: why },
      });
    });
  }
}
