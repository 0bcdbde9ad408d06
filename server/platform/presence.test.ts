import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, inject, it, vi } from 'vitest';
import { openDatabase } from './database.ts';
import { startJobs } from './jobs.ts';
import { Presence } from './presence.ts';
import { createDatabase } from './tests/create-database.ts';

describe('work of a server that is gone', () => {
  let database: ReturnType<typeof openDatabase>;
  let jobs: Awaited<ReturnType<typeof startJobs>>;
  let other: Presence;
  let end: () => void = () => undefined;
  beforeAll(async () => {
    const { owner } = await createDatabase(inject('addresses'));
    database = openDatabase(owner);
    jobs = await startJobs(owner, pino({ level: 'silent' }), { work: () => new Promise<void>((done) => (end = done)) });
    other = new Presence(owner);
  });
  afterAll(async () => {
    end();
    await jobs.stop();
    await other.close();
    await database.close();
  });
  const state = async (id: number) =>
    (await database.pool.query<{ state: string }>(`select state from jobs.job where data ->> 'id' = $1`, [`${id}`]))
      .rows[0]?.state;
  const takenUpLongAgo = (id: number) =>
    database.pool.query(
      `update jobs.job set state = 'active', started_on = now() - interval '1 hour' where data ->> 'id' = $1`,
      [`${id}`],
    );

  it('is taken up by another within seconds, and what a living one does is left to it, however long it takes', async () => {
    await jobs.enqueue('work', 1);
    await vi.waitFor(async () => expect(await state(1)).toBe('active'), { timeout: 10_000 });
    await jobs.enqueue('work', 2);
    // the first is being done; of the second a server took it up that nobody has heard of since
    await takenUpLongAgo(1);
    await takenUpLongAgo(2);
    await vi.waitFor(async () => expect(await state(2)).toBe('retry'), { timeout: 30_000 });
    expect(await state(1)).toBe('active');
  }, 40_000);

  it('a server whose connection was cut says again what it does, and is not taken for gone', async () => {
    const said = async () =>
      (
        await database.pool.query<{ pid: number }>(
          `select pid from pg_locks where locktype = 'advisory' and objid = 1 and objsubid = 2
             and database = (select oid from pg_database where datname = current_database())`,
        )
      ).rows.map((r) => r.pid);
    const [pid] = await said();
    await database.pool.query('select pg_terminate_backend($1)', [pid]);
    await vi.waitFor(async () => {
      const now = await said();
      expect(now).toHaveLength(1);
      expect(now[0]).not.toBe(pid);
    });
    expect(await other.giveBack()).toEqual([]);
  });
});
