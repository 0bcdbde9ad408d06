import { sql } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { inTransaction, withoutTrace } from '../platform/database.ts';
import { type Person, type Workshop, openWorkshop, signIn } from '../platform/tests/workshop.ts';
import { readRules } from './read-rules.ts';
import { rulesBefore } from './rules-before.ts';

let shop: Workshop;
let admin: Person;
beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  // there is a revision of the rules from here on
  expect((await admin.post('/categories', { name: 'ropes', parent: null })).status).toBe(200);
});
afterAll(() => shop.close());

const rules = () => inTransaction(shop.context.db, rulesBefore);
const names = (categories: readonly { readonly name: string }[]) => categories.map((c) => c.name);

it('whoever checks a record against the rules finds them as they are, read once for each of their revisions', async () => {
  const before = await rules();
  expect(await rules()).toBe(before);
  expect(before).toEqual(await shop.context.db.transaction((tx) => readRules(tx)));
  expect((await admin.post('/categories', { name: 'chandlery', parent: null })).status).toBe(200);
  const after = await rules();
  expect(names(after.categories)).toContain('chandlery');
  expect(names(before.categories)).not.toContain('chandlery');
  expect(await rules()).toBe(after);
});

it('a transaction finds what it has written itself, and nobody else is told of it', async () => {
  const before = await rules();
  const write = sql`update categories set name = 'never kept' where name = 'ropes'`;
  await withoutTrace(shop.context.db, async (tx) => {
    expect(await rulesBefore(tx)).toBe(before);
    await tx.execute(write);
    expect(names((await rulesBefore(tx)).categories)).toContain('never kept');
  });
  expect(await rules()).toBe(before);
  await withoutTrace(shop.context.db, async (tx) => {
    await tx.execute(write);
    // the same inside of a part of it
    await withoutTrace(tx, async (part) => expect(names((await rulesBefore(part)).categories)).toContain('never kept'));
  });
  expect(await rules()).toBe(before);
});
