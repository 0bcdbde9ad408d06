import { setTimeout as after } from 'node:timers/promises';
import type { Logger } from 'pino';
import type { ItemTable } from '../items/item-table.ts';
import { type ListPatch, type ListTable, type PackTable, withPatch } from '../lists/list-table.ts';
import { withoutValues } from '../platform/log.ts';
import { paused, turnsShared } from '../platform/turns.ts';
import type { Counted, KeptTable, StandingStore } from './keep-standing.ts';
import type { Standing, ListStanding, ListCounts, StandingTables, TableDone, TableWork } from './standing.ts';

interface Made {
  readonly state: string;
  /** Null: there is no such list, or it is no list. */
  readonly list: ListStanding | null;
  readonly items: ItemTable | null;
  readonly at: string;
}

interface Kept {
  made: Made | null;
  making: Promise<void> | null;
  /** The state that was asked for last. */
  wanted: string;
  /** How long it took the last time, in milliseconds. */
  took: number;
}

/** Tables that are kept: those of a dozen lists, and of some days that were looked at. */
const MOST_KEPT = 24;
/** States of the catalogue whose packs are at hand for lists to come. */
const MOST_PACKS = 3;
/** What takes no longer than this is waited for, up to three times as long, before the state before it is answered, in milliseconds. */
const QUICK_MS = 1_500;
/** How often it is looked whether what is worked out is to be kept for the next start, and when it is in any case, in milliseconds. */
const KEEP_LOOK_MS = 60_000;
const KEEP_MS = 15 * 60_000;
/** So long anything else is waited for. */
const SOON_MS = 150;

/** A list with a patch put in: of a hundred thousand rows that takes a tenth of a second, and others have their turns. */
const patched = (was: ListStanding, rows: PackTable, patch: ListPatch): Promise<ListTable> =>
  paused(withPatch({ of: was, packs: was.packs }, rows, patch), turnsShared());

