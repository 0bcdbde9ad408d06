import type { Logger } from 'pino';
import { withoutValues } from '../platform/log.ts';
import type { CheckAsked, Checked, StandingCheck } from './checked.ts';
import type { FoundThing } from './places.ts';

/** What was found in a state, and which. */
interface Known {
  readonly of: readonly FoundThing[];
  readonly state: string;
  readonly day: string;
  readonly at: string;
}

/** Runs a check beside the server's own thread; given up where nobody listens any more. */
type Run = (asked: CheckAsked, signal?: AbortSignal) => Promise<Checked>;

export function standingCheck(carryOut: Run, log: Logger): StandingCheck {
  let found: Known | null = null;
  let running = false;
  let trouble: string | null = null;
  const begin = async (day: string) => {
    running = true;
    try {
      const { findings, revision } = await carryOut({ day, what: 'findings' });
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
      };
    },
    found: () => found?.of ?? [],
    ofChange: async (otherwise, day, signal) =>
      (await carryOut({ day, what: { ...otherwise, asks: 'findings' } }, signal)).ofChange!,
    movesOfChange: async (otherwise, day, signal) =>
      (await carryOut({ day, what: { ...otherwise, asks: 'moves' } }, signal)).moves!,
    checkedAt: () => found?.at ?? null,
  };
}
