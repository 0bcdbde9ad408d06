import { and, asc, eq, inArray } from 'drizzle-orm';
import { toComeRoutes as declared } from '#contract/api/to-come.ts';
import { type ChangeToCome, TO_COME } from '#contract/to-come.ts';
import { audit, holdState } from '../ledger/audit.ts';
import { people } from '../people/tables.ts';
import type { Context } from '../platform/context.ts';
import { type Queries, inTransaction } from '../platform/database.ts';
import { route } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { recipeRegister } from '../recipes/register.ts';
import { ladderRegister } from '../rounding/register.ts';
import { recordId } from '../setup/one-record.ts';
import { registers } from '../setup/registers.ts';
import { today } from '../workspace/asked-day.ts';
import { carryOutDue } from './carry-out.ts';
import type { Body, Change } from './moves.ts';
import type { AnyRegister } from '../setup/register.ts';
import { planChange, told } from './plan.ts';
import { changesToCome } from './tables.ts';
import { makeAnew, waitingOf, withChanges } from './waiting.ts';
import type { SignedIn } from '../platform/http/signed-in.ts';

/** The registers whose records may be changed from a day to come on. */
export const toComeRegisters: readonly AnyRegister[] = [...registers, recipeRegister, ladderRegister].filter((r) =>
  (TO_COME as readonly string[]).includes(r.name),
);

/** Carries out what is due, of every kind of record. */
export const carryOutAllDue = (context: Pick<Context, 'db' | 'now' | 'log'>): Promise<void> =>
  carryOutDue(context, toComeRegisters);

/** The fields of a change as they stand before it. */
const before = (body: Body, change: Change): Body | null =>
  change && Object.fromEntries(Object.keys(change).map((k) => [k, body[k] ?? null]));

async function shown(db: Queries, person: SignedIn, only?: number): Promise<ChangeToCome[]> {
  const rows = await db
    .select({ row: changesToCome, by: people.name })
    .from(changesToCome)
    .innerJoin(people, eq(people.id, changesToCome.madeBy))
    .where(
      and(
        inArray(changesToCome.state, ['waiting', 'failed']),
        only === undefined ? undefined : eq(changesToCome.id, only),
      ),
    )
    .orderBy(asc(changesToCome.day), asc(changesToCome.id));
  const out: ChangeToCome[] = [];
  for (const { row, by } of rows) {
    const register = toComeRegisters.find((r) => r.name === row.register);
    if (!register || !person.rights.has(register.readRight)) continue;
    const [record] = (await register.read(db, row.recordId)) as readonly Body[];
    const earlier = (await waitingOf(db, row.register, row.recordId)).filter(
      (w) => w.day < row.day || (w.day === row.day && w.id < row.id),
    );
    const then = record && withChanges(record, row.state === 'waiting' ? earlier.map((w) => w.change) : []);
    out.push({
      id: String(row.id),
      version: row.version,
      register: row.register,
      record: String(row.recordId),
      name: typeof record?.['name'] === 'string' ? record['name'] : `${register.title} ${row.recordId}`,
      day: row.day,
      reason: row.reason,
      change: row.change as Record<string, unknown> | null,
      was: then ? (before(then, row.change) as Record<string, unknown> | null) : null,
      by,
      at: row.madeAt.toISOString(),
      trouble: row.trouble,
    });
  }
  return out;
}

export const toComeRoutes = [
  route(declared.all, ({ context, person }) => shown(context.db, person)),
  route(declared.plan, async ({ context, person, body }) => {
    const register = toComeRegisters.find((r) => r.name === body.register)!;
    const now = await today(context);
    if (body.day <= now)
      throw refused(
        'fields_wrong',
        {},
        { faults: [{ path: 'day', message: `must lie after today, ${now}: what holds at once is kept at once` }] },
      );
    await carryOutAllDue(context);
    const id = await inTransaction(context.db, (tx) =>
      planChange(tx, { at: context.now(), person: person.id }, register, body),
    );
    return (await shown(context.db, person, id))[0]!;
  }),
  route(declared.drop, ({ context, person, params, body }) =>
    inTransaction(context.db, async (tx) => {
      const id = recordId('The change to come', params.id);
      await holdState(tx);
      const [row] = await tx.select().from(changesToCome).where(eq(changesToCome.id, id));
      if (!row || !['waiting', 'failed'].includes(row.state))
        throw refused('not_found', { what: 'The change to come', id: params.id });
      if (row.version !== body.version) throw refused('to_come_moved_on', { what: 'The change to come' });
      await tx
        .update(changesToCome)
        .set({ state: 'dropped', version: row.version + 1 })
        .where(eq(changesToCome.id, id));
      const register = toComeRegisters.find((r) => r.name === row.register)!;
      await makeAnew(tx, register, row.recordId);
      await audit(tx, {
        at: context.now(),
        personId: person.id,
        action: `dropped a change planned for ${row.day}`,
        subject: 'changes-to-come',
        subjectId: String(id),
        before: told(row),
      });
      return { removed: true };
    }),
  ),
];
