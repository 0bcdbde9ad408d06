import { and, asc, eq } from 'drizzle-orm';
import type { PoolClient } from 'pg';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Worksheet, WorksheetPrices } from '#contract/worksheets.ts';
import { TODAY, type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import proposePrices from './propose-prices.ts';
import { proposalProcess } from './proposals.ts';
import { COMPUTING_LOCK, worksheetLists, worksheetPrices, worksheets } from './tables.ts';
import { laidWorksheet } from './tests/laid.ts';

let shop: Workshop;
let admin: Person;
const open: PoolClient[] = [];
beforeEach(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterEach(async () => {
  for (const client of open.splice(0)) client.release(true);
  await shop.close();
});

const propose = async () => (await admin.post('/worksheets', { reason: 'new costs', day: TODAY })).body as Worksheet;
const rowsOf = (worksheet: number) =>
  shop.context.db
    .select()
    .from(worksheetPrices)
    .where(eq(worksheetPrices.worksheetId, worksheet))
    .orderBy(asc(worksheetPrices.listId), asc(worksheetPrices.itemId));
const pricesOf = async (worksheet: number, list?: string) =>
  (await rowsOf(worksheet))
    .filter((r) => list === undefined || r.listId === Number(list))
    .map(({ worksheetId: _, ...row }) => row);
const stateOf = async (id: number) => ((await admin.get(`/worksheets/${id}`)).body as Worksheet).state;

/** A worksheet over the list at the counter and the one that is made from it, which another server has begun. */
async function begun(): Promise<{ id: number; leader: PoolClient }> {
  const id = await laidWorksheet(shop, { state: 'computing', total: 6 });
  const leader = await shop.database.pool.connect();
  open.push(leader);
  await leader.query('begin transaction isolation level repeatable read read only');
  const { rows } = await leader.query<{ name: string }>('select pg_export_snapshot() as name');
  await shop.context.db.update(worksheets).set({ snapshot: rows[0]!.name }).where(eq(worksheets.id, id));
  await leader.query('select pg_advisory_lock($1, $2)', [COMPUTING_LOCK, id]);
  return { id, leader };
}
const take = (client: PoolClient, id: number, list: string) =>
  client.query(`select pg_advisory_lock(hashtext($1), $2::int)`, [`lists of worksheet ${id}`, list]);
const giveBack = (client: PoolClient, id: number, list: string) =>
  client.query(`select pg_advisory_unlock(hashtext($1), $2::int)`, [`lists of worksheet ${id}`, list]);
const help = (id: number) => proposePrices({ url: shop.url, worksheet: id, threads: 1 });

describe('a worksheet that several servers compute', () => {
  it('has the same prices whoever computes them: a server that joins reads what the first one reads', async () => {
    const { id, leader } = await begun();
    const alone = Number((await propose()).id);
    // what is entered once it has begun is no part of it
    const { supplier, items } = shop.shop;
    await admin.post('/costs', {
      item: items[0],
      supplier,
      amount: '999.00',
      currency: 'GBP',
      packUnits: '220',
      validFrom: TODAY,
    });
    expect((await help(id)).prices).toBe(6);
    expect(await pricesOf(id)).toEqual(await pricesOf(alone));
    // that it is whole says who began it
    expect(await stateOf(id)).toBe('computing');
    await leader.query('commit');
  });

  it('makes a list from the one before it as another server wrote that down, and waits until it has', async () => {
    const { counter, yards } = shop.shop;
    const { id, leader } = await begun();
    const alone = Number((await propose()).id);
    await take(leader, id, counter);
    const helped = help(id);
    await vi.waitFor(async () => {
      const { rows } = await shop.database.pool.query<{ n: number }>(
        `select count(*)::int as n from pg_stat_activity where state = 'idle in transaction' and datname = current_database()`,
      );
      // its reader and that of the first
      expect(rows[0]!.n).toBeGreaterThan(1);
    });
    expect(await pricesOf(id)).toEqual([]);
    // the other server made other prices of it than this one would have
    const rows = (await rowsOf(alone)).filter((r) => r.listId === Number(counter));
    await shop.context.db
      .insert(worksheetPrices)
      .values(rows.map((r) => ({ ...r, worksheetId: id, after: (Number(r.after) + 10).toFixed(2) })));
    await shop.context.db
      .update(worksheetLists)
      .set({ computed: true })
      .where(and(eq(worksheetLists.worksheetId, id), eq(worksheetLists.listId, Number(counter))));
    await giveBack(leader, id, counter);
    await helped;
    const after = (prices: { after: string | null }[]) => prices.map((p) => Number(p.after));
    const [usual, higher] = [after(await pricesOf(alone, yards)), after(await pricesOf(id, yards))];
    expect(higher).toHaveLength(usual.length);
    for (const [i, price] of higher.entries()) expect(price).toBeGreaterThan(usual[i]!);
  });

  it('is begun anew where the server that began it is gone, whatever lists were written down', async () => {
    const { counter } = shop.shop;
    const { id, leader } = await begun();
    const alone = Number((await propose()).id);
    const [row] = await rowsOf(alone);
    await shop.context.db.insert(worksheetPrices).values({ ...row!, worksheetId: id, after: '1.00' });
    await shop.context.db
      .update(worksheetLists)
      .set({ computed: true })
      .where(and(eq(worksheetLists.worksheetId, id), eq(worksheetLists.listId, Number(counter))));
    // what is not whole is shown to nobody
    const shown = (await admin.get(`/worksheets/${id}/lists/${counter}/prices?show=all`)).body as WorksheetPrices;
    expect(shown.rows).toEqual([]);
    leader.release(true);
    open.splice(0);
    await vi.waitFor(async () => expect((await help(id)).state).toBe('draft'));
    expect([await stateOf(id), await pricesOf(id)]).toEqual(['draft', await pricesOf(alone)]);
  });

  it('leaves nothing of what servers wrote down when it is cancelled', async () => {
    const { id, leader } = await begun();
    await help(id);
    expect(await pricesOf(id)).toHaveLength(6);
    leader.release(true);
    open.splice(0);
    await vi.waitFor(async () => {
      await admin.post(`/worksheets/${id}/cancel`);
      expect([await stateOf(id), await pricesOf(id)]).toEqual(['cancelled', []]);
    });
  });

  it('is taken part in by a server that has none of its own to do', async () => {
    const { id } = await begun();
    const idle = proposalProcess(shop.url, 5);
    const few = proposalProcess(shop.url, 7);
    try {
      expect(await few.help(shop.context.db)).toBe(false);
      expect(await idle.help(shop.context.db)).toBe(true);
      expect(await pricesOf(id)).toHaveLength(6);
    } finally {
      await Promise.all([idle.stop(), few.stop()]);
    }
  });
});
