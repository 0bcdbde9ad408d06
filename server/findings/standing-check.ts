import { Piscina } from 'piscina';
import { threadOf } from '../platform/place.ts';
import type { Findings, FindingsOfChange, MovesOfChange } from '#contract/findings.ts';
import type { Logger } from 'pino';
import { withoutValues } from '../platform/log.ts';
import type { Otherwise } from './what-if.ts';
import type { CheckAsked, Checked, Counted } from './run-check.ts';

/** The check of the whole set-up and the counts of its lists, made again after a change, beside the server's own thread. */
export interface StandingCheck {
  /** What is known now; begins a check where something has changed since. */
  look(revision: string, day: string): Findings;
  /** The counts of the lists and of proofs that fail, as of when they were last counted; begins like `look`. */
  counts(revision: string, day: string): StandingCounts;
  /** What other rules would add and settle. */
  ofChange(otherwise: Otherwise, day: string, signal: AbortSignal): Promise<FindingsOfChange>;
  /** Which computed prices other rules would move. */
  movesOfChange(otherwise: Otherwise, day: string, signal: AbortSignal): Promise<MovesOfChange>;
  /** When the lists were last counted and the set-up was last checked; null: not yet. */
  checkedAt(): { readonly counts: string | null; readonly findings: string | null };
  stop(): Promise<void>;
}

export interface StandingCounts extends Counted {
  /** When they were counted; null: never yet. */
  readonly at: string | null;
  /** Something was changed since, or another day has begun. */
  readonly stale: boolean;
  /** How many things the check found when it last came to an end. */
  readonly findings: number;
}

/** What is known of a state, and which. */
interface Known<T> {
  readonly of: T;
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
        idleTimeout: 60_000,
      });
  const carryOut: Run = run ?? ((asked, signal) => pool!.run(asked, signal ? { signal } : {}));
  let counted: Known<Counted> | null = null;
  let found: Known<Findings['findings']> | null = null;
  let running = false;
  let trouble: string | null = null;
  const known = <T>(of: T, revision: string, day: string): Known<T> => ({
    of,
    state: `${revision}/${day}`,
    day,
    at: new Date().toISOString(),
  });
  const begin = async (day: string) => {
    running = true;
    try {
      // what a working day begins with comes first
      const { revision, counts } = await carryOut({ url, day, what: 'counts' });
      counted = known(counts!, revision, day);
      const checked = await carryOut({ url, day, what: 'findings' });
      found = known(checked.findings!, checked.revision, day);
      trouble = null;
    } catch (error) {
      log.error({ stack: withoutValues(error) }, 'the check came to no end');
      trouble = 'The last check came to no end: the log says why.';
    } finally {
      running = false;
    }
  };
  let tried = '';
  /** Begins where one of the two is not of this state. */
  const see = (state: string, day: string): void => {
    // one that failed is not begun again before something changes
    if ((counted?.state === state && found?.state === state) || running || tried === state) return;
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
    counts: (revision, day) => {
      const state = `${revision}/${day}`;
      see(state, day);
      return {
        at: counted?.at ?? null,
        stale: counted?.state !== state,
        lists: counted?.of.lists ?? [],
        failing: counted?.of.failing ?? 0,
        findings: found?.of.length ?? 0,
      };
    },
    ofChange: async (otherwise, day, signal) =>
      (await carryOut({ url, day, what: { ...otherwise, asks: 'findings' } }, signal)).ofChange!,
    movesOfChange: async (otherwise, day, signal) =>
      (await carryOut({ url, day, what: { ...otherwise, asks: 'moves' } }, signal)).moves!,
    checkedAt: () => ({ counts: counted?.at ?? null, findings: found?.at ?? null }),
    stop: async () => void (await pool?.destroy()),
  };
}
