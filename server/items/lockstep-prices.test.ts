import { and, eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Falls } from '#contract/falls.ts';
import type { BuildUp, ListPrices, WouldPost } from '#contract/lists.ts';
import type { Posted } from '#contract/posting-requests.ts';
import type { Worksheet, WorksheetPrices } from '#contract/worksheets.ts';
import { EVERYTHING } from '#contract/windows.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { dec, money } from '#core/numbers/decimal.ts';
import {
  type Person,
  TODAY,
  type Workshop,
  linesOf,
  openWorkshop,
  postAll,
  signIn,
} from '../platform/tests/workshop.ts';
import { stepsOfLine } from '../ledger/rebuilt-steps.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { workspaceOn } from '../workspace/state.ts';

let shop: Workshop;
let admin: Person;
/** What the group is posted at, before anything is changed. */
let before: string;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  const { counter, yards, items } = shop.shop;
  const [lead, ...members] = items;
  expect((await admin.post('/lockstep', { name: 'Braid', lead, members })).status).toBe(200);
  for (const list of [counter, yards]) await postAll(admin, list);
  before = (await rows())[0]!.posted!;
  // on the list that the yards' prices are made from one colour costs half of what the others do
  const entry = { list: counter, scope: { item: items[2] }, kind: 'percent_off', value: '50' };
  expect((await admin.post('/entries', entry)).status).toBe(200);
});
afterAll(() => shop.close());

const rows = async () => ((await admin.get(`/lists/${shop.shop.yards}/prices`)).body as ListPrices).rows;
const buildUp = async (n: number) => {
  const { yards, items, packs } = shop.shop;
  return (await admin.get(`/lists/${yards}/build-up/${items[n]}/${packs[n]}`)).body as BuildUp;
};
const cost = (amount: string) => {
  const { supplier, items } = shop.shop;
  return admin.post('/costs', {
    item: items[0],
    supplier,
    amount,
    currency: 'GBP',
    packUnits: '220',
    validFrom: TODAY,
  });
};
/** How many prices it was said that would change, and be posted. */
let said: number[] = [];
const fromList = async () => {
  const list = `/lists/${shop.shop.yards}`;
  const would = (await admin.post(`${list}/to-post`, { arranged: EVERYTHING, typed: [] })).body as WouldPost;
  said = [would.lines, would.posts];
  const order = { arranged: EVERYTHING, typed: [], effective: TODAY, reason: 'as shown', state: would.state };
  return admin.post(`${list}/shown-postings`, order);
};

it('a group is not posted at what an entry for one of its members makes of that one alone', async () => {
  expect((await rows()).map((r) => [r.posted, r.proposed])).toEqual([0, 1, 2].map(() => [before, before]));
  expect((await fromList()).body).toMatchObject({ code: 'nothing_to_post' });
});

it('a list with such an entry behind it is posted as a whole: once for the group, and nothing is left over', async () => {
  expect((await cost('300.00')).status).toBe(200);
  await postAll(admin, shop.shop.counter);
  const now = (await rows())[0]!.proposed!;
  expect(Number(now)).toBeGreaterThan(Number(before));
  expect((await rows()).map((r) => r.proposed)).toEqual([now, now, now]);
  const { postings, lines } = (await fromList()).body as Posted;
  expect([said, lines]).toEqual([[3, 1], 1]);
  expect((await linesOf(admin, postings[0]!)).map((l) => [l.item, l.after])).toEqual([[shop.shop.items[0], now]]);
  expect((await rows()).map((r) => [r.posted, r.proposed])).toEqual([0, 1, 2].map(() => [now, now]));
  for (const n of [0, 1, 2]) {
    const { posted, postedSteps, computed } = await buildUp(n);
    expect([posted!.price, computed!.price, Number(postedSteps!.at(-1)!.after)]).toEqual([now, now, Number(now)]);
  }
});

it('a worksheet proposes for every member what it posts for the group', async () => {
  const { counter, yards } = shop.shop;
  expect((await cost('360.00')).status).toBe(200);
  const made = (await admin.post('/worksheets', { reason: 'new costs', day: TODAY })).body as Worksheet;
  const proposed = async (list: string) =>
    ((await admin.get(`/worksheets/${made.id}/lists/${list}/prices?count=2000`)).body as WorksheetPrices).rows;
  for (const list of [counter, yards]) expect(new Set((await proposed(list)).map((p) => p.after)).size).toBe(1);
  const { after } = (await proposed(yards))[0]!;
  const order = { reason: 'as proposed', lists: [counter, yards], share: 'changed' };
  expect(((await admin.post(`/worksheets/${made.id}/postings`, order)).body as Worksheet).state).toBe('posted');
  expect((await rows()).map((r) => [r.posted, r.proposed])).toEqual([0, 1, 2].map(() => [after, after]));
});

it('a group that would fall does so to one price, and is let fall in one posting', async () => {
  const { counter, yards } = shop.shop;
  const recipe = ((await admin.get('/lists')).body as { id: string; recipe: string }[]).find(
    (l) => l.id === yards,
  )!.recipe;
  const guard = async (guards: object[]) => {
    const { id, ...body } = ((await admin.get('/recipes')).body as { id: string }[]).find((r) => r.id === recipe)!;
    expect((await admin.put(`/recipes/${id}`, { ...body, guards })).status).toBe(200);
  };
  await guard([{ kind: 'raise_only' }]);
  expect((await cost('250.00')).status).toBe(200);
  await postAll(admin, counter);
  const falls = ((await admin.get('/falls')).body as Falls).rows;
  const [{ posted, to }] = falls as [Falls['rows'][number]];
  expect(falls.map((f) => [f.list, f.posted, f.to])).toEqual([0, 1, 2].map(() => [yards, posted, to]));
  const prices = falls.map((f) => ({ list: f.list, item: f.item, pack: f.pack, before: f.posted, after: f.to }));
  const fallen = await admin.post('/falls/postings', { effective: TODAY, reason: 'cheaper line', prices });
  expect(fallen.body).toMatchObject({ lines: 1 });
  expect((await rows()).map((r) => r.posted)).toEqual([to, to, to]);
  await guard([]);
});

it('what was posted for a group by the price of a member, before it was so, is still explained', async () => {
  const { yards, items, packs } = shop.shop;
  const { ws } = await workspaceOn(shop.database.db, TODAY);
  const made = computePrice(ws, { list: yards, item: items[2]!, pack: packs[2]!, day: TODAY });
  const price = money(made.ok ? made.value.price : dec(0), 2);
  const { posted } = await buildUp(0);
  expect(Number(price)).toBeLessThan(Number(posted!.price));
  const { db } = shop.database;
  const [{ id: _, ...head }] = (await db
    .select()
    .from(postings)
    .where(eq(postings.id, Number(posted!.posting)))) as [typeof postings.$inferSelect];
  const [then] = await db.insert(postings).values(head).returning({ id: postings.id });
  const of = and(eq(postingLines.postingId, Number(posted!.posting)), eq(postingLines.packId, Number(packs[0])));
  const [{ id: __, ...line }] = (await db.select().from(postingLines).where(of)) as [typeof postingLines.$inferSelect];
  const values = { ...line, postingId: then!.id, after: price };
  const [kept] = await db.insert(postingLines).values(values).returning({ id: postingLines.id });
  const steps = await stepsOfLine(db, kept!.id);
  expect(Number(steps!.at(-1)!.after)).toBe(Number(price));
});
