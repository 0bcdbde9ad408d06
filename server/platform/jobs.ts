import PgBoss from 'pg-boss';
import type { Logger } from 'pino';

/** Long work, kept in the database until it is done: another server, or this one started again, goes on with it. */
export interface Jobs {
  /** `id`: of what the work is on; the same work is never queued twice. */
  enqueue(queue: string, id: number): Promise<void>;
}

/** Does the work of a queue; what it throws is logged, and the work tried again. */
export type Work = (id: number) => Promise<void>;

/** After this long without an end, the server that did it is taken for gone. */
const EXPIRES_SECONDS = 900;

export async function startJobs(
  url: string,
  log: Logger,
  queues: Readonly<Record<string, Work>>,
): Promise<Jobs & { stop(): Promise<void> }> {
  const boss = new PgBoss({ connectionString: url, schema: 'jobs', max: 3 });
  boss.on('error', (error) => log.error(error));
  await boss.start();
  for (const [name, work] of Object.entries(queues)) {
    await boss.createQueue(name, { name, expireInSeconds: EXPIRES_SECONDS, retryLimit: 2 });
    await boss.work<{ id: number }>(name, { pollingIntervalSeconds: 0.5 }, async (jobs) => {
      for (const job of jobs) {
        try {
          await work(job.data.id);
        } catch (error) {
          log.error({ err: error, queue: name, id: job.data.id }, 'a job ended with an error');
          throw error;
        }
      }
    });
  }
  return {
    enqueue: async (queue, id) => void (await boss.send(queue, { id }, { singletonKey: String(id) })),
    stop: () => boss.stop({ graceful: true, wait: true, timeout: 5000 }),
  };
}
