import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Server } from 'node:http';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { Dice } from '#core/numbers/dice.ts';
import { buildApp } from './http/app.ts';
import { migrateDatabase, openDatabase } from './database.ts';
import { acts } from './tests/acts.ts';
import { createDatabase } from './tests/create-database.ts';
import { type Person, TODAY, type Workshop, openWorkshop, postAll, signIn } from './tests/workshop.ts';

let shop: Workshop;
let admin: Person;
const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-'));
const file = join(folder, 'kept.backup');
const run = (what: 'backup' | 'restore', ...args: string[]) =>
  execFileSync(`bin/${what}`, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] });
const why = (what: 'backup' | 'restore', ...args: string[]): string => {
  try {
    run(what, ...args);
  } catch (error) {
    return String((error as { stderr: string }).stderr);
  }
  return 'it did not fail';
};

beforeAll(async () => {
  shop = await openWorkshop();
  admin = await signIn(shop.app, 'administrator');
  await postAll(admin, shop.shop.counter);
  const dice = new Dice(11);
  const all = acts(() => ({ shop, admin }));
  for (let n = 0; n < 25; n++) await dice.pick(all)(dice);
});
afterAll(async () => {
  await shop.close();
  rmSync(folder, { recursive: true, force: true });
});

describe('a backup', () => {
  it('brought back elsewhere answers every day as before, with the same ledger, and is written on', async () => {
    run('backup', '--url', shop.owner, file);
    const other = await createDatabase(inject('addresses'));
    run('restore', '--url', other.owner, file);
    await migrateDatabase(other.use, other.owner);
    const database = openDatabase(other.use);
    const app = buildApp({ ...shop.context, database, db: database.db }) as unknown as Server;
    try {
      const again = await signIn(app, 'administrator');
      const asked = [
        '/postings',
        '/audit',
        '/items',
        ...[TODAY, '2026-03-20', '2026-06-01'].flatMap((d) =>
          [shop.shop.counter, shop.shop.yards].map((l) => `/lists/${l}/prices?day=${d}`),
        ),
      ];
      for (const path of asked) {
        const [before, after] = [await admin.get(path), await again.get(path)];
        expect([path, before.status]).toEqual([path, 200]);
        expect([path, after.status, after.body]).toEqual([path, 200, before.body]);
      }
      // what is only added to is still only added to, for the role that uses it
      await expect(database.pool.query('delete from posting_lines')).rejects.toThrow('permission denied');
      expect((await again.post('/categories', { name: 'After', parent: null })).status).toBe(200);
    } finally {
      await database.close();
    }
  });

  it('is never brought back over what is there, nor from half a file', async () => {
    expect(why('restore', '--url', shop.owner, file)).toContain('not empty');
    const half = join(folder, 'half.backup');
    writeFileSync(half, 'PGDMP and then nothing');
    const empty = await createDatabase(inject('addresses'));
    expect(why('restore', '--url', empty.owner, half)).toContain('no backup, or not whole');
    expect(why('backup', '--data', join(folder, 'mistyped'), file)).toContain('holds no database');
  });
});
