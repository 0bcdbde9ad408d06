import { execFileSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { sql } from 'drizzle-orm';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { pino } from 'pino';
import { inTransaction, isAway, openDatabase } from './database.ts';
import { startJobs } from './jobs.ts';
import { buildApp } from './http/app.ts';
import { type Workshop, openWorkshop, signIn } from './tests/workshop.ts';

const script = fileURLToPath(new URL('../../bin/database', import.meta.url));

describe('a database that goes away', () => {
  const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-away-'));
  const run = (command: 'start' | 'stop' | 'remove') =>
    execFileSync(script, [command, folder], { encoding: 'utf8', env: { ...process.env, FAST: '1' } }).split('\n')[0]!;
  let shop: Workshop;
  beforeAll(async () => void (shop = await openWorkshop()));
  afterAll(async () => {
    await shop.close();
    run('remove');
  });

  it('a server lives through its restart: 503 with the reason meanwhile, and then it goes on', async () => {
    const database = openDatabase(run('start'), { connect: 1_000 });
    const app = buildApp({ ...shop.context, database, db: database.db }) as unknown as Server;
    const health = async () => (await supertest(app).get('/healthz')).status;
    expect(await health()).toBe(200);
    // somebody is in the middle of a transaction when it stops
    let inside: unknown = null;
    const cut = inTransaction(database.db, async (tx) => {
      await tx.execute(sql`select 1`);
      inside = 'begun';
      await tx.execute(sql`select pg_sleep(30)`);
    }).catch((error: unknown) => error);
    await vi.waitFor(() => expect(inside).toBe('begun'));
    run('stop');
    expect(isAway(await cut)).toBe(true);
    expect(await health()).toBe(503);
    const answer = await supertest(app).get('/api/session').set('cookie', 'hard-ledger=s%3Aabc.def');
    expect([answer.status, (answer.body as { code: string }).code]).toEqual([503, 'database_away']);
    run('start');
    await vi.waitFor(async () => expect(await health()).toBe(200), { timeout: 20_000 });
    await database.close();
  });

  it('a job that fails because it is away is done once it is back, and no server ends of it', async () => {
    const url = run('start');
    const log = pino({ level: 'silent' });
    let [begun, away] = [0, false];
    const work = async () => {
      begun++;
      if (!away) return;
      run('stop');
      throw new Error('the database is away');
    };
    const jobs = await startJobs(url, log, { work });
    try {
      await jobs.enqueue('work', 1);
      await vi.waitFor(() => expect(begun).toBe(1), { timeout: 10_000 });
      away = true;
      await jobs.enqueue('work', 2);
      // how it ended cannot be written down: that is an error nobody waits for
      await vi.waitFor(() => expect(begun).toBe(2), { timeout: 10_000 });
      away = false;
      run('start');
      await vi.waitFor(() => expect(begun).toBe(3), { timeout: 30_000 });
    } finally {
      await jobs.stop();
    }
  }, 60_000);

  it('a health check does not wait for a database that hangs', async () => {
    const hangs = { ...shop.context, db: { execute: () => new Promise(() => undefined) } as never };
    expect((await supertest(buildApp(hangs) as unknown as Server).get('/healthz')).status).toBe(503);
  });
});

describe('transactions in each other’s way', () => {
  it('one that was undone for another’s sake is done again', async () => {
    const shop = await openWorkshop();
    await shop.asOwner(
      'create table turns (id int primary key, n int); insert into turns values (1, 0), (2, 0); grant all on turns to public',
    );
    // each takes the two rows in the other order: without another try one of them would fail
    const gate: (() => void)[] = [];
    const both = new Promise<void>((open) => gate.push(open));
    let begun = 0;
    const take = (first: number, second: number) =>
      inTransaction(shop.database.db, async (tx) => {
        await tx.execute(sql`update turns set n = n + 1 where id = ${first}`);
        if (++begun === 2) gate[0]!();
        await both;
        await tx.execute(sql`update turns set n = n + 1 where id = ${second}`);
      });
    await Promise.all([take(1, 2), take(2, 1)]);
    const { rows } = await shop.database.pool.query<{ n: number }>('select n from turns order by id');
    expect(rows.map((r) => r.n)).toEqual([2, 2]);
    await shop.close();
  });

  it('quotes, items, costs and postings at the same time: none is lost and none fails for another’s sake', async () => {
    const shop = await openWorkshop();
    const admin = await signIn(shop.app, 'administrator');
    const { items, packs, customers, supplier } = shop.shop;
    const work = Array.from({ length: 60 }, (_, n) => {
      const at = n % 3;
      if (n % 4 === 0)
        return admin.post('/costs', {
          item: items[at],
          supplier,
          amount: `${200 + n}`,
          currency: 'GBP',
          packUnits: '220',
          validFrom: '2026-03-09',
        });
      const lines = [0, 1, 2]
        .map((k) => (n % 2 ? k : 2 - k))
        .map((k) => ({ item: items[k], pack: packs[k], quantity: '1' }));
      return admin.post('/quotes', { customer: customers[0], lines, note: `${n}` });
    });
    const statuses = (await Promise.all(work)).map((a) => a.status);
    expect(statuses.filter((s) => s !== 200)).toEqual([]);
    await shop.close();
  });
});

describe('a long document', () => {
  it('keeps nobody else waiting', async () => {
    const shop = await openWorkshop();
    const admin = await signIn(shop.app, 'administrator');
    const { items, packs, customers } = shop.shop;
    const lines = Array.from({ length: 400 }, (_, i) => ({ item: items[i % 3], pack: packs[i % 3], quantity: '1' }));
    const quote = (await admin.post('/quotes', { customer: customers[0], lines })).body as { id: string };
    const order: string[] = [];
    const pdf = admin.get(`/quotes/${quote.id}/pdf`).then((a) => {
      order.push('pdf');
      return a;
    });
    for (let i = 0; i < 5; i++) {
      await admin.get('/session');
      order.push('session');
    }
    expect((await pdf).headers['content-type']).toContain('application/pdf');
    expect(order.at(-1)).toBe('pdf');
    await shop.close();
  });
});
