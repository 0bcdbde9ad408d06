import { afterAll, beforeAll, expect, it } from 'vitest';
import {
  type Person,
  TODAY,
  type Workshop,
  openWorkshop,
  postAll,
  postedOn,
  signIn,
} from '../platform/tests/workshop.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
});
afterAll(() => shop.close());

it('a reversal puts no price back over one that was posted while it was made, and says which is in its way', async () => {
  const { counter, items, packs } = shop.shop;
  const posting = await postAll(admin, counter);
  const [answer] = await shop.heldBack(
    7302,
    () => [admin.post(`/postings/${posting}/reverse`, { reason: 'a mistake' })],
    // somebody posts one of its prices, and is done before the reversal is
    async (client) => {
      const { rows } = await client.query<{ id: number }>(
        `insert into postings (list_id, kind, reason, effective, posted_by, posted_at)
         select list_id, 'post', 'meanwhile', effective, posted_by, posted_at from postings where id = $1 returning id`,
        [posting],
      );
      await client.query(
        `insert into posting_lines (posting_id, list_id, item_id, pack_id, effective, before, after)
         select $1, list_id, item_id, pack_id, effective, after, 9.99 from posting_lines where posting_id = $2 and item_id = $3`,
        [rows[0]!.id, posting, items[0]],
      );
      const entry = await client.query<{ id: number }>(
        `insert into audit_entries (at, action, subject, subject_id) values (now(), 'posted prices', 'postings', $1) returning id`,
        [String(rows[0]!.id)],
      );
      await client.query(`update layers set revision = $1 where name = 'posted'`, [entry.rows[0]!.id]);
    },
  );
  expect([answer!.status, (answer!.body as { code: string }).code]).toEqual([422, 'cannot_reverse']);
  expect((await postedOn(admin, counter, TODAY))[`${items[0]}/${packs[0]}`]).toBe('9.99');
});

it('of two who reverse the same posting one is told that it is done', async () => {
  const { counter } = shop.shop;
  await admin.post('/costs', {
    item: shop.shop.items[1],
    supplier: shop.shop.supplier,
    amount: '300.00',
    currency: 'GBP',
    packUnits: '220',
    validFrom: TODAY,
  });
  const posting = await postAll(admin, counter);
  const reverse = () => admin.post(`/postings/${posting}/reverse`, { reason: 'twice' });
  const answers = await shop.heldBack(7302, () => [reverse(), reverse()]);
  expect(answers.map((a) => a.status).sort()).toEqual([200, 409]);
});
