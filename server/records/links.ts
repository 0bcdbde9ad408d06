import { and, eq } from 'drizzle-orm';
import type { Fields } from '#contract/records/declare.ts';
import { linksOf } from '#contract/records/links.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { recordLinks, records } from './tables.ts';

/** Writes down what a record points to. */
export async function keepLinks(
  tx: Tx,
  from: { kind: string; id: number },
  fields: Fields,
  row: Readonly<Record<string, unknown>>,
): Promise<void> {
  await dropLinks(tx, from.kind, from.id);
  const links = linksOf(fields, row);
  if (links.length > 0)
    await tx
      .insert(recordLinks)
      .values(links.map((l) => ({ fromKind: from.kind, fromId: from.id, toKind: l.to, toId: Number(l.id) })));
}

/** A record that is gone points to nothing. */
export async function dropLinks(tx: Tx, kind: string, id: number): Promise<void> {
  await tx.delete(recordLinks).where(and(eq(recordLinks.fromKind, kind), eq(recordLinks.fromId, id)));
}

const NAMED = 5;

/** Refuses to remove what others point to, and names them. */
export async function refuseWhileLinked(tx: Tx, title: string, toKind: string, toId: number): Promise<void> {
  const found = await tx
    .select({ kind: recordLinks.fromKind, id: recordLinks.fromId, body: records.body })
    .from(recordLinks)
    .leftJoin(records, eq(records.id, recordLinks.fromId))
    .where(and(eq(recordLinks.toKind, toKind), eq(recordLinks.toId, toId)))
    .limit(NAMED + 1);
  if (found.length === 0) return;
  const named = found.slice(0, NAMED).map((f) => {
    const name = f.body?.['name'];
    return `${f.kind} ${typeof name === 'string' ? `“${name}”` : f.id}`;
  });
  throw refused('in_use', { what: title, by: `${named.join(', ')}${found.length > NAMED ? ' and others' : ''}` });
}
