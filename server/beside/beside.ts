import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import { held } from '../platform/threads.ts';
import type { Beside, StateDone, StateWork } from './state-work.ts';

type Run = (work: StateWork) => Promise<StateDone>;

/** What of it is under way at once: each waits for the database now and then. */
const AT_ONCE = 8;

/** `run`: in process, for tests. */
export function stateThread(url: string, run?: Run): Beside {
  const pool = run
    ? null
    : new Piscina<StateWork, StateDone>({
        ...threadOf('server/beside/state-thread'),
        minThreads: 0,
        maxThreads: 1,
        concurrentTasksPerWorker: AT_ONCE,
        // what it has read is what makes the next change cheap
        idleTimeout: 15 * 60_000,
      });
  const carryOut: Run = (work) => (run ? run(work) : pool!.run(work));
  return {
    table: async (asked) => held(await carryOut({ url, what: 'table', asked }), 'table'),
    check: async (asked, signal) => {
      const givenUp = new Int32Array(new SharedArrayBuffer(4));
      const giveUp = () => void Atomics.store(givenUp, 0, 1);
      if (signal?.aborted) giveUp();
      signal?.addEventListener('abort', giveUp, { once: true });
      return held(await carryOut({ url, what: 'check', asked, givenUp }), 'checked');
    },
    post: async (asked) => held(await carryOut({ url, what: 'post', asked }), 'posted'),
    stop: async () => void (await pool?.destroy()),
  };
}
