import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import { Refused } from '../platform/refused.ts';
import type { Beside, StateDone, StateWork } from './state-work.ts';

type Run = (work: StateWork) => Promise<StateDone>;

/** What an answer holds under a name. */
type Answer<K extends string> = StateDone extends infer D ? (D extends Record<K, infer V> ? V : never) : never;

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
  const answer = async <K extends string>(key: K, work: StateWork): Promise<Answer<K>> => {
    const done = await (run ? run(work) : pool!.run(work));
    if ('refused' in done) throw new Refused(done.refused);
    return (done as Extract<StateDone, Record<K, unknown>>)[key as never];
  };
  return {
    table: (asked) => answer('table', { url, what: 'table', asked }),
    check: async (asked, signal) => {
      const givenUp = new Int32Array(new SharedArrayBuffer(4));
      const giveUp = () => void Atomics.store(givenUp, 0, 1);
      if (signal?.aborted) giveUp();
      signal?.addEventListener('abort', giveUp, { once: true });
      return answer('checked', { url, what: 'check', asked, givenUp });
    },
    post: (asked) => answer('posted', { url, what: 'post', asked }),
    stop: async () => void (await pool?.destroy()),
  };
}
