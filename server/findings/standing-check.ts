import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import type { Findings } from '#contract/findings.ts';
import type { Logger } from 'pino';
import { withoutValues } from '../platform/log.ts';
import type { CheckAsked, Checked, StandingCheck } from './checked.ts';

/** What was found in a state, and which. */
interface Known {
  readonly of: Findings['findings'];
  readonly state: string;
  readonly day: string;
  readonly at: string;
}

/** How a check is run: in a thread; in tests in process. */
type Run = (asked: CheckAsked, signal?: AbortSignal) => Promise<Checked>;

export function standingCheck(url: string, log: Logger, run?: Run): StandingCheck {
  const pool = run
    ? null
    : new Piscina<CheckAsked, Checked>({
        ...threadOf('server/findings/run-check'),
        minThreads: 0,
        maxThreads: 1,
        idleTimeout: 20_000,
      });
  const carryOut: Run = run ?? ((asked, signal) => pool!.run(asked, signal ? { signal } : {}));
  let found: Known | null = null;
  let running = false;
  let trouble: string | null = null;
  const begin = async (day: string) => {
    running = true;
    try {
      const { findings, revision } = await carryOut({ url, day, what: 'findings' });
      found = { of: findings!, state: `${revision}/${day}`, day, at: new Date().toISOString() };
      trouble = null;
    } catch (error) {
      log.error({ stack: withoutValues(error) }, 'the check came to no end');
      trouble = 'The last check came to no end: the log says why.';
    } finally {
      running = false;
    }
  };
  let tried = '';
  /** Begins where what is known is of another state. */
  const see = (state: string, day: string): void => {
    // one that failed is not begun again before something changes
    if (found?.state === state || running || tried === state) return;
    tried = state;
    void begin(day);
  };
  return {
    look: (revision, day) => {
      const state = `${revision}/${day}`;
      see(state, day);
      return {
        at: found?.at ?? null,
        day: found?.day ?? null,
        stale: found?.state !== state,
        running,
        trouble,
        findings: found?.of ?? [],
      };
    },
    found: () => found?.of ?? [],
    ofChange: async (otherwise, day, signal) =>
      (await carryOut({ url, day, what: { ...otherwise, asks: 'findings' } }, signal)).ofChange!,
    movesOfChange: async (otherwise, day, signal) =>
      (await carryOut({ url, day, what: { ...otherwise, asks: 'moves' } }, signal)).moves!,
    checkedAt: () => found?.at ?? null,
    stop: async () => void (await pool?.destroy()),
  };
}
