import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { items } from '../items/tables.ts';
import { inSnapshot, migrateDatabase } from './database.ts';
import { copyOut } from './copy.ts';
import { type Workshop, openWorkshop } from './tests/workshop.ts';

let shop: Workshop;
beforeAll(async () => {
  shop = await openWorkshop();
});
afterAll(() => shop.close());

const nameOf = async (db: Workshop['context']['db']) =>
  (await db.select({ name: items.name }).from(items).where(eq(items.sku, 'BL-10')))[0]!.name;

describe('a snapshot', () => {
  it('stays as it was while somebody else changes what it reads', async () => {
    const { db, database } = shop.context;
    const before = await nameOf(db);
    const seen = await inSnapshot(database.pool, async (_, snapshot) => {
      const first = (await snapshot.select({ name: items.name }).from(items).where(eq(items.sku, 'BL-10')))[0]!.name;
      await db.update(items).set({ name: 'Renamed' }).where(eq(items.sku, 'BL-10'));
      const then = (await snapshot.select({ name: items.name }).from(items).where(eq(items.sku, 'BL-10')))[0]!.name;
      return [first, then];
    });
    expect(seen).toEqual([before, before]);
    expect(await nameOf(db)).toBe('Renamed');
  });

  it('cannot be written into', async () => {
    const { database } = shop.context;
    const write = inSnapshot(database.pool, (client) => client.query("update items set name = 'x'"));
    await expect(write).rejects.toThrow('read-only');
  });

  it('gives its connection up where reading breaks off in the middle of a COPY, and the next one works', async () => {
    const { database } = shop.context;
    const broken = inSnapshot(database.pool, async (client) => {
      for await (const lines of copyOut(client, 'select * from generate_series(1, 500000)'))
        if (lines.length > 0) throw new Error('enough');
    });
    await expect(broken).rejects.toThrow('enough');
    const counted = await inSnapshot(database.pool, async (client) => (await client.query('select 1 as one')).rows);
    expect(counted).toEqual([{ one: 1 }]);
  });
});

it('a database in the form of a later release is left alone, and the start says why', async () => {
  const last = '(select max(created_at) from drizzle.__drizzle_migrations)';
  await shop.asOwner(`insert into drizzle.__drizzle_migrations (hash, created_at) select 'later', ${last} + 1`);
  await expect(migrateDatabase(shop.url, shop.owner)).rejects.toThrow('a later release');
  await shop.asOwner(`delete from drizzle.__drizzle_migrations where hash = 'later'`);
  await migrateDatabase(shop.url, shop.owner);
});

it('a database of the release before is brought to the form of this one, and its past stays readable', async () => {
  // as it was: with a column that is gone since, which the views of the past show
  await shop.asOwner(`
    drop view past.posting_lines;
    alter table posting_lines add column cost numeric;
    create view past.posting_lines as select * from posting_lines;
    delete from drizzle.__drizzle_migrations where created_at = (select max(created_at) from drizzle.__drizzle_migrations)`);
  await migrateDatabase(shop.url, shop.owner);
  const { rows } = await shop.database.pool.query<{ column_name: string }>(
    `select column_name from information_schema.columns where table_schema = 'past' and table_name = 'posting_lines'`,
  );
  const columns = rows.map((r) => r.column_name);
  expect([columns.includes('margin'), columns.includes('cost')]).toEqual([true, false]);
});
