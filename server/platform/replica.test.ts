import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { pino } from 'pino';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { QuoteView } from '#contract/quotes.ts';
import type { ReplicaStanding } from '#contract/replica.ts';
import { sharesStates } from '../workspace/state.ts';
import { buildApp } from './http/app.ts';
import { openDatabase } from './database.ts';
import { metricsOf } from './metrics.ts';
import { replicaAt } from './replica.ts';
import { type Person, type Workshop, openWorkshop, signIn } from './tests/workshop.ts';

const script = fileURLToPath(new URL('../../bin/database', import.meta.url));
const run = (...args: string[]) =>
  execFileSync(script, args, { encoding: 'utf8', env: { ...process.env, FAST: '1' } }).split('\n');

describe('a copy of the database that follows it', () => {
  const folder = mkdtempSync(join(tmpdir(), 'hard-ledger-replica-'));
  const [first, copy] = [join(folder, 'first'), join(folder, 'copy')];
  const log = pino({ level: 'silent' });
  let shop: Workshop;
  const replicas: ReturnType<typeof replicaAt>[] = [];
  let control: pg.Client;
  let copyUrl: string;
  let quote: QuoteView;

  /** A server of its own at the same two databases. */
  const server = (): Server => {
    const replica = replicaAt(copyUrl, shop.database.db, log);
    replicas.push(replica);
    sharesStates(replica.database.db, shop.database.db);
    const metrics = metricsOf({ database: shop.database, checked: () => ({ counts: null, findings: null }), replica });
    return buildApp({ ...shop.context, replica, metrics }) as unknown as Server;
  };
  const standing = async (person: Person) => (await person.get('/replica')).body as ReplicaStanding;
  const level = (person: Person) => vi.waitFor(async () => expect((await standing(person)).state).toBe('level'));
  const noteOf = async (person: Person) => ((await person.get(`/quotes/${quote.id}`)).body as QuoteView).note;
  /** The same person with the same cookies, at another server. */
  const noteAt = async (app: Server, { agent }: Person) => {
    const cookies = agent.jar.getCookies({ domain: '127.0.0.1', path: '/', secure: false, script: false });
    const answer = await supertest(app).get(`/api/quotes/${quote.id}`).set('cookie', cookies.toValueString());
    return (answer.body as QuoteView).note;
  };
  const keepNote = async (person: Person, note: string) => {
    const kept = (await person.get(`/quotes/${quote.id}`)).body as QuoteView;
    const [line] = kept.lines;
    const answer = await person.put(`/quotes/${quote.id}`, {
      customer: shop.shop.customers[0],
      note,
      version: kept.version,
      lines: [{ item: line!.item, pack: line!.pack, quantity: '1' }],
    });
    expect(answer.status, JSON.stringify(answer.body)).toBe(200);
  };
  const paused = async (work: () => Promise<void>) => {
    await control.query('select pg_wal_replay_pause()');
    await vi.waitFor(async () => {
      const { rows } = await control.query<{ s: string }>('select pg_get_wal_replay_pause_state() as s');
      expect(rows[0]!.s).toBe('paused');
    });
    await work().finally(() => control.query('select pg_wal_replay_resume()'));
  };

  beforeAll(async () => {
    const [owner = '', use = ''] = run('start', first);
    shop = await openWorkshop({ owner, use });
    const [copyOwner = '', copyUse = ''] = run('replica', copy, first);
    const named = (url: string) => url.replace(/\/[^/]+$/, `/${shop.url.split('/').at(-1)!}`);
    copyUrl = named(copyUse);
    control = new pg.Client({ connectionString: named(copyOwner) });
    control.on('error', () => undefined);
    await control.connect();
    const person = await signIn(shop.app, 'administrator');
    const { items, packs, customers } = shop.shop;
    quote = (
      await person.post('/quotes', {
        customer: customers[0],
        note: 'first',
        lines: [{ item: items[0], pack: packs[0], quantity: '1' }],
      })
    ).body as QuoteView;
  }, 60_000);
  afterAll(async () => {
    await control.end();
    for (const r of replicas) await r.close();
    await shop.close();
    run('remove', copy);
    run('remove', first);
    rmSync(folder, { recursive: true, force: true });
  });

  it('answers who only looks; who wrote something sees it at once, at whatever server', async () => {
    const [here, there] = [server(), server()];
    const [writer, reader] = [await signIn(here, 'administrator'), await signIn(here, 'reader')];
    await level(reader);
    expect(await noteAt(there, reader)).toBe('first');
    await paused(async () => {
      await keepNote(writer, 'second');
      expect(await noteOf(writer)).toBe('second');
      expect(await noteOf(reader)).toBe('first');
      expect((await standing(reader)).state).toBe('behind');
      // and how far grows, from the moment on at which it began to lag
      await vi.waitFor(async () => expect((await standing(reader)).secondsBehind).toBeGreaterThan(0.3));
      expect((await standing(reader)).secondsBehind).toBeLessThan(10);
      expect(await noteAt(there, writer)).toBe('second');
      expect(await noteAt(there, reader)).toBe('first');
    });
    await level(reader);
    expect(await noteOf(reader)).toBe('second');
  });

  it('prices are never asked of it before it has the rules they are made from', async () => {
    const app = server();
    const [writer, reader] = [await signIn(app, 'administrator'), await signIn(app, 'reader')];
    await level(reader);
    const named = async (person: Person) =>
      ((await person.get('/customer-groups')).body as { name: string }[]).map((g) => g.name);
    await paused(async () => {
      const made = await writer.post('/customer-groups', { name: 'Newcomers', rank: 9 });
      expect(made.status, JSON.stringify(made.body)).toBe(200);
      expect(await named(reader)).toContain('Newcomers');
    });
  });

  it('one that goes away is done without, said, and read again once it is back', async () => {
    const app = server();
    const [writer, reader] = [await signIn(app, 'administrator'), await signIn(app, 'reader')];
    await level(reader);
    run('stop', copy);
    expect(await noteOf(reader)).toBe('second');
    expect(await standing(reader)).toEqual({ state: 'away', secondsBehind: null });
    await keepNote(writer, 'third');
    expect(await noteOf(reader)).toBe('third');
    run('replica', copy, first);
    await vi.waitFor(async () => expect((await standing(reader)).state).toBe('level'), { timeout: 20_000 });
    expect(await noteOf(reader)).toBe('third');
    expect((await reader.agent.get('/metrics')).text).toContain('hard_ledger_replica_lag_seconds 0');
  }, 40_000);

  it('what somebody changed is kept though nobody knows how far the log is by then: they read the database itself', async () => {
    const gone = openDatabase(shop.url);
    const replica = replicaAt(copyUrl, gone.db, log);
    replicas.push(replica);
    await vi.waitFor(async () => expect((await replica.ready(1, null)) === replica.database.db).toBe(true));
    await gone.close();
    expect(await replica.wrote(1)).toBeNull();
  });
});
