import type { Db } from '../platform/database.ts';
import { turns } from '../platform/turns.ts';
import { type PackedBy, type PackedTable, Packing } from './pack.ts';

/** Rows of the database that do not change once they are written, as columns, in the order in which they are read. */
export interface KeptRows {
  readonly table: PackedTable;
  readonly items: Uint32Array;
  readonly packs: Uint32Array;
  /** Which rows they are, and under which names of items. */
  readonly state: string;
  readonly at: string;
}

/** Ids of a row; `item` and `pack` as texts, as they travel. */
interface Keyed {
  readonly item: string;
  readonly pack: string;
}

/** Reads rows a part at a time, so that others have their turn. `next`: the rows after the last one; none: there are no more. */
export async function packedRows<Row extends Keyed, More extends object>(
  columns: readonly PackedBy<Row>[],
  next: (last: Row | undefined) => Promise<readonly Row[]>,
  named: Pick<KeptRows, 'state' | 'at'>,
  more: { take(row: Row): void; made(): More },
): Promise<KeptRows & More> {
  const packing = new Packing<Row>(columns);
  const turn = turns();
  const items: number[] = [];
  const packs: number[] = [];
  for (let some = await next(undefined); some.length > 0; some = await next(some.at(-1)))
    for (const row of some) {
      packing.take(row);
      items.push(Number(row.item));
      packs.push(Number(row.pack));
      more.take(row);
      await turn();
    }
  return {
    table: packing.packed(),
    items: Uint32Array.from(items),
    packs: Uint32Array.from(packs),
    ...named,
    ...more.made(),
  };
}

/** Those that were looked at last, of each database. */
export class LastLookedAt<T extends { readonly state: string }> {
  private readonly kept = new WeakMap<Db, Map<string, Promise<T>>>();

  constructor(private readonly most: number) {}

  /** What is kept under a name, of the state that is asked for; made where it is not. */
  async of(db: Db, name: string, state: string, make: () => Promise<T>): Promise<T> {
    const known = this.kept.get(db) ?? new Map<string, Promise<T>>();
    this.kept.set(db, known);
    const found = known.get(name);
    const table = found && (await found).state === state ? found : make();
    known.delete(name);
    known.set(name, table);
    while (known.size > this.most) known.delete(known.keys().next().value!);
    table.catch(() => known.delete(name));
    return table;
  }
}
