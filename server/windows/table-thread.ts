import { move, transferableSymbol, valueSymbol } from 'piscina';
import { type PackTable, type ListTable, listTable, packTable } from '../lists/list-table.ts';
import { type ItemTable, itemTable } from '../items/item-table.ts';
import { runKeptProofs } from '../findings/proofs.ts';
import { type Database, openDatabase } from '../platform/database.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { catalogueName, unposted } from '../workspace/state.ts';
import { buffersOf } from './pack.ts';

/** What is worked out of one state of a day. */
export interface TableWork {
  readonly url: string;
  readonly day: string;
  readonly now: Date;
  /** A list's prices; the packs that are sold; the items; or how many proofs no longer hold. */
  readonly what: { readonly list: string } | 'packs' | 'items' | 'proofs';
}

export interface TableDone {
  /** Names the state that it is of, of items without what is posted; and of that state the part that packs come from. */
  readonly state: string;
  readonly catalogue: string;
  /** Null: there is no such list. */
  readonly list?: ListTable | null;
  readonly packs?: PackTable;
  readonly items?: ItemTable;
  readonly failing?: number;
}

/** The connection of this thread stays open, and with it the states it looked at last. */
let open: { url: string; database: Database } | null = null;

/** Works out one part of what the grids are arranged by. */
export async function tableWork({ url, day, now, what }: TableWork): Promise<TableDone> {
  if (open?.url !== url) {
    await open?.database.close();
    open = { url, database: openDatabase(url) };
  }
  const { db } = open.database;
  const loaded = await stateOn({ db, now: () => now }, day);
  const of = { state: `${loaded.revision}/${day}`, catalogue: `${catalogueName(loaded)}/${day}` };
  if (what === 'packs') return { ...of, packs: packTable(loaded) };
  if (what === 'items') return { ...of, state: unposted(of.state), items: await itemTable(db, loaded) };
  if (what === 'proofs') return { ...of, failing: (await runKeptProofs(db)).filter((p) => !p.holds).length };
  const list = loaded.ws.lists.get(what.list);
  return { ...of, list: list ? await listTable(loaded, list) : null };
}

/** The same in a thread: columns are handed over, not copied. */
export default async function inThread(asked: TableWork): Promise<unknown> {
  const done = await tableWork(asked);
  const tables = [done.list?.table, done.packs?.table, done.items?.table].flatMap((t) => t ?? []);
  const rest = [done.list?.masks, done.packs?.items, done.packs?.packs, done.items?.items].flatMap(
    (a) => a?.buffer ?? [],
  );
  return move({ [transferableSymbol]: [...tables.flatMap(buffersOf), ...rest], [valueSymbol]: done });
}
