import { afterAll, beforeAll, expect, inject, it } from 'vitest';
import { loadLarge } from '#demo/load-large.ts';
import { createDatabase } from '#server/platform/tests/create-database.ts';
import { type Database, migrateDatabase, openDatabase } from '#server/platform/database.ts';
import { Visitor, startApplicationOn } from './application.ts';
import { LargeScreens } from './large-screens.ts';

const ITEMS = 100_000;
const PASTED = 5_000;

let database: Database;
let app: Awaited<ReturnType<typeof startApplicationOn>>;
let visitor: Visitor;

beforeAll(async () => {
  const addresses = await createDatabase(inject('addresses'));
  await migrateDatabase(addresses.use, addresses.owner);
  database = openDatabase(addresses.owner);
  await loadLarge(database, ITEMS);
  app = await startApplicationOn(addresses);
  visitor = await Visitor.arrive(app.browser, app.address);
  visitor.page.setDefaultTimeout(60_000);
  await visitor.signIn('marit');
});
afterAll(async () => {
  await app?.stop();
  await database?.close();
});

const one = async <T>(query: string): Promise<T> => (await database.pool.query<{ is: T }>(query)).rows[0]!.is;
const ascending = (figures: readonly string[]) => {
  // what has no price comes after all that have one
  const known = figures.map((f) => (f === '' ? Infinity : Number(f.replaceAll(',', ''))));
  return known.every((f, n) => n === 0 || f >= known[n - 1]!);
};

it('a list of 100,000 prices is walked to its end, sorted and searched as a whole, not as far as it was fetched', async () => {
  const screens = new LargeScreens(visitor.page, app.address);
  await screens.open('/lists/1');
  const [sku, computed] = [await screens.columnOf('SKU'), await screens.columnOf('computed, EUR')];
  await (await screens.cell(0, '1')).click();
  await screens.toTheEnd(ITEMS);
  const last = await one<string>('select sku as is from items order by id desc limit 1');
  expect((await screens.shown(sku)).at(-1)).toBe(last);

  await screens.toTheTop();
  await screens.sortBy('computed, EUR');
  const least = await screens.shown(computed);
  await screens.toTheEnd(ITEMS);
  const most = await screens.shown(computed);
  expect(least.length).toBeGreaterThan(10);
  expect(least.every((figure) => /^[\d,]+\.\d\d$/.test(figure))).toBe(true);
  expect(most.length).toBeGreaterThan(10);
  expect(ascending([...least, ...most]), `${least.join(' ')} … ${most.join(' ')}`).toBe(true);

  const fits = await one<number>("select count(*)::int as is from items where sku like '%ST-0999%'");
  expect(fits).toBeGreaterThan(0);
  await screens.toTheTop();
  expect(await screens.find('ST-0999', /^\d+ of 100,000 prices$/)).toBe(`${fits} of 100,000 prices`);
  const found = await screens.shown(sku);
  expect(found.length).toBeGreaterThan(0);
  expect(found.every((s) => s.includes('ST-0999'))).toBe(true);
  expect(visitor.troubles).toEqual([]);
});

it('5,000 cells are pasted at once, and all of them taken back: rows that were never looked at too', async () => {
  const screens = new LargeScreens(visitor.page, app.address);
  const brands = () => one<string>("select md5(string_agg(coalesce(brand, ''), ',' order by id)) as is from items");
  const before = await brands();
  await screens.open('/items');
  await screens.paste(await screens.columnOf('Brand'), 'Tried out', PASTED);
  expect(await one<number>("select count(*)::int as is from items where brand = 'Tried out'")).toBe(PASTED);
  await screens.undo();
  expect(await brands()).toBe(before);
  expect(visitor.troubles).toEqual([]);
});
