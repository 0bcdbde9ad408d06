import { reachBetween, samePacks } from '#core/workspace/reach.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { listRowTable, listTable, packTable } from '../lists/list-table.ts';
import { itemTable } from '../items/item-table.ts';
import { runKeptProofs } from '../findings/proofs.ts';
import type { Db } from '../platform/database.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { type Loaded, catalogueName, stateAtHand, unposted } from '../workspace/state.ts';
import { buffersOf } from './pack.ts';
import type { TableDone, TableWork } from './standing.ts';

/** Works out one part of what the grids are arranged by. */
export async function tableWork(db: Db, { day, now, what, since = null }: TableWork): Promise<TableDone> {
  const loaded = await stateOn({ db, now: () => now }, day);
  const of = { state: `${loaded.revision}/${day}`, catalogue: `${catalogueName(loaded)}/${day}` };
  const known = since === null ? null : stateAtHand(db, since);
  if (what === 'packs') return { ...of, packs: known && samePacks(known.ws, loaded.ws) ? null : packTable(loaded) };
  if (what === 'items') return { ...of, state: unposted(of.state), items: await itemTable(db, loaded) };
  if (what === 'proofs') return { ...of, failing: (await runKeptProofs(db)).filter((p) => !p.holds).length };
  const list = loaded.ws.lists.get(what.list);
  if (!list) return { ...of, list: null };
  return { ...of, ...(known ? await changesOf(list, known, loaded) : { list: await listTable(loaded, list) }) };
}

/** Beyond so many items a list is worked out as a whole. */
const MOST_ITEMS = 20_000;

type Reaches = ReturnType<typeof reachBetween>;
/** By the state after and the one before: of the lists that are worked out one after the other it is the same. */
const told = new WeakMap<Prepared, WeakMap<Prepared, Reaches>>();

function reachOf(before: Prepared, after: Prepared): Reaches {
  const since = told.get(after) ?? new WeakMap<Prepared, Reaches>();
  told.set(after, since);
  const known = since.get(before) ?? reachBetween(before, after);
  since.set(before, known);
  return known;
}

/** What a list has become since a state: worked out for the items that what was changed may reach. */
async function changesOf(list: PriceList, known: Loaded, loaded: Loaded): Promise<Pick<TableDone, 'list' | 'patch'>> {
  const reach = reachOf(known.ws, loaded.ws)(list.id);
  if (reach === 'all' || reach.size > MOST_ITEMS || !known.ws.lists.has(list.id))
    return { list: await listTable(loaded, list) };
  const items = [...reach].flatMap((id) => loaded.ws.items.get(id) ?? []).sort((a, b) => Number(a.id) - Number(b.id));
  return {
    patch: { ...(await listRowTable(loaded, list, items)), items: Uint32Array.from(items, (i) => Number(i.id)) },
  };
}

/** What can be handed over to another thread instead of being copied. */
export function buffersOfTables({ list, patch, packs, items }: TableDone): ArrayBuffer[] {
  const tables = [list?.table, patch?.table, packs?.table, items?.table].flatMap((t) => t ?? []);
  const rest = [list?.masks, patch?.masks, patch?.items, packs?.items, packs?.packs, items?.items].flatMap(
    (a) => (a?.buffer as ArrayBuffer | undefined) ?? [],
  );
  return [...tables.flatMap(buffersOf), ...rest];
}
