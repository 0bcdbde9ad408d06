import { setTimeout as after } from 'node:timers/promises';
import pg from 'pg';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { isAway } from './database.ts';
import { withoutValues } from './log.ts';
import { Presence } from './presence.ts';

/** Long work, kept in the database until it is done: another server, or this one started again, goes on with it. */
export interface Jobs {
  /** `id`: of what the work is on; the same work is never queued twice. */
  enqueue(queue: string, id: number): Promise<void>;
}

/** Does the work of a queue; what it throws is logged, and the work tried again. */
export type Work = (id: number) => Promise<void>;

/** After this long without an end, the server that did it is taken for gone even where the database still hears of it. */
const EXPIRES_SECONDS = 900;

export async function startJobs(
  url: string,
  log: Logger,
  queues: Readonly<Record<string, Work>>,
): Promise<Jobs & { stop(): Promise<void> }> {
  const db = patientDatabase(url, log);
  const boss = new PgBoss({ db, schema: 'jobs' });
  boss.on('error', (error) => log.error({ stack: withoutValues(error) }, 'the queue met an error'));
  await boss.start();
  const presence = new Presence(url);
  for (const [name, work] of Object.entries(queues)) {
    await boss.createQueue(name, { name, expireInSeconds: EXPIRES_SECONDS, retryLimit: 2 });
    await boss.work<{ id: number }>(name, { pollingIntervalSeconds: 0.5 }, async (jobs) => {
      for (const job of jobs) {
        const { id } = job.data;
        const failed = await presence
          .during(name, id, () => work(id))
          .then(
            () => false,
            (error: unknown) => {
              log.error({ stack: withoutValues(error), queue: name, id }, 'a job ended with an error');
              return true;
            },
          );
        // what the queue keeps of it must hold no values either
        if (failed) throw new Error('the job ended with an error: see the log');
      }
    });
  }
  const giveBack = async () => {
    for (const left of await presence.giveBack()) log.warn(left, 'work of a server that is gone is taken up again');
  };
  const looking = setInterval(() => {
    giveBack().catch((error: unknown) =>
      log.error({ stack: withoutValues(error) }, 'work of servers that are gone was not looked for'),
    );
  }, LOOK_MS);
  return {
    enqueue: async (queue, id) => void (await boss.send(queue, { id }, { singletonKey: String(id) })),
    stop: async () => {
      clearInterval(looking);
      // jobs end in the database: it is waited for no longer than they are
      const ended = boss.stop({ graceful: true, wait: true, timeout: STOP_MS });
      await Promise.race([ended, after(2 * STOP_MS, null, { ref: false })]);
      await presence.close();
      await db.close();
    },
  };
}

const STOP_MS = 5_000;
/** How often it is looked for work of servers that are gone, in milliseconds. */
const LOOK_MS = 3_000;
/** How long it is between two looks for a database that is away, in milliseconds. */
const AWAY_MS = 500;

/**
 * The connections of the queue. While the database is away it is waited for: how a job ended is written down where nobody
 * would hear of a failure, and a server would end of it.
 */
function patientDatabase(url: string, log: Logger) {
  const pool = new pg.Pool({ connectionString: url, max: 3, application_name: 'queue' });
  pool.on('error', (error) => log.error({ stack: withoutValues(error) }, 'the queue lost a connection'));
  let closed = false;
  return {
    executeSql: async (text: string, values: unknown[]): Promise<{ rows: unknown[] }> => {
      for (;;)
        try {
          return await pool.query(text, values);
        } catch (error) {
          if (closed) return { rows: [] };
          if (!isAway(error)) throw error;
          await after(AWAY_MS);
        }
    },
    close: async () => {
      closed = true;
      await pool.end();
    },
  };
}
