import { createHash, randomBytes } from 'node:crypto';
import { and, asc, eq, sql } from 'drizzle-orm';
import type { AccessKey, AccessKeyBody, FreshKey, Right } from '#contract/people.ts';
import { rightsOf } from '#contract/people.ts';
import { plusDays } from '#core/numbers/day.ts';
import { audit, revisionsColumn } from '../ledger/audit.ts';
import { type Context, dayIn } from '../platform/context.ts';
import { type Db, inTransaction } from '../platform/database.ts';
import { prepared } from '../platform/prepared.ts';
import { refused } from '../platform/refused.ts';
import { readSettings } from '../setup/settings.ts';
import { workspaceSettings } from '../setup/tables.ts';
import { accessKeys, people, signedInColumns } from './tables.ts';
import type { Identified, SignedIn } from '../platform/http/signed-in.ts';

const hashOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** A key that nobody looks after ends by itself. */
const LONGEST_DAYS = 366;
const SUBJECT = 'access keys';
/** How exactly the last use is kept, in milliseconds. */
const MINUTE = 60_000;

const shown = (row: typeof accessKeys.$inferSelect): AccessKey => ({
  id: String(row.id),
  name: row.name,
  rights: row.rights as Right[],
  lastDay: row.lastDay,
  madeAt: row.madeAt.toISOString(),
  lastUsed: row.lastUsed?.toISOString() ?? null,
});

export async function keysOf(context: Context, person: SignedIn): Promise<AccessKey[]> {
  const rows = await context.db
    .select()
    .from(accessKeys)
    .where(eq(accessKeys.personId, person.id))
    .orderBy(asc(accessKeys.id));
  return rows.map(shown);
}

const oneFault = (path: string, message: string) => refused('fields_wrong', {}, { faults: [{ path, message }] });

/** Makes a key; its text is in the answer and nowhere else. */
export async function makeKey(context: Context, person: SignedIn, body: AccessKeyBody): Promise<FreshKey> {
  const missing = body.rights.find((r) => !person.rights.has(r));
  if (missing) throw oneFault('rights', 'a key cannot do what you may not');
  const at = context.now();
  const today = dayIn((await readSettings(context.db)).timeZone, at);
  if (body.lastDay < today) throw oneFault('lastDay', 'lies in the past');
  if (body.lastDay > plusDays(today, LONGEST_DAYS)) throw oneFault('lastDay', 'lies more than a year ahead');
  const key = `hl_${randomBytes(32).toString('base64url')}`;
  return inTransaction(context.db, async (tx) => {
    const { name, lastDay } = body;
    const rights = [...new Set(body.rights)];
    const [row] = await tx
      .insert(accessKeys)
      .values({ personId: person.id, name, rights, lastDay, hash: hashOf(key), madeAt: at })
      .returning();
    await audit(tx, {
      at,
      personId: person.id,
      action: 'made an access key',
      subject: SUBJECT,
      subjectId: String(row!.id),
      after: { name, rights, lastDay },
    });
    return { ...shown(row!), key };
  });
}

export async function endKey(context: Context, person: SignedIn, id: number): Promise<void> {
  await inTransaction(context.db, async (tx) => {
    const [gone] = await tx
      .delete(accessKeys)
      .where(and(eq(accessKeys.id, id), eq(accessKeys.personId, person.id)))
      .returning();
    if (!gone) throw refused('not_found', { what: 'The access key', id: String(id) });
    await audit(tx, {
      at: context.now(),
      personId: person.id,
      action: 'ended an access key',
      subject: SUBJECT,
      subjectId: String(id),
      before: { name: gone.name, rights: gone.rights, lastDay: gone.lastDay },
    });
  });
}

const keyWithPerson = prepared((db) =>
  db
    .select({
      key: { id: accessKeys.id, rights: accessKeys.rights, lastUsed: accessKeys.lastUsed },
      person: signedInColumns,
      revisions: revisionsColumn,
    })
    .from(accessKeys)
    .innerJoin(people, eq(people.id, accessKeys.personId))
    .innerJoin(workspaceSettings, sql`true`)
    .where(
      and(
        eq(accessKeys.hash, sql.placeholder('hash')),
        // up to its last day, as it is counted here
        sql`${accessKeys.lastDay} >= (${sql.placeholder('at')}::timestamptz at time zone ${workspaceSettings.timeZone})::date`,
      ),
    )
    .prepare('key_with_person'),
);

/** In whose name a key asks and with which rights: never more than the person has now. Null: it is no key of ours. */
export async function personOfKey(context: Context, key: string): Promise<Identified | null> {
  const at = context.now();
  // no day begins within a minute: the same question for all who ask in it
  const minute = new Date(Math.floor(at.getTime() / MINUTE) * MINUTE);
  const [found] = await keyWithPerson(context.db, { hash: hashOf(key), at: minute.toISOString() });
  if (!found?.person.active) return null;
  const { key: row, person: p, revisions } = found;
  await noteUse(context, row, at);
  const has = rightsOf(p);
  const rights = new Set((row.rights as Right[]).filter((r) => has.has(r)));
  return { person: { id: p.id, name: p.name, role: p.role, rights }, revisions };
}

/** When uses of keys were last noted here. */
const noted = new WeakMap<Db, Map<number, number>>();

/** Notes that a key is used. Of many who use it in the same minute one does: the others would wait for each other. */
async function noteUse(
  { db }: Context,
  { id, lastUsed }: Pick<typeof accessKeys.$inferSelect, 'id' | 'lastUsed'>,
  at: Date,
): Promise<void> {
  const mine = noted.get(db) ?? new Map<number, number>();
  noted.set(db, mine);
  const last = Math.max(lastUsed?.getTime() ?? -Infinity, mine.get(id) ?? -Infinity);
  if (at.getTime() - last <= MINUTE) return;
  mine.set(id, at.getTime());
  try {
    await db.update(accessKeys).set({ lastUsed: at }).where(eq(accessKeys.id, id));
  } catch (error) {
    mine.delete(id);
    throw error;
  }
}
