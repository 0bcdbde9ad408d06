import { asc } from 'drizzle-orm';
import { KINDS, MEMBERS } from '#contract/records/kinds.ts';
import type { ListEntry } from '#core/lists/entries.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries } from '../platform/database.ts';
import { records } from './tables.ts';

type Declared = Pick<Workspace, (typeof MEMBERS)[number]>;

/** All declared records: those that are members of a workspace, and the entries by the list they stand on. */
export async function readDeclared(
  db: Queries,
): Promise<{ members: Declared; entries: ReadonlyMap<string, readonly ListEntry[]> }> {
  const members = Object.fromEntries(MEMBERS.map((m) => [m, [] as unknown[]])) as Record<string, unknown[]>;
  const entries = new Map<string, ListEntry[]>();
  const known = new Set<string>(KINDS.map((k) => k.name));
  for (const row of await db.select().from(records).orderBy(asc(records.id))) {
    if (!known.has(row.kind)) continue;
    const id = String(row.id);
    if (row.kind === 'entries') {
      const { list, ...entry } = row.body as unknown as ListEntry & { list: string };
      const bucket = entries.get(list);
      if (bucket) bucket.push({ ...entry, id });
      else entries.set(list, [{ ...entry, id }]);
    } else members[row.kind]!.push({ ...row.body, id, version: row.version });
  }
  return { members: members as unknown as Declared, entries };
}
