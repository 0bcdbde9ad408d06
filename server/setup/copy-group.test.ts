import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

type Row = Record<string, unknown> & { id: string };
const rows = async (register: string) => (await admin.get(`/${register}`)).body as Row[];
const make = async (path: string, body: object) => {
  const answer = await admin.post(path, body);
  expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  return answer.body as Row;
};

it('a copy of a group pays the same: reductions, breaks, floors and lists are copied, members are not', async () => {
  const { group, yards } = shop.shop;
  const reduction = { name: 'spring', group, scope: { category: shop.shop.category }, kind: 'percent_off', value: '4' };
  await make('/reductions', reduction);
  const row = { from: '10', kind: 'percent_off', value: '5' };
  await make('/breaks', { name: 'by ten', list: yards, way: 'whole', count: 'line', group, rows: [row] });
  await make('/floors', { name: 'least', kind: 'margin', value: '10', outcome: 'ask', group });
  const copy = await make(`/customer-groups/${group}/copy`, { name: 'new yards' });
  expect((await rows('reductions')).filter((r) => r['group'] === copy.id)).toMatchObject([
    { ...reduction, group: copy.id },
  ]);
  expect((await rows('breaks')).filter((b) => b['group'] === copy.id)).toMatchObject([{ name: 'by ten', rows: [row] }]);
  expect((await rows('floors')).filter((f) => f['group'] === copy.id)).toMatchObject([{ name: 'least' }]);
  expect((await rows('lists')).find((l) => l.id === yards)!['groups']).toEqual([group, copy.id]);
  expect((await rows('customers')).filter((c) => (c['groups'] as string[]).includes(copy.id))).toEqual([]);
  // what points to the copy keeps it, as it keeps the first
  const removed = await admin.delete(`/customer-groups/${copy.id}`, { version: 1 });
  expect((removed.body as { code: string }).code).toBe('in_use');
  const audit = (await admin.get('/audit')).body as {
    action: string;
    subject: string;
    after: { copyOf?: string } | null;
  }[];
  const of = (action: string) => audit.filter((a) => a.action === action).map((a) => a.subject);
  expect(of('copied')).toEqual(['customer-groups']);
  expect(of('meant for one more group')).toEqual(['lists']);
  expect(
    audit
      .filter((a) => a.after?.copyOf)
      .map((a) => a.subject)
      .sort(),
  ).toEqual(['breaks', 'floors', 'reductions']);
});
it('whoever has a list open that the copy joined is told, instead of shutting the new group out', async () => {
  const list = (await rows('lists')).find((l) => l.id === shop.shop.yards)!;
  await make(`/customer-groups/${shop.shop.group}/copy`, { name: 'third yards' });
  const { id, ...body } = list;
  const answer = await admin.put(`/lists/${id}`, body);
  expect((answer.body as { code: string }).code).toBe('changed_meanwhile');
});
it('a name that is taken is refused, and nothing is copied', async () => {
  const before = (await rows('reductions')).length;
  const answer = await admin.post(`/customer-groups/${shop.shop.group}/copy`, { name: 'yards' });
  expect((answer.body as { code: string }).code).toBe('taken');
  expect((await rows('reductions')).length).toBe(before);
  expect((await admin.post('/customer-groups/9999/copy', { name: 'x' })).status).toBe(404);
});
it('a group has a name inside and one that buyers see', async () => {
  const { id } = await make('/customer-groups', { name: 'yards, second class', shownAs: 'Partners', rank: 4 });
  expect((await rows('customer-groups')).find((g) => g.id === id)).toMatchObject({ shownAs: 'Partners' });
});
