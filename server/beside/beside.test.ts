import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Workshop, TODAY, openWorkshop } from '../platform/tests/workshop.ts';
import { stateOn } from '../workspace/asked-day.ts';
import { stateThread } from './beside.ts';
import { stateWork } from './state-thread.ts';

const NOTHING = { count: 0, findings: [] };
let shop: Workshop;
beforeAll(async () => {
  shop = await openWorkshop();
});
afterAll(() => shop.close());

it('a check that nobody waits for any more is given up, and what others wait for in the same thread is answered', async () => {
  const beside = stateThread(shop.url, stateWork);
  const { workspace } = (await stateOn(shop.context, TODAY)).ws;
  const { items: _, costs: __, posted: ___, ...rules } = workspace;
  const otherwise = { rules: { ...rules, items: [], costs: [], posted: [] }, item: null, asks: 'findings' as const };
  const gone = new AbortController();
  const left = beside.check({ day: TODAY, what: otherwise }, gone.signal);
  const heard = beside.check({ day: TODAY, what: otherwise });
  const table = beside.table({ day: TODAY, now: shop.context.now(), what: { list: shop.shop.counter } });
  gone.abort();
  await expect(left).rejects.toThrow('nobody waits');
  expect((await heard).ofChange).toEqual({ adds: NOTHING, settles: NOTHING });
  expect((await table).list?.table.rows).toBe(shop.shop.items.length);
});

it('the same in a thread: what grids are arranged by, the check, and a refusal with its reason', async () => {
  const beside = stateThread(shop.url);
  try {
    const [table, check] = await Promise.all([
      beside.table({ day: TODAY, now: shop.context.now(), what: { list: shop.shop.counter } }),
      beside.check({ day: TODAY, what: 'findings' }),
    ]);
    expect(table.list?.table.rows).toBe(shop.shop.items.length);
    expect(check.revision).toBe((await stateOn(shop.context, TODAY)).revision);
    const order = {
      effective: TODAY,
      lastDay: null,
      reason: 'none',
      lists: [{ list: Number(shop.shop.counter), lines: [] }],
    };
    const posting = beside.post({ of: 'order', order, person: 1, today: TODAY });
    await expect(posting).rejects.toMatchObject({ problem: { code: 'nothing_to_post' } });
  } finally {
    await beside.stop();
  }
});
