import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ToPost, WouldPost } from '#contract/lists.ts';
import { TODAY, type Person, type Workshop, openWorkshop, postedOn, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

const arranged = { sort: '', down: false, filters: [], find: '', show: 'all' };
const path = () => `/lists/${shop.shop.counter}`;
const typed = (n: number, after: string) => ({ item: shop.shop.items[n]!, pack: shop.shop.packs[n]!, after });
const would = async (body: Partial<ToPost>): Promise<WouldPost> => {
  const ask = async () =>
    (await admin.post(`${path()}/to-post?day=${TODAY}`, { arranged, typed: [], ...body })).body as WouldPost;
  let found = await ask();
  for (let n = 0; found.stale && n < 100; n++) found = await ask();
  return found;
};
const post = async (body: Partial<ToPost> & { confirmed?: boolean }) => {
  const { state } = await would({ what: body.what, typed: body.typed });
  const more = { effective: TODAY, lastDay: null, reason: 'test', typedReason: '', state };
  return admin.post(`${path()}/shown-postings?day=${TODAY}`, { arranged, ...body, ...more });
};

describe('what one typed oneself', () => {
  it('is posted by itself: what the recipes propose is another choice', async () => {
    const mine = [typed(1, '9.10')];
    expect(await would({ what: 'typed', typed: mine })).toMatchObject({
      lines: 1,
      typed: 1,
      choices: { typed: 1, computed: 2 },
    });
    expect(await would({ what: 'computed', typed: mine })).toMatchObject({ lines: 2, typed: 0 });
    expect(await would({ what: 'changes', typed: mine })).toMatchObject({ lines: 3, typed: 1 });
    // a filter that hides it does not leave it behind
    const hidden = { ...arranged, find: 'no such item' };
    expect(await would({ arranged: hidden, what: 'typed', typed: mine })).toMatchObject({ lines: 1 });
    expect((await post({ what: 'typed', typed: mine })).status).toBe(200);
    expect(Object.values(await postedOn(admin, shop.shop.counter, TODAY))).toEqual([null, '9.10', null]);
  });
});

describe('a price far below cost', () => {
  const low = () => [typed(0, '0.46')];

  it('is named before it is posted, with the cost it falls below, and by money as by per cent', async () => {
    const found = await would({ what: 'typed', typed: low() });
    expect(found.harms).toMatchObject({ below_cost: 1, under_map: 0 });
    expect(found.harmed).toEqual([
      // 1.2469658 a metre, with a fifth of tax, upwards
      expect.objectContaining({ sku: 'BL-10', after: '0.46', harm: 'below_cost', at: '1.50' }),
    ]);
    expect(found.largestMoney.map((l) => l.row.sku)).toEqual(['BL-10']);
  });

  it('is not posted until that is confirmed', async () => {
    const refused = await post({ what: 'typed', typed: low() });
    expect([refused.status, (refused.body as { message: string }).message]).toEqual([
      409,
      'Nothing is posted yet: 1 price falls below its landed cost. Confirm that this is intended.',
    ]);
    expect((await post({ what: 'typed', typed: low(), confirmed: true })).status).toBe(200);
    expect(Object.values(await postedOn(admin, shop.shop.counter, TODAY))[0]).toBe('0.46');
  });
});
