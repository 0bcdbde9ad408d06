import { and, asc, eq } from 'drizzle-orm';
import type { RecordKind } from '#contract/records/declare.ts';
import { MEMBERS } from '#contract/records/kinds.ts';
import { pruned, schemaOf } from '#contract/records/schema.ts';
import { sameness } from '#core/items/described.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { holdState } from '../ledger/audit.ts';
import { KNOWN_BY_NAME, refuseWhileSaid } from '../items/described.ts';
import type { Queries, Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import type { Register } from '../setup/register.ts';
import { putMember, refuseFaults } from './check.ts';
import { keepLinks } from './links.ts';
import { records } from './tables.ts';
import type { Stored } from '../setup/stored.ts';

type Body = Record<string, unknown>;

/** Everything of one kind, as it was kept, in the order in which it was made. */
export async function readRecords(db: Queries, kind: string, only?: number): Promise<(Body & Stored)[]> {
  const rows = await db
    .select()
    .from(records)
    .where(and(eq(records.kind, kind), only === undefined ? undefined : eq(records.id, only)))
    .orderBy(asc(records.id));
  return rows.map(({ id, version, body }) => ({ ...body, id: String(id), version }));
}

async function refuseTwice(tx: Tx, kind: string, id: number | null, name: unknown): Promise<void> {
  if (!KNOWN_BY_NAME.includes(kind) || typeof name !== 'string') return;
  const others = await tx.select({ id: records.id, body: records.body }).from(records).where(eq(records.kind, kind));
  const twin = others.find((o) => o.id !== id && sameness(String(o.body['name']), null) === sameness(name, null));
  if (twin)
    throw refused(
      'fields_wrong',
      {},
      { faults: [{ path: 'name', message: `is there already, as “${String(twin.body['name'])}”` }] },
    );
}

/** The register of a declared kind: routes, audit and the check of its references follow from the declaration. */
export function recordRegister(kind: RecordKind): Register<Body> {
  const title = `The ${kind.one}`;
  return {
    name: kind.name,
    title,
    body: schemaOf(kind.fields),
    readRight: kind.readRight,
    changeRight: kind.changeRight,
    read: (db, only) => readRecords(db, kind.name, only),
    check: async (tx, body, id) => {
      // who else adds or removes what this points to waits until it is kept
      await holdState(tx);
      const name = body['name'];
      if (id !== null) await refuseWhileSaid(tx, kind.name, id, typeof name === 'string' ? name : null);
      await refuseTwice(tx, kind.name, id, name);
      await refuseFaults(tx, (ws) =>
        putInto(ws, kind.name, { ...pruned(kind.fields, body), id: String(id ?? 'new'), version: 1 }),
      );
    },
    write: async (tx, id, body, version) => {
      const kept = pruned(kind.fields, body);
      const [row] =
        id === null
          ? await tx.insert(records).values({ kind: kind.name, version, body: kept }).returning({ id: records.id })
          : await tx
              .update(records)
              .set({ version, body: kept })
              .where(and(eq(records.id, id), eq(records.kind, kind.name)))
              .returning({ id: records.id });
      await keepLinks(tx, { kind: kind.name, id: row!.id }, kind.fields, kept);
      return row!.id;
    },
    remove: async (tx, id) => {
      await refuseWhileSaid(tx, kind.name, id, null);
      await tx.delete(records).where(and(eq(records.id, id), eq(records.kind, kind.name)));
    },
  };
}

/** The workspace with a record put in, and where it then stands. An entry stands inside of its list. */
function putInto(ws: Workspace, kind: string, record: Body & Stored): { ws: Workspace; at: string } {
  if (kind === 'entries') {
    const { list, version: _, ...entry } = record;
    const at = ws.lists.findIndex((l) => l.id === list);
    if (at < 0)
      throw refused(
        'fields_wrong',
        {},
        { faults: [{ path: 'list', message: 'must be the id of a known price list' }] },
      );
    const others = (ws.lists[at]!.entries ?? []).filter((e) => e.id !== entry.id);
    const lists = ws.lists.with(at, { ...ws.lists[at]!, entries: [...others, entry as never] });
    return { ws: { ...ws, lists }, at: `$.lists[${at}].entries[${others.length}]` };
  }
  const member = MEMBERS.find((m) => m === kind);
  if (!member) throw new Error(`no member of a workspace for ${kind}`);
  return putMember(ws, member, record);
}
