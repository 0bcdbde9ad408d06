import { and, desc, eq, sql } from 'drizzle-orm';
import { auditEntries } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import type { Register } from './register.ts';
import type { Stored } from './stored.ts';

/** What records call each other by, where that is not the register's name. */
const POINTED_AS: Readonly<Record<string, string>> = { 'customer-groups': 'groups' };
/** What other records call a kind by. */
export const pointedAs = (name: string): string => POINTED_AS[name] ?? name;

/** The number of a record in an address. */
export function recordId(title: string, text: string | undefined): number {
  if (!text || !/^\d{1,9}$/.test(text)) throw refused('not_found', { what: title, id: text ?? '' });
  return Number(text);
}

/** Two who change a record at the same moment take turns; the second then sees the first's version. */
export async function recordTurn(tx: Tx, name: string, id: number): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(hashtext(${name}), ${id})`);
}

/** Refuses a lost update, with the version in store beside the one that was sent. */
export async function expectVersion<B extends object>(
  tx: Tx,
  r: Register<B>,
  id: number,
  version: number,
): Promise<B & Stored> {
  await recordTurn(tx, r.name, id);
  const [current] = await r.read(tx, id);
  if (!current) throw refused('not_found', { what: r.title, id: String(id) });
  if (current.version !== version) {
    const [last] = await tx
      .select({ name: people.name })
      .from(auditEntries)
      .innerJoin(people, eq(people.id, auditEntries.personId))
      .where(and(eq(auditEntries.subject, r.name), eq(auditEntries.subjectId, String(id))))
      .orderBy(desc(auditEntries.id))
      .limit(1);
    throw refused('changed_meanwhile', { what: r.title, by: last?.name ?? 'someone' }, { current });
  }
  return current;
}
