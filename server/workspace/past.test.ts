import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { PriceCheck } from '#contract/quotes.ts';
import { Dice } from '#core/numbers/dice.ts';
import { runs } from '#core/tests/runs.ts';
import { acts } from '../platform/tests/acts.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  for (const list of [shop.shop.counter, shop.shop.yards]) await postAll(admin, list);
});
afterAll(() => shop.close());

/** Long runs are days too: half a year is enough. */
const DAYS = Math.min(60, runs(70));
const dayAfter = (n: number) => new Date(Date.parse(TODAY) + n * 86_400_000).toISOString().slice(0, 10);
const fileOf = async (day: string) => (await admin.get(`/workspace-file?day=${day}`)).text;

describe('a day that has gone by', () => {
  it('answers with the reductions of then: a change made today does not reach back', async () => {
    const [customer] = shop.shop.customers;
    const [item] = shop.shop.items;
    const [pack] = shop.shop.packs;
    const check = async (day: string) => {
      const asked = { customer, group: null, country: null, channel: null, item, pack, quantity: '50', day };
      const found = (await admin.post('/price-check', asked)).body as PriceCheck;
      return found.figures.lines[0]!.unitPrice;
    };
    const monday = dayAfter(1);
    shop.setDay(monday);
    const before = await check(monday);
    shop.setDay(dayAfter(2));
    const reduction = { name: 'from Tuesday', customer, scope: {}, kind: 'percent_off', value: '50' };
    expect((await admin.post('/reductions', reduction)).status).toBe(200);
    expect(Number(await check(dayAfter(2)))).toBeLessThan(Number(before));
    expect(await check(monday)).toBe(before);
  });

  it('is exported byte for byte as on that day, whatever was changed, posted and reversed since', async () => {
    const dice = new Dice(20261126);
    const all = acts(() => ({ shop, admin }));
    const files = new Map<string, string>();
    for (let n = 1; n <= DAYS; n++) {
      const day = dayAfter(n + 5);
      shop.setDay(day);
      for (let act = 0; act < 8; act++) await dice.pick(all)(dice);
      files.set(day, await fileOf(day));
    }
    shop.setDay(dayAfter(DAYS + 6));
    for (const [day, text] of files) expect(await fileOf(day), day).toBe(text);
    expect(new Set(files.values()).size).toBe(files.size);
  });

  it('shows no record that was made later, and those that are gone since', async () => {
    const day = dayAfter(DAYS + 10);
    shop.setDay(day);
    const { body } = await admin.post('/regions', {
      name: 'For a week',
      countries: ['IS'],
      currency: 'EUR',
      tax: 'none',
      inside: null,
    });
    const made = body as { id: string; version: number };
    shop.setDay(dayAfter(DAYS + 11));
    await admin.delete(`/regions/${made.id}`, { version: made.version });
    shop.setDay(dayAfter(DAYS + 12));
    const named = async (on: string) => (await fileOf(on)).includes('For a week');
    expect([await named(dayAfter(209)), await named(day), await named(dayAfter(DAYS + 11))]).toEqual([
      false,
      true,
      false,
    ]);
  });
});
