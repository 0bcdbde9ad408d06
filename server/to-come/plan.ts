import { eq } from 'drizzle-orm';
import type { InferType } from 'yup';
import type { planBody } from '#contract/to-come.ts';
import { audit, holdState } from '../ledger/audit.ts';
import type { Tx } from '../platform/database.ts';
import { validated } from '../platform/http/route.ts';
import { refused } from '../platform/refused.ts';
import { expectVersion, recordId } from '../setup/one-record.ts';
import type { Body, Change } from './moves.ts';
import type { AnyRegister } from '../setup/register.ts';
import { changesToCome } from './tables.ts';
import { type Waiting, baseOf, changeIn, makeAnew, waitingOf } from './waiting.ts';

export type PlanAsked = Omit<InferType<typeof planBody>, 'register'>;

export interface By {
  readonly at: Date;
  readonly person: number;
}

/** Writes a change to come down, checked as it will be carried out; of one record and day there is one. */
export async function planChange(tx: Tx, { at, person }: By, r: AnyRegister, asked: PlanAsked): Promise<number> {
  const id = recordId(r.title, asked.record);
  await expectVersion(tx, r, id, asked.version);
  await holdState(tx);
  const waiting = await waitingOf(tx, r.name, id);
  if (asked.upon.some((of) => !waiting.some((w) => String(w.id) === of && w.day <= asked.day)))
    throw refused('to_come_moved_on', { what: r.title });
  const base = await baseOf(tx, r, id, waiting, asked.upon);
  const change: Change = asked.body === null ? null : changeIn(r, validated(r.body, asked.body) as Body, base);
  const known = waiting.find((w) => w.day === asked.day);
  const values = {
    // of the same day it is one change: what it said before, and this
    change: change && known?.change ? { ...known.change, ...change } : change,
    reason: asked.reason,
    madeBy: person,
    madeAt: at,
  };
  const [row] = known
    ? await tx
        .update(changesToCome)
        .set({ ...values, version: known.version + 1 })
        .where(eq(changesToCome.id, known.id))
        .returning()
    : await tx
        .insert(changesToCome)
        .values({ ...values, register: r.name, recordId: id, day: asked.day, moves: '[]' })
        .returning();
  await makeAnew(tx, r, id, row!.id);
  await audit(tx, {
    at,
    personId: person,
    action: `planned a change of ${r.name} ${id} for ${asked.day}`,
    subject: 'changes-to-come',
    subjectId: String(row!.id),
    before: told(known),
    after: told(row),
  });
  return row!.id;
}

/** What the record of changes says of one. */
export const told = (row: Waiting | undefined) =>
  row && {
    register: row.register,
    record: String(row.recordId),
    day: row.day,
    reason: row.reason,
    change: row.change ?? 'removed',
  };
