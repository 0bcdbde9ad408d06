import { asc, eq } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { listsBehind } from '#core/lists/lists-behind.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { Queries } from '../platform/database.ts';
import { worksheetLists } from './tables.ts';

/** Lists of a worksheet with those of it that they are made from. */
export type Behind = ReadonlyMap<PriceList, readonly PriceList[]>;

export async function listsOf(db: Queries, worksheet: number, ws: Prepared): Promise<Behind> {
  const rows = await db
    .select({ id: worksheetLists.listId })
    .from(worksheetLists)
    .where(eq(worksheetLists.worksheetId, worksheet))
    .orderBy(asc(worksheetLists.listId));
  const lists = rows.flatMap(({ id }) => ws.lists.get(String(id)) ?? []);
  return new Map(lists.map((l) => [l, listsBehind(ws, l).filter((m) => lists.includes(m))]));
}

/** What has to be there before each list is made. */
function neededFirst(behind: Behind): Behind {
  const needed = new Map<PriceList, readonly PriceList[]>();
  while (needed.size < behind.size) {
    const left = [...behind.keys()].filter((l) => !needed.has(l));
    const next = left.filter((l) => behind.get(l)!.every((m) => needed.has(m)));
    // in a circle nothing comes first: the explained way says so row by row
    const round = next.length > 0 ? next : left;
    const before = new Set(needed.keys());
    for (const l of round)
      needed.set(
        l,
        behind.get(l)!.filter((m) => before.has(m)),
      );
  }
  return needed;
}

/**
 * Which process prices which lists of a worksheet: each list one process, after those that it is made from. Who prices a list
 * holds a lock on its own connection, which goes when the process goes.
 */
export class SharedLists {
  private readonly needed: Behind;
  private readonly computed = new Set<string>();
  private readonly held = new Set<string>();

  constructor(
    private readonly holder: PoolClient,
    private readonly worksheet: number,
    readonly behind: Behind,
  ) {
    this.needed = neededFirst(behind);
  }

  /** A list that can be priced now and that nobody prices: it is this process' from here on. */
  async next(): Promise<PriceList | null> {
    await this.look();
    for (const [list, first] of this.needed) {
      if (this.computed.has(list.id) || this.held.has(list.id)) continue;
      if (!first.every((m) => this.computed.has(m.id))) continue;
      if (!(await this.lock('pg_try_advisory_lock', list.id))) continue;
      await this.look();
      // another may have written it down just before
      if (this.computed.has(list.id)) await this.lock('pg_advisory_unlock', list.id);
      else {
        this.held.add(list.id);
        return list;
      }
    }
    return null;
  }

  /** What this process has priced is written down. */
  async written(lists: readonly PriceList[]): Promise<void> {
    for (const { id } of lists) {
      this.computed.add(id);
      this.held.delete(id);
      await this.lock('pg_advisory_unlock', id);
    }
  }

  /** Whether all lists are priced, by whomever. */
  async complete(): Promise<boolean> {
    await this.look();
    return [...this.behind.keys()].every((l) => this.computed.has(l.id));
  }

  private async look(): Promise<void> {
    const { rows } = await this.holder.query<{ list: string }>(
      'select list_id::text as list from worksheet_lists where worksheet_id = $1 and computed',
      [this.worksheet],
    );
    for (const { list } of rows) this.computed.add(list);
  }

  private async lock(does: 'pg_try_advisory_lock' | 'pg_advisory_unlock', list: string): Promise<boolean> {
    const { rows } = await this.holder.query<{ done: boolean }>(`select ${does}(hashtext($1), $2::int) as done`, [
      `lists of worksheet ${this.worksheet}`,
      list,
    ]);
    return rows[0]!.done;
  }
}
