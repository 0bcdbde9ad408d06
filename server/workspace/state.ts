import { isMainThread } from 'node:worker_threads';
import { Prepared } from '#core/workspace/prepared.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { PostedStore } from '#core/workspace/posted-store.ts';
import { type Revisions, holdState, revisionText, revisionsOf } from '../ledger/audit.ts';
import { type Db, type Queries, type Tx, inSnapshot } from '../platform/database.ts';
import { readAsOf } from '../platform/history.ts';
import { dueName, rulesOn } from '../to-come/rules-on.ts';
import type { Catalogue } from './catalogue.ts';
import { copyCatalogue, selectCatalogue } from './catalogue-rows.ts';
import { type NextCatalogue, nextCatalogue, nextPosted } from './difference.ts';
import { copyPosted, storePosted } from './posted-rows.ts';

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
export const stateName = (revisions: Revisions, entry: number | null): string =>
  entry === null ? revisionText(revisions) : `${AS_OF}${entry}`;

/** The same name for all states of a day that differ in posted prices alone. */
export const unposted = (name: string): string => name.replace(/^(\d+\.\d+)\.\d+/, '$1');

/** A state with what the next one is made from. */
interface State extends Loaded {
  readonly revisions: Revisions;
  /** Without items, costs and posted prices. */
  readonly rules: Workspace;
  /** Names the changes to come that hold by the day. */
  readonly due: string;
}

/** The last few states, so that looking around does not read everything again. */
const kept = new WeakMap<object, Map<string, { loading: Promise<State>; loaded: State | null }>>();
const MOST_KEPT = 4;

/** The same states: a replica's are its primary's, whichever of them they were read from. */
const copies = new WeakMap<Db, Db>();
export const sharesStates = (replica: Db, primary: Db): void => void copies.set(replica, primary);
const keptOf = (owner: Db) => kept.get(copies.get(owner) ?? owner);

export const workspaceOn = async (owner: Db, day: string): Promise<Loaded> =>
  workspaceAt(owner, day, await revisionsOf(owner));

/** The same where the state of now has just been asked for. */
export async function workspaceAt(owner: Db, day: string, revisions: Revisions): Promise<Loaded> {
  return keptState(owner, `${revisionText(revisions)}/${day}`, (before) =>
    // one snapshot, with the revisions that belong to it
    inSnapshot(owner.$client, (client, snapshot) =>
      nextState(snapshot, day, before, {
        catalogue: () => copyCatalogue(client, day),
        posted: (lists) => copyPosted(client, day, lists),
      }),
    ),
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
      const rules = await rulesOn(snapshot, day);
      const workspace = {
        ...rules,
        ...(await copyCatalogue(client, day)),
        posted: await copyPosted(client, day),
      };
      // no later state is made from one of the past
      const revisions = { catalogue: -1, rules: -1, posted: -1 };
      return { revision: `${AS_OF}${entry}`, revisions, day, rules, due: '', ws: new Prepared(workspace) };
    }),
  );
}

const dayOf = (key: string): string => key.slice(key.lastIndexOf('/'));

function keptState(owner: Db, key: string, read: (before: readonly State[]) => Promise<State>): Promise<State> {
  const states = keptOf(owner) ?? new Map<string, { loading: Promise<State>; loaded: State | null }>();
  kept.set(copies.get(owner) ?? owner, states);
  const known = states.get(key);
  if (known) return known.loading;
  // while the first state of a day is being read, those who ask for the next ones do not read everything too: they wait for
  // the one before theirs and take what differs
  const sameDay = key.startsWith(AS_OF)
    ? []
    : [...states].filter(([k]) => k.endsWith(dayOf(key)) && !k.startsWith(AS_OF));
  const last = sameDay.at(-1)?.[1].loading.catch(() => null) ?? null;
  const atHand = () => [...states.values()].flatMap((s) => s.loaded ?? []);
  const loading = (async () => {
    const before = await last;
    // it may have been let go of meanwhile
    return read(before ? [...atHand(), before] : atHand());
  })();
  const state = { loading, loaded: null as State | null };
  states.set(key, state);
  while (states.size > MOST_KEPT) states.delete(states.keys().next().value!);
  loading.then(
    (loaded) => {
      state.loaded = loaded;
      letGo(states, MOST_POSTED);
    },
    () => states.delete(key),
  );
  return loading;
}

