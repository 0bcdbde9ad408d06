import { pino } from 'pino';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { TODAY, type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { stateNameOn } from '../workspace/asked-day.ts';
import { standingStore } from './keep-standing.ts';
import { standingTables } from './standing-tables.ts';
import type { TableDone, TableWork } from './standing.ts';
import { tableWork } from './table-work.ts';

let shop: Workshop;
let admin: Person;
const log = pino({ level: 'silent' });
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

/** A server that has just been started, with the work it does. */
const started = () => {
  const run = vi.fn<(asked: TableWork) => Promise<TableDone>>((asked) => tableWork(shop.context.db, asked));
  const store = standingStore(shop.context.db);
  return { tables: standingTables(run, { log, now: shop.context.now, store }), run };
};
const stateNow = () => stateNameOn(shop.context, TODAY);

it('a server that starts again shows what was worked out before, and works nothing out that has not changed', async () => {
  const { counter, yards } = shop.shop;
  const [state, lists] = [await stateNow(), [counter, yards]];
  const before = started();
  const worked = await before.tables.list(counter, TODAY, state);
  before.tables.counts(lists, TODAY, state);
  const counts = await vi.waitFor(() => {
    const found = before.tables.counts(lists, TODAY, state);
    expect(found.stale).toBe(false);
    return found;
  });
  await before.tables.stop();

  const after = started();
  expect(await after.tables.list(counter, TODAY, state)).toEqual(worked);
  expect(after.tables.counts(lists, TODAY, state)).toEqual(counts);
  expect(after.tables.countedAt()).toBe(counts.at);
  expect(after.run).not.toHaveBeenCalled();

  // something has changed since: what is known is shown as of then, and worked out again
  const { items, supplier } = shop.shop;
  const kept = await admin.post('/costs', {
    item: items[0],
    supplier,
    amount: '300.00',
    currency: 'GBP',
    packUnits: '220',
    validFrom: TODAY,
  });
  expect(kept.status).toBe(200);
  const changed = await stateNow();
  expect(after.tables.counts(lists, TODAY, changed)).toEqual({ ...counts, stale: true });
  await vi.waitFor(() => expect(after.tables.counts(lists, TODAY, changed).stale).toBe(false));
  expect((await after.tables.list(counter, TODAY, changed))!.stale).toBe(false);
  await after.tables.stop();
});

it('what another release made is not read', async () => {
  await shop.database.pool.query(`update kept_standing set name = 'other' || substr(name, 6)`);
  expect(await standingStore(shop.context.db).read()).toBeNull();
});
