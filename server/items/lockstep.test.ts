import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CostProposal } from '#contract/typed-costs.ts';
import type { BuildUp } from '#contract/lists.ts';
import type { LockstepPreview } from '#contract/lockstep.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from '../platform/tests/workshop.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
let lead: string, second: string, third: string;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  [lead, second, third] = shop.shop.items as [string, string, string];
  // each has prices of its own from before
  await postAll(admin, shop.shop.counter);
});
afterAll(() => shop.close());

const rows = async (day = TODAY) =>
  ((await admin.get(`/lists/${shop.shop.counter}/prices?day=${day}`)).body as { rows: ListPriceRow[] }).rows;
const posted = async (day = TODAY) => Object.fromEntries((await rows(day)).map((r) => [r.sku, r.posted]));
const asks = async (day = TODAY) => Object.fromEntries((await rows(day)).map((r) => [r.sku, r.asks]));
const preview = async (body: object) => (await admin.post('/lockstep-preview', body)).body as LockstepPreview;
interface Group {
  id: string;
  version: number;
  name: string;
  lead: string;
  members: string[];
}
const groups = async () => (await admin.get('/lockstep')).body as Group[];
const cost = (item: string, amount: string, more: object = {}) => ({
  ...{ item, supplier: shop.shop.supplier, amount, reduced: null, currency: 'GBP', packUnits: '220', validFrom: TODAY },
  ...more,
});

describe('joining a lockstep group', () => {
  it('shows side by side what gives way, before anything is changed', async () => {
    const before = await posted();
    const told = await preview({ id: null, lead, members: [second] });
    expect(told.joining).toMatchObject([
      {
        sku: 'BL-12',
        differences: [
          { value: 'cost', where: 'Rope works', own: '260 GBP for 220', lead: '214.5 GBP for 220' },
          { value: 'price', where: 'Counter, metre', own: before['BL-12'], lead: before['BL-10'] },
        ],
      },
    ]);
    // 260 against 214.50 is 21 % more
    expect(told.costs.map((c) => [c.sku, c.unit, c.changePercent, c.odd])).toEqual([
      ['BL-10', '1.1349', null, false],
      ['BL-12', '1.3756', '21.21', true],
    ]);
    expect(await posted()).toEqual(before);
    await admin.post('/lockstep', { name: 'Braid', lead, members: [second, third] });
    const now = await posted();
    expect([now['BL-12'], now['BL-14']]).toEqual([before['BL-10'], before['BL-10']]);
  });
});

describe('a cost for one of a lockstep group', () => {
  it('is proposed for all, with the typed prices that would be squeezed, and is the lead’s once it is kept', async () => {
    const [row] = await rows();
    const hand = { item: row!.item, pack: row!.pack, before: row!.posted, after: '2.70' };
    await admin.post(`/lists/${shop.shop.counter}/postings`, {
      ...{ effective: TODAY, reason: 'the fair' },
      lines: [{ ...hand, handSet: { reason: 'promised', lastDay: null } }],
    });
    const asked = (await admin.post('/costs/proposal', cost(third, '400.00'))).body as CostProposal;
    expect(asked).toMatchObject({
      group: 'Braid',
      lead: { sku: 'BL-10' },
      members: ['BL-10', 'BL-12', 'BL-14'].map((sku) => ({ sku, before: { amount: '214.50', packUnits: '220' } })),
      handSet: [{ listName: 'Counter', pack: 'metre', price: '2.70', reason: 'promised', squeezed: true }],
    });
    // 2.70 less 20 % tax is 2.25 a metre; landed it costs 1.2470 at 214.50, 2.2696 at 400
    expect(asked.handSet[0]).toMatchObject({ marginBefore: '44.58', marginAfter: '-0.87' });
    const refused = await admin.post('/costs', cost(third, '400.00'));
    expect([refused.status, refused.body]).toMatchObject([409, { code: 'lockstep_cost' }]);
    expect((await admin.post('/costs', cost(third, '220.00', { forGroup: true }))).status).toBe(200);
    const build = (await admin.get(`/lists/${shop.shop.counter}/build-up/${second}/${shop.shop.packs[1]}`))
      .body as BuildUp;
    expect(build.computed!.steps[0]).toMatchObject({ kind: 'cost', after: '220' });
  });
});

describe('leaving a lockstep group', () => {
  it('keeps the lead’s values as one’s own: no price moves on any day, and each still tells how it was made', async () => {
    // a price to come is kept too
    const at = (await rows())[0]!;
    await admin.post(`/lists/${shop.shop.counter}/postings`, {
      ...{ effective: '2026-05-01', reason: 'spring' },
      lines: [
        {
          item: at.item,
          pack: at.pack,
          before: '2.70',
          after: '2.95',
          handSet: { reason: 'agreed', lastDay: '2026-05-31' },
        },
      ],
    });
    const days = [TODAY, '2026-05-01', '2026-05-31', '2026-06-01'];
    const before = await Promise.all(days.map(asks));
    const [group] = await groups();
    const told = await preview({ id: group!.id, lead, members: [second] });
    expect(told.leaving).toMatchObject([{ sku: 'BL-14', from: 'BL-10', costs: 1, packs: ['metre'], prices: 1 }]);
    const { id, ...body } = group!;
    expect((await admin.put(`/lockstep/${id}`, { ...body, members: [second] })).status).toBe(200);
    expect(await Promise.all(days.map(asks))).toEqual(before);
    const own = (await admin.get(`/lists/${shop.shop.counter}/build-up/${third}/${shop.shop.packs[2]}`))
      .body as BuildUp;
    expect(own.posted).toMatchObject({
      price: '2.70',
      reason: 'left the lockstep group “Braid”',
      handSet: { reason: 'promised' },
    });
    expect(own.computed!.steps[0]).toMatchObject({ kind: 'cost', after: '220' });
    // from now on it moves alone
    expect((await admin.post('/costs', cost(third, '100.00'))).status).toBe(200);
    const alone = (await admin.get(`/lists/${shop.shop.counter}/build-up/${third}/${shop.shop.packs[2]}`))
      .body as BuildUp;
    expect(alone.computed!.steps[0]).toMatchObject({ kind: 'cost', after: '100' });
  });

  it('and neither does making a member the lead, nor giving the group up', async () => {
    const before = await asks();
    const [group] = await groups();
    const { id, ...body } = group!;
    const led = await admin.put(`/lockstep/${id}`, { ...body, lead: second, members: [lead] });
    expect([led.status, await asks()]).toEqual([200, before]);
    const { version } = led.body as { version: number };
    expect((await admin.delete(`/lockstep/${id}`, { version })).status).toBe(200);
    expect(await asks()).toEqual(before);
  });
});