/**
 * Of a day the posted prices of so many states that share none: a million of them are thirty megabytes. The next state is made
 * from the last; beside the thread that answers, what has become of a list is told from the one before as well.
 */
const MOST_POSTED = isMainThread ? 1 : 2;

/** Lets go of states that share their posted prices with none of the last `most` of their day. The last of `states` is the newest. */
export function letGo(
  states: Map<
    string,
    { readonly loaded: (Pick<Loaded, 'day'> & { readonly ws: { readonly postedIn: object } }) | null }
  >,
  most: number,
): void {
  const seen = new Map<string, Set<object>>();
  for (const [key, { loaded }] of [...states].reverse()) {
    if (!loaded) continue;
    const ofDay = seen.get(loaded.day) ?? new Set();
    seen.set(loaded.day, ofDay.add(loaded.ws.postedIn));
    if (ofDay.size > most) states.delete(key);
  }
}

/**
 * The state as of a transaction that changes what is computed from it: nobody changes it until that ends. Read on the
 * transaction's own connection where it is not at hand: waiting for another would wait for those who wait for this one.
 */
export async function workspaceIn(tx: Tx, owner: Db, day: string): Promise<Loaded> {
  await holdState(tx);
  const revision = revisionText(await revisionsOf(tx));
  const states = keptOf(owner);
  const known = states?.get(`${revision}/${day}`)?.loaded;
  if (known) return known;
  const before = [...(states?.values() ?? [])].flatMap((s) => s.loaded ?? []);
  return nextState(tx, day, before, {
    catalogue: () => selectCatalogue(tx, day),
    posted: (lists) => storePosted(tx, day, lists),
  });
}

/** The state of a day, made from those at hand: only what has changed since is read. */
async function nextState(
  db: Queries,
  day: string,
  before: readonly State[],
  whole: { catalogue(): Promise<Catalogue>; posted(lists?: readonly number[]): Promise<PostedStore> },
): Promise<State> {
  const revisions = await revisionsOf(db);
  const latest = [...before].reverse();
  const due = await dueName(db, day);
  const rules =
    latest.find((s) => s.revisions.rules === revisions.rules && s.due === due)?.rules ?? (await rulesOn(db, day));
  // which items are sold, which costs count and which prices stand hangs on the day too
  // a state that is ahead of this snapshot knows what is not in it; one of the past has other rows
  const base = latest.find(
    (s) =>
      s.day === day &&
      s.revisions.catalogue >= 0 &&
      s.revisions.posted <= revisions.posted &&
      s.revisions.catalogue <= revisions.catalogue,
  );
  const since = base && { ...base, now: revisions };
  const catalogue: NextCatalogue = (since && (await nextCatalogue(db, since))) ?? (await whole.catalogue());
  const posted = (since && (await nextPosted(db, since, whole.posted))) ?? (await whole.posted());
  // of a million posted prices few are asked for as one row of all: they are made then
  const workspace: Workspace = {
    ...rules,
    items: catalogue.items,
    costs: catalogue.costs,
    get posted() {
      return ws.everyPosted;
    },
  };
  const ws: Prepared = new Prepared(workspace, base?.ws, { items: catalogue.moved, posted });
  return { revision: revisionText(revisions), revisions, day, rules, due, ws };
}

/** The state of a day by its name, where it is still at hand. */
export const stateAtHand = (owner: Db, name: string): Loaded | null => keptOf(owner)?.get(name)?.loaded ?? null;
