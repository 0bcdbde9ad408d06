import { eq, max, sql } from 'drizzle-orm';
import type { Queries, Tx } from '../platform/database.ts';
import { isPool, prepared } from '../platform/prepared.ts';
import { auditEntries, layers } from './tables.ts';

export interface Audit {
  at: Date;
  personId: number | null;
  action: string;
  subject: string;
  subjectId: string;
  before?: unknown;
  after?: unknown;
}

export type Layer = 'catalogue' | 'rules' | 'posted';

/** What prices are made from, by the part that a subject changes; null: none of it. What is not named here is a rule. */
const LAYER_OF: Readonly<Record<string, Layer | null>> = {
  items: 'catalogue',
  'cost-sheets': 'catalogue',
  bills: 'catalogue',
  postings: 'posted',
  'posting-requests': null,
  quotes: null,
  people: null,
  worksheets: null,
  'access-keys': null,
  connections: null,
};

/** Subjects that change nothing prices are made from. */
export const OUTSIDE_PRICES: readonly string[] = Object.entries(LAYER_OF).flatMap(([name, layer]) =>
  layer === null ? [name] : [],
);

/**
 * Writes who changed what; part of the transaction of the change itself. Writers take turns until they commit: so a layer's
 * revision names one state of it and no other. `layers`: what the change reaches, where that is more than its subject says.
 */
export async function audit(
  tx: Tx,
  { layers: reached, ...entry }: Audit & { layers?: readonly Layer[] },
): Promise<void> {
  await holdState(tx);
  const [row] = await tx
    .insert(auditEntries)
    .values({ ...entry, before: entry.before ?? null, after: entry.after ?? null })
    .returning({ id: auditEntries.id });
  const own = entry.subject in LAYER_OF ? LAYER_OF[entry.subject]! : 'rules';
  const names = reached ?? (own === null ? [] : [own]);
  if (names.length === 0) return;
  const revision = row!.id;
  await tx
    .insert(layers)
    .values(names.map((name) => ({ name, revision })))
    .onConflictDoUpdate({ target: layers.name, set: { revision } });
}

/** From here to its end the transaction alone may change anything: whoever else would waits before it writes its entry. */
export async function holdState(tx: Tx): Promise<void> {
  await tx.execute(sql`select pg_advisory_xact_lock(7302)`);
}

export type Revisions = Readonly<Record<Layer, number>>;

const allLayers = prepared((db) => db.select().from(layers).prepare('layers'));

/** The state of each part of what prices are made from. Quotes, sessions, people and worksheets raise none. */
export async function revisionsOf(db: Queries): Promise<Revisions> {
  const rows = isPool(db) ? await allLayers(db) : await db.select().from(layers);
  return { ...AT_FIRST, ...Object.fromEntries(rows.map((r) => [r.name, r.revision])) };
}

const AT_FIRST: Revisions = { catalogue: 0, rules: 0, posted: 0 };

/** The same as a column of another question: who asks both asks the database once. */
export const revisionsColumn = sql<Revisions>`(
  select ${JSON.stringify(AT_FIRST)}::jsonb || coalesce(jsonb_object_agg(${layers.name}, ${layers.revision}), '{}') from ${layers}
)`.as('revisions');

/** The state of all of it, as one text. */
export const revisionText = (r: Revisions): string => `${r.catalogue}.${r.rules}.${r.posted}`;

/** The entry of the record of changes after which a state was as its text names it. */
export const entryOf = (revision: string): number => Math.max(...revision.split('.').map(Number));

export const revisionOf = async (db: Queries): Promise<string> => revisionText(await revisionsOf(db));

/** The highest id of the entries about one kind of record; 0: there is none. */
export async function lastEntryAbout(db: Queries, subject: string): Promise<number> {
  const [row] = await db
    .select({ last: max(auditEntries.id) })
    .from(auditEntries)
    .where(eq(auditEntries.subject, subject));
  return row?.last ?? 0;
}
