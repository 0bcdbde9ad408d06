import type { Context } from '#server/platform/context.ts';
import type { Database } from '#server/platform/database.ts';
import { carryOutOrder } from '#server/worksheets/carry-out.ts';
import proposePrices from '#server/worksheets/propose-prices.ts';

/** Prices proposed on every list for a day, ordered to be posted; `post` carries the order out. */
export async function orderEverything({ pool }: Database, context: Context, url: string, day: string) {
  const { rows: people } = await pool.query<{ id: number }>('select min(id) as id from people');
  const person = people[0]!.id;
  const { rows } = await pool.query<{ id: number }>(
    `insert into worksheets (reason, day, made_by, made_at) values ('bench', $1, $2, now()) returning id`,
    [day, person],
  );
  const id = rows[0]!.id;
  await pool.query('insert into worksheet_lists (worksheet_id, list_id) select $1, id from price_lists', [id]);
  const proposed = await proposePrices({ url, worksheet: id });
  const { rows: lists } = await pool.query<{ id: string }>('select id::text from price_lists order by id');
  const names = lists.map((l) => l.id);
  const order = { reason: 'bench', lists: names, share: 'changed', lastDay: null, asComputed: false, person };
  await pool.query(`update worksheets set state = 'posting', "order" = $1 where id = $2`, [order, id]);
  return { ...proposed, person, lists: names, post: () => carryOutOrder(context, id) };
}
