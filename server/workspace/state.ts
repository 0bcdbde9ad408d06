import { sql } from 'drizzle-orm';
import { Prepared, type PostedPrice, type Workspace } from '#core/workspace/index.ts';
import { type Revisions, holdState, revisionText, revisionsOf } from '../ledger/audit.ts';
import { type Db, type Queries, type Tx, inSnapshot } from '../platform/database.ts';
import { readAsOf } from '../platform/history.ts';
import { type CatalogueRows, copyCatalogue, selectCatalogue } from './catalogue-rows.ts';
import { catalogueOf, loadRules, readPosted, readRules } from './load-workspace.ts';

/** What prices of a day are made of, at one moment. */
export interface Loaded {
  /** Names the state: the same text, the same figures. */
  readonly revision: string;
  readonly day: string;
  readonly ws: Prepared;
}

/** Names the part of a state that items and their packs come from. */
export const catalogueName = ({ revision }: Pick<Loaded, 'revision'>): string =>
  revision.startsWith(AS_OF) ? revision : revision.split('.')[0]!;

const AS_OF = 'as of ';

/** What names a state: of the rules and prices of now, or as of an entry of the record of changes. */
export const stateName = async (db: Db, entry: number | null): Promise<string> =>
  entry === null ? revisionText(await revisionsOf(db)) : `${AS_OF}${entry}`;

/** The same name for all states of a day that differ in posted prices alone. */
export const unposted = (name: string): string => name.replace(/^(\d+\.\d+)\.\d+/, '$1');

/** A state with what the next one is made from. */
interface State extends Loaded {
  readonly revisions: Revisions;
}

/** The last few states, so that looking around does not read everything again. */
const kept = new WeakMap<object, Map<string, { loading: Promise<State>; loaded: State | null }>>();
const MOST_KEPT = 4;

export async function workspaceOn(owner: Db, day: string): Promise<Loaded> {
  const revision = revisionText(await revisionsOf(owner));
  return keptState(owner, `${revision}/${day}`, (before) =>
    // one snapshot, with the revisions that belong to it
    inSnapshot(owner.$client, (client, snapshot) => nextState(snapshot, day, before, () => copyCatalogue(client, day))),
  );
}

/**
 * Prices of a day from what was known once an entry of the record of changes was written: rules, items, costs and postings
 * as they were then, whatever has become of them since.
 */
export async function workspaceAsOf(owner: Db, day: string, entry: number): Promise<Loaded> {
  return keptState(owner, `${AS_OF}${entry}/${day}`, () =>
    inSnapshot(owner.$client, async (client, snapshot) => {
      await readAsOf(client, entry);
      const workspace = {
        ...(await loadRules(snapshot, await copyCatalogue(client, day))),
        posted: await readPosted(snapshot, day),
      };
      // no later state is made from one of the past
      const revisions = { catalogue: -1, rules: -1, posted: -1 };
      return { revision: `${AS_OF}${entry}`, revisions, day, ws: new Prepared(workspace) };
    }),
  );
}

function keptState(owner: Db, key: string, read: (before: readonly State[]) => Promise<State>): Promise<State> {
  const states = kept.get(owner) ?? new Map<string, { loading: Promise<State>; loaded: State | null }>();
  kept.set(owner, states);
  const known = states.get(key);
  if (known) return known.loading;
  const loading = read([...states.values()].flatMap((s) => s.loaded ?? []));
  const state = { loading, loaded: null as State | null };
  states.set(key, state);
  while (states.size > MOST_KEPT) states.delete(states.keys().next().value!);
  loading.then(
    (loaded) => (state.loaded = loaded),
    () => states.delete(key),
  );
  return loading;
}

/**
 * The state as of a transaction that changes what is computed from it: nobody changes it until that ends. Read on the
 * transaction's own connection where it is not at hand: waiting for another would wait for those who wait for this one.
 */