/** `carryOut`: works out one part of it, beside the server's own thread. */
export function standingTables(
  carryOut: (asked: TableWork) => Promise<TableDone>,
  { log, now, store = null }: { log: Logger; now: () => Date; store?: StandingStore | null },
): StandingTables {
  const kept = new Map<string, Kept>();
  /** Packs by the state of the catalogue: all lists share them. */
  const packs = new Map<string, PackTable>();
  let counted: Counted | null = null;
  let counting = false;
  /** The state that is kept for the next start, and when it was. */
  let written = { state: '', at: 0 };
  let tried = '';

  const packsOf = async (day: string, done: TableDone, known: Made | null): Promise<PackTable | null> => {
    if (!packs.has(done.catalogue)) {
      const since = known?.state ?? null;
      const read = await carryOut({ day, now: now(), what: 'packs', since });
      packs.set(read.catalogue, read.packs ?? known!.list!.packs);
      while (packs.size > MOST_PACKS) packs.delete(packs.keys().next().value!);
    }
    return packs.get(done.catalogue) ?? null;
  };

  const made = async (day: string, what: TableWork['what'], was: Made | null): Promise<Made> => {
    // only what was changed since is worked out
    const known = was?.list ? was : null;
    const done = await carryOut({ day, now: now(), what, since: known?.state ?? null });
    const of = { state: done.state, items: done.items ?? null, at: now().toISOString() };
    if (!done.list && !done.patch) return { ...of, list: null };
    const rows = await packsOf(day, done, known);
    // somebody changed items in between: the list is made of them too
    if (!rows) return made(day, what, was);
    const list = done.list ?? (await patched(known!.list!, rows, done.patch!));
    return { ...of, list: { ...list, packs: rows } };
  };

  const make = async (into: Kept, day: string, what: TableWork['what']): Promise<void> => {
    let wanted: string;
    do {
      wanted = into.wanted;
      const began = performance.now();
      into.made = await made(day, what, into.made);
      into.took = performance.now() - began;
    } while (into.wanted !== wanted && into.made.state !== into.wanted);
  };

  /** What is known of it, the state that is asked for where that comes soon. */
  const standing = async (
    key: string,
    day: string,
    state: string,
    what: TableWork['what'],
  ): Promise<Standing<Made>> => {
    await restored;
    const entry: Kept = kept.get(key) ?? { made: null, making: null, wanted: state, took: 0 };
    // what was looked at last stays longest
    kept.delete(key);
    kept.set(key, entry);
    while (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
    if (entry.made?.state !== state) {
      entry.wanted = state;
      if (!entry.making) {
        entry.making = make(entry, day, what).finally(() => (entry.making = null));
        // who asked first hears of a failure; who is answered from what is kept does not wait for it
        entry.making.catch((error: unknown) =>
          log.error({ stack: withoutValues(error) }, 'what grids are arranged by was not worked out'),
        );
      }
      const wait = entry.took < QUICK_MS ? 3 * QUICK_MS : SOON_MS;
      if (entry.made) await Promise.race([entry.making.catch(() => undefined), after(wait, null, { ref: false })]);
      else await entry.making;
    }
    const found = entry.made!;
    return { of: found, state: found.state, at: found.at, stale: found.state !== state };
  };

  const list: StandingTables['list'] = async (id, day, state) => {
    const found = await standing(`list/${id}/${day}`, day, state, { list: id });
    return found.of.list && { ...found, of: found.of.list };
  };

  const countAll = async (lists: readonly string[], day: string, state: string): Promise<void> => {
    counting = true;
    try {
      const found = new Map<string, ListCounts>();
      for (const id of lists) {
        const { of } = await standing(`list/${id}/${day}`, day, state, { list: id });
        if (of.list) found.set(id, { looks: of.list.looks, falling: of.list.falling, ending: of.list.ending });
      }
      const { failing } = await carryOut({ day, now: now(), what: 'proofs' });
      counted = { state, at: now().toISOString(), lists: found, failing: failing! };
    } catch (error) {
      log.error({ stack: withoutValues(error) }, 'the lists were not counted');
    } finally {
      counting = false;
    }
  };

  const restore = async (): Promise<void> => {
    const found = await store?.read();
    if (!found) return;
    counted = found.counted;
    written = { state: found.counted.state, at: Date.now() };
    tried = counted.state;
    for (const [state, of] of found.packs) packs.set(state, of);
    for (const [key, { list: one, ...of }] of found.tables) {
      const rows = one && packs.get(one.packs);
      if (one && !rows) continue;
      const made: Made = { ...of, list: one && rows ? { ...one.of, packs: rows } : null };
      kept.set(key, { made, making: null, wanted: of.state, took: Infinity });
    }
  };
  let restoring = true;
  const restored = restore()
    .catch((error: unknown) => log.warn({ stack: withoutValues(error) }, 'what was worked out before is not read'))
    .finally(() => (restoring = false));

  /** What was counted when it was looked last. */
  let lastLook = '';
  const unkept = (error: unknown) => log.warn({ stack: withoutValues(error) }, 'what was worked out is not kept');
  const keepSettled = async (): Promise<void> => {
    const settled = counted?.state === lastLook || Date.now() - written.at > KEEP_MS;
    lastLook = counted?.state ?? '';
    if (settled) await keep();
  };
  const keep = async (): Promise<void> => {
    if (!store || !counted || counting || counted.state === written.state) return;
    const tables = new Map<string, KeptTable>();
    const used = new Map<string, PackTable>();
    for (const [key, { made }] of kept) {
      if (!made) continue;
      const { list, ...of } = made;
      const [catalogue] = [...packs].find(([, rows]) => rows === list?.packs) ?? [];
      if (list && catalogue === undefined) continue;
      if (list) used.set(catalogue!, list.packs);
      const { packs: _, ...table } = list ?? { packs: null };
      tables.set(key, { ...of, list: list && { of: table as ListTable, packs: catalogue! } });
    }
    written = { state: counted.state, at: Date.now() };
    await store.write({ counted, packs: used, tables });
  };
  const keeping = setInterval(() => {
    void keepSettled().catch(unkept);
  }, KEEP_LOOK_MS);
  keeping.unref();

  return {
    list,
    items: async (day, state) => {
      const found = await standing(`items/${day}`, day, state, 'items');
      return { ...found, of: found.of.items! };
    },
    counts: (lists, day, state) => {
      // one that failed is not begun again before something changes
      if (counted?.state !== state && !counting && !restoring && tried !== state) {
        tried = state;
        void countAll(lists, day, state);
      }
      return {
        lists: counted?.lists ?? new Map(),
        failing: counted?.failing ?? 0,
        at: counted?.at ?? null,
        stale: counted?.state !== state,
      };
    },
    countedAt: () => counted?.at ?? null,
    stop: async () => {
      clearInterval(keeping);
      await keep().catch(unkept);
    },
  };
}
