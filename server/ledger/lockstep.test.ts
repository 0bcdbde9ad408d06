import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import {
  type Person,
  TODAY,
  type Workshop,
  linesOf,
  openWorkshop,
  postAll,
  signIn,
} from '../platform/tests/workshop.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  const [lead, ...members] = shop.shop.items;
  await admin.post('/lockstep', { name: 'Braided line', lead, members });
});
afterAll(() => shop.close());

const rows = async () =>
  ((await admin.get(`/lists/${shop.shop.counter}/prices`)).body as { rows: ListPriceRow[] }).rows;
const post = (lines: object[]) =>
  admin.post(`/lists/${shop.shop.counter}/postings`, { effective: TODAY, reason: 'in lockstep', lines });
const typed = (row: ListPriceRow, after: string) => ({
  item: row.item,
  pack: row.pack,
  before: row.posted,
  after,
  handSet: { reason: 'the fair', lastDay: null },
});

describe('prices of a lockstep group', () => {
  it('are posted once, for the lead, and stand beside every member', async () => {
    const posting = await postAll(admin, shop.shop.counter);
    expect((await linesOf(admin, posting)).map((l) => l.sku)).toEqual(['BL-10']);
    const now = await rows();
    expect(new Set(now.map((r) => r.posted)).size).toBe(1);
    expect(now.map((r) => r.changePercent)).toEqual(['0', '0', '0']);
  });

  it('typed for a member are asked for the lead and every member, instead of being posted and never asked', async () => {
    const member = (await rows())[1]!;
    const answer = await post([typed(member, '9.95')]);
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
    expect((await rows()).map((r) => [r.asks, r.handSet])).toEqual(Array(3).fill(['9.95', 'the fair']));
  });

  it('are not two in one posting', async () => {
    const [lead, member] = await rows();
    const answer = await post([typed(lead!, '8.00'), typed(member!, '8.50')]);
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([422, 'lockstep_apart']);
    expect((await post([typed(lead!, '8.00'), typed(member!, '8.00')])).status).toBe(200);
    expect((await rows()).map((r) => r.asks)).toEqual(['8.00', '8.00', '8.00']);
  });
});
