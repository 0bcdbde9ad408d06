import type { PoolClient } from 'pg';
import { type PostedColumns, TAKEN_OFF, emptyPosted, putPosted } from '#core/bulk/posted-columns.ts';
import { mayBeInForce, undone } from '../ledger/in-force.ts';
import { copyOut } from '../platform/copy.ts';

/** Which rows are of a pack: those who follow the lead of a lockstep group are priced in its packs, each in a row of its own. */
export interface RowsOfPacks {
  /** By pack: its last row, or -1. */
  readonly last: Int32Array;
  /** By row: the row before it of the same pack, or -1. */
  readonly before: Int32Array;
}

export function rowsOfPacks(packs: readonly number[]): RowsOfPacks {
  const last = new Int32Array(packs.reduce((a, b) => Math.max(a, b), 0) + 1).fill(-1);
  const before = new Int32Array(packs.length).fill(-1);
  packs.forEach((pack, row) => {
    before[row] = last[pack]!;
    last[pack] = row;
  });
  return { last, before };
}

/**
 * The posted prices of a list in force on a day, as columns. The index on posting lines is walked backwards, so nothing is
 * sorted.
 */
export async function readPostedColumns(
  client: PoolClient,
  list: number,
  day: string,
  rows: number,
  rowsOf: RowsOfPacks,
): Promise<PostedColumns> {
  const columns = emptyPosted(rows);
  const query = `select distinct on (item_id, pack_id) pack_id, after, (hand_set_reason is not null)::int, (${undone('l')})::int
    from posting_lines l where list_id = ${list} and ${mayBeInForce(day)}
    order by item_id desc, pack_id desc, effective desc, id desc`;
  for await (const lines of copyOut(client, query)) {
    for (const line of lines) {
      const [pack, price, hand, gone] = line.split('\t') as [string, string, string, string];
      if (gone === '1') continue;
      for (let row = rowsOf.last[Number(pack)] ?? -1; row >= 0; row = rowsOf.before[row]!)
        if (price === '\\N') columns.places[row] = TAKEN_OFF;
        else putPosted(columns, row, price, hand === '1');
    }
  }
  return columns;
}
