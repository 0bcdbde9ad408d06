import { sql } from 'drizzle-orm';
import { dayText } from '#contract/fields.ts';
import { type Context, dayIn } from '../platform/context.ts';
import { OUTSIDE_PRICES, type Revisions, revisionsOf } from '../ledger/audit.ts';
import type { Db } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { settingsAt } from '../setup/settings.ts';
import { itemsOn } from './few-items.ts';
import { type Loaded, stateAtHand, stateName, workspaceAsOf, workspaceAt } from './state.ts';

/** The database, and what time it is. */
type Here = Pick<Context, 'db' | 'now'>;

export const today = async (context: Here): Promise<string> => todayAt(context, await revisionsOf(context.db));

const todayAt = async ({ db, now }: Here, revisions: Revisions): Promise<string> =>
  dayIn((await settingsAt(db, revisions)).timeZone, now());

/** The day that figures are asked for; today where none is named. */
export async function askedDay(context: Here, query: Record<string, string>, field = 'day'): Promise<string> {
  const asked = query['day'];
  if (!asked) return today(context);
  if (!dayText().isValidSync(asked))
    throw refused('fields_wrong', {}, { faults: [{ path: field, message: 'must be a day such as 2026-03-09' }] });
  return asked;
}

/** The state of a day: one that has gone by is shown as it was at its end, with the rules and costs of then. `at`: the revisions of now, where they are known. */
export async function stateOn(context: Here, day: string, at?: Revisions): Promise<Loaded> {
  const revisions = at ?? (await revisionsOf(context.db));
  const last = await endOf(context, day, revisions);
  return last === null ? workspaceAt(context.db, day, revisions) : workspaceAsOf(context.db, day, last);
}

/**
 * The same for figures of a few items. That of today is asked for by everybody and kept; of another day that nobody looks at
 * only these items are read.
 */
export async function stateOfItems(
  context: Here,
  day: string,
  items: readonly string[],
  at?: Revisions,
): Promise<Loaded> {
  const revisions = at ?? (await revisionsOf(context.db));
  if (day === (await todayAt(context, revisions))) return stateOn(context, day, revisions);
  const last = await endOf(context, day, revisions);
  const atHand = stateAtHand(context.db, `${stateName(revisions, last)}/${day}`);
  return atHand ?? itemsOn(context.db, day, items.filter(isId), last);
}

const isId = (id: string) => /^\d{1,9}$/.test(id);

/** Names the state of a day, without reading it. */
export async function stateNameOn(context: Here, day: string): Promise<string> {
  const revisions = await revisionsOf(context.db);
  return `${stateName(revisions, await endOf(context, day, revisions))}/${day}`;
}

/** The entry of the record of changes that a day ended with; null: it has not ended, or nothing was written since. */
async function endOf(context: Here, day: string, revisions: Revisions): Promise<number | null> {
  if (day >= (await todayAt(context, revisions))) return null;
  return lastEntryOf(context.db, day, (await settingsAt(context.db, revisions)).timeZone);
}

export const stateAsked = async (context: Here, query: Record<string, string>): Promise<Loaded> =>
  stateOn(context, await askedDay(context, query));

/** The last entry of the record of changes up to the end of a day; null: none was written since. */
async function lastEntryOf(db: Db, day: string, timeZone: string): Promise<number | null> {
  const { rows } = await db.execute<{ last: number; newest: number }>(sql`
    select coalesce(max(id) filter (where at < (${day}::date + 1)::timestamp at time zone ${timeZone}), 0) as last,
      coalesce(max(id), 0) as newest
    from audit_entries where change <> 0 and subject <> all(${sql.param(OUTSIDE_PRICES)}::text[])`);
  const { last, newest } = rows[0]!;
  return last === newest ? null : last;
}