export async function workspaceIn(tx: Tx, owner: Db, day: string): Promise<Loaded> {
  await holdState(tx);
  const revision = revisionText(await revisionsOf(tx));
  const states = kept.get(owner);
  const known = states?.get(`${revision}/${day}`)?.loaded;
  if (known) return known;
  const before = [...(states?.values() ?? [])].flatMap((s) => s.loaded ?? []);
  return nextState(tx, day, before, () => selectCatalogue(tx, day));
}

/** The state of a day, made from those at hand: only the layers that have changed since are read. */
async function nextState(
  db: Queries,
  day: string,
  before: readonly State[],
  readCatalogue: () => Promise<CatalogueRows>,
): Promise<State> {
  const revisions = await revisionsOf(db);
  const latest = [...before].reverse();
  const rulesOf = latest.find((s) => s.revisions.rules === revisions.rules);
  // which items are sold, which costs count and which prices stand hangs on the day too
  const ofDay = latest.filter((s) => s.day === day);
  const catalogueFrom = ofDay.find((s) => s.revisions.catalogue === revisions.catalogue);
  const rules = rulesOf?.ws.workspace ?? (await readRules(db));
  const { items, costs } = catalogueFrom?.ws.workspace ?? catalogueOf(await readCatalogue());
  const { posted, moved, from } = await nextPosted(db, day, revisions.posted, ofDay);
  const workspace: Workspace = { ...rules, items, costs, posted };
  const ws = new Prepared(workspace, (from ?? catalogueFrom)?.ws, moved);
  return { revision: revisionText(revisions), revisions, day, ws };
}

interface NextPosted {
  readonly posted: readonly PostedPrice[];
  /** The state they were made from, and what differs from it. */
  readonly from?: State;
  readonly moved?: { readonly gone: readonly PostedPrice[]; readonly now: readonly PostedPrice[] };
}

/** Beyond so many changed prices everything is read: one sorted pass is faster than many look-ups. */
const MOST_CHANGED = 20_000;
/** What a list holds is told by list, item and pack; a pack is of one item. */
const keyOf = (p: Pick<PostedPrice, 'list' | 'pack'>) => `${p.list}/${p.pack}`;

/** The prices in force: those at hand, with what was posted since. */
async function nextPosted(db: Queries, day: string, revision: number, ofDay: readonly State[]): Promise<NextPosted> {
  const same = ofDay.find((s) => s.revisions.posted === revision);
  if (same) return { posted: same.ws.workspace.posted, from: same };
  // a state that is ahead of this snapshot knows postings that are not in it
  const base = ofDay.find((s) => s.revisions.posted < revision);
  if (!base) return { posted: await readPosted(db, day) };
  // by the record of changes: it is in the order in which changes were committed, the numbers of lines need not be
  const fresh = await db.execute<{ list: number; pack: number }>(sql`
    select distinct l.list_id as list, l.pack_id as pack from posting_lines l
    where l.posting_id in (
      select a.subject_id::int from audit_entries a where a.id > ${base.revisions.posted} and a.subject = 'postings')
    limit ${MOST_CHANGED + 1}`);
  if (fresh.rows.length > MOST_CHANGED) return { posted: await readPosted(db, day) };
  const touched = new Set(fresh.rows.map((r) => `${r.list}/${r.pack}`));
  if (touched.size === 0) return { posted: base.ws.workspace.posted, from: base };
  const packs = [...new Set(fresh.rows.map((r) => r.pack))];
  const now = (await readPosted(db, day, packs)).filter((p) => touched.has(keyOf(p)));
  const gone: PostedPrice[] = [];
  // of a million texts that would be put together for a key, few have to be
  const ofPacks = new Set(packs.map(String));
  const stay = base.ws.workspace.posted.filter((p) => {
    const goes = ofPacks.has(p.pack) && touched.has(keyOf(p));
    if (goes) gone.push(p);
    return !goes;
  });
  return { posted: [...stay, ...now], from: base, moved: { gone, now } };
}
