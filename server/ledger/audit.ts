import { max, sql } from 'drizzle-orm';
import type { Queries, Tx } from '../platform/database.ts';
import { auditEntries } from './tables.ts';

export interface Audit {
  at: Date;
  personId: number | null;
  action: string;
  subject: string;
  subjectId: string;
  before?: unknown;
  after?: unknown;
}

/**
 * Writes who changed what; part of the transaction of the change itself. Writers take turns until they commit:
 * so entries become visible in the order of their ids, and the highest id names one state and no other.
 */
export async function audit(tx: Tx, entry: Audit): Promise<void> {
  await holdState(tx);
  await tx.insert(auditEntries).values({ ...entry, before: entry.before ?? null, after: entry.after ?? null });
}

/** From here to its end the transaction alone may change anything: whoever else would waits before it writes its entry. */
export async function holdState(tx: Tx): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(7302)`);
}

/** The state of the workspace: every change writes an audit entry, so the highest one names it. */
export async function revisionOf(db: Queries): Promise<string> {
  const [row] = await db.select({ id: max(auditEntries.id) }).from(auditEntries);
  return String(row?.id ?? 0);
}
