import type { PoolClient } from 'pg';
import { type PostedColumns, emptyPosted, putPosted } from '#core/bulk/posted-columns.ts';
import { mayBeInForce } from '../ledger/in-force.ts';
import { copyOut } from '../platform/copy.ts';

/**
 * The posted prices of a list in force on a day, as columns; `rowOfPack[pack]`: its row. The index on posting lines is
 * walked backwards, so nothing is sorted.
 */
export async function readPostedColumns(
  client: PoolClient,
  list: number,
  day: string,
  rows: number,
  rowOfPack: Int32Array,
): Promise<PostedColumns> {
  const columns = emptyPosted(rows);
  const query = `select distinct on (item_id, pack_id) pack_id, after, (hand_set_reason is not null)::int
    from posting_lines l where list_id = ${list} and ${mayBeInForce(day)}
    order by item_id desc, pack_id desc, effective desc, id desc`;
  for await (const lines of copyOut(client, query)) {
    for (const line of lines) {
      const [pack, price, hand] = line.split('\t') as [string, string, string];
      const row = rowOfPack[Number(pack)] ?? -1;
      if (row >= 0 && price !== '\\N') putPosted(columns, row, price, hand === '1');
    }
  }
  return columns;
}
