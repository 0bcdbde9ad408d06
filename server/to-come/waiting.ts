import { and, asc, eq, lte } from 'drizzle-orm';
import type { ProblemCode } from '#contract/problems.ts';
import { withMoves } from '#core/workspace/to-come.ts';
import { holdState } from '../ledger/audit.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { Refused, refused } from '../platform/refused.ts';
import { faultsAt } from '../records/check.ts';
import { readRules } from '../workspace/read-rules.ts';
import { type Body, type Change, bodyOf, movesOf } from './moves.ts';
import type { AnyRegister } from '../setup/register.ts';
import { movesIn } from './rules-on.ts';
import { changesToCome } from './tables.ts';

export type Waiting = typeof changesToCome.$inferSelect;

/** The changes of a record that wait, in the order in which they will hold. */
export const waitingOf = (db: Queries, register: string, id: number): Promise<Waiting[]> =>
  db
    .select()
    .from(changesToCome)
    .where(
      and(eq(changesToCome.state, 'waiting'), eq(changesToCome.register, register), eq(changesToCome.recordId, id)),
    )
    .orderBy(asc(changesToCome.day), asc(changesToCome.id));

/** What waits, all of it or what is due by a day, in the order in which it holds. */
export const allWaiting = (db: Queries, by?: string): Promise<Waiting[]> =>
  db
    .select()
    .from(changesToCome)
    .where(and(eq(changesToCome.state, 'waiting'), by === undefined ? undefined : lte(changesToCome.day, by)))
    .orderBy(asc(changesToCome.day), asc(changesToCome.id));

/** A value as far as it says something: what is not given is left out, fields in one order. */
function said(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(said);
  if (value === null || typeof value !== 'object') return value ?? null;
  const given = Object.entries(value).filter(([, v]) => v !== null && v !== undefined);
  return Object.fromEntries(given.map(([k, v]) => [k, said(v)] as const).sort(([a], [b]) => (a < b ? -1 : 1)));
}

const same = (a: unknown, b: unknown) => JSON.stringify(said(a)) === JSON.stringify(said(b));

/** A record once these changes hold. */
export const withChanges = (body: Body, changes: readonly Change[]): Body =>
  changes.reduce<Body>((b, change) => ({ ...b, ...change }), body);

/** What a form began with: the record as it is kept, with the changes to come that the form knew. */
export async function baseOf(
  db: Queries,
  r: AnyRegister,
  id: number,
  waiting: readonly Waiting[],
  upon: readonly string[],
): Promise<Body> {
  const known = waiting.filter((w) => upon.includes(String(w.id))).map((w) => w.change);
  return withChanges((await bodyOf(db, r, id)).body, known);
}

/** The fields that a form holds beyond what it began with; both as the register takes them. */
export function changeIn(r: AnyRegister, body: Body, base: Body): Body {
  const before = r.body.cast(base, { assert: false }) as Body;
  const change = Object.fromEntries(Object.entries(body).filter(([k, v]) => k in base && !same(v, before[k])));
  if (Object.keys(change).length === 0)
    throw refused(
      'fields_wrong',
      {},
      { faults: [{ path: 'body', message: 'says nothing else than what stands by then' }] },
    );
  return change;
}

/** What a refusal says, with its fields. */
export function wordsOf(error: unknown): string | null {
  if (!(error instanceof Refused)) return null;
  const { message, faults } = error.problem;
  return faults?.length ? faults.map((f) => `${f.path} ${f.message}`).join('; ') : message;
}

function hinderedBy(error: unknown, code: ProblemCode, day: string): unknown {
  const why = wordsOf(error);
  return why === null ? error : refused(code, { day, why });
}

/**
 * Works out anew what a record's waiting changes make of it: it is another one, or they are. Refused where one of them could
 * no longer be carried out; `about`: the one that is being made, whose own refusal speaks for itself.
 */
export async function makeAnew(tx: Tx, r: AnyRegister, id: number, about?: number): Promise<void> {
  const rows = await waitingOf(tx, r.name, id);
  if (rows.length === 0) return;
  // what others change meanwhile is none of it
  await holdState(tx);
  const made = await movesOf(
    tx,
    r,
    id,
    rows.map((w) => w.change),
    (at, error) => (rows[at]!.id === about ? error : hinderedBy(error, 'to_come_hindered', rows[at]!.day)),
  );
  for (const [n, row] of rows.entries())
    if (row.moves !== JSON.stringify(made[n]))
      await tx
        .update(changesToCome)
        .set({ moves: JSON.stringify(made[n]), version: row.version + 1 })
        .where(eq(changesToCome.id, row.id));
}

/** Refuses to remove a record that a change to come is of, or that one points to. */
export async function refuseWhileToCome(tx: Tx, r: { name: string; title: string }, id: number): Promise<void> {
  const all = await allWaiting(tx);
  if (all.length === 0) return;
  const own = all.find((w) => w.register === r.name && w.recordId === id);
  if (own) throw refused('to_come_waits', { what: r.title, day: own.day });
  let rules = await readRules(tx);
  for (const row of all) {
    const { day } = row;
    const moves = movesIn(row);
    rules = withMoves(rules, moves);
    for (const { member, id: of, becomes } of moves) {
      if (!becomes) continue;
      const at = (rules[member] as readonly { id: string }[]).findIndex((row) => row.id === of);
      const [fault] = await faultsAt(tx, rules, `$.${member}[${at}]`);
      if (fault) throw refused('to_come_hindered', { day, why: `${fault.path} must be ${fault.expected}` });
    }
  }
}
