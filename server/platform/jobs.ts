import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { withoutValues } from './log.ts';

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
  boss.on('error', (error) => log.error({ stack: withoutValues(error) }, 'the queue met an error'));
  await boss.start();
  for (const [name, work] of Object.entries(queues)) {
    await boss.createQueue(name, { name, expireInSeconds: EXPIRES_SECONDS, retryLimit: 2 });
    await boss.work<{ id: number }>(name, { pollingIntervalSeconds: 0.5 }, async (jobs) => {
      for (const job of jobs) {
        const failed = await work(job.data.id).then(
          () => false,
          (error: unknown) => {
            log.error({ stack: withoutValues(error), queue: name, id: job.data.id }, 'a job ended with an error');
            return true;
          },
        );
        // what the queue keeps of it must hold no values either
        if (failed) throw new Error('the job ended with an error: see the log');
      }
    });
  }
  return {
    enqueue: async (queue, id) => void (await boss.send(queue, { id }, { singletonKey: String(id) })),
    stop: () => boss.stop({ graceful: true, wait: true, timeout: 5000 }),
  };
}
