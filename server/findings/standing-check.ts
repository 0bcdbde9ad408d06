import { Piscina } from 'piscina';
import type { Findings, FindingsOfChange } from '#contract/findings.ts';
import type { Workspace } from '#core/workspace/index.ts';
import type { Logger } from 'pino';
import type { ListCounts } from '../lists/count-list.ts';
import { withoutValues } from '../platform/log.ts';
import type { CheckAsked, Checked } from './run-check.ts';

/** The check of the whole set-up, made again after a change, beside the server's own thread. */
export interface StandingCheck {
  /** What is known now; begins a check where something has changed since. */
  look(revision: string, day: string): Findings;
  /** The counts of the lists and of proofs that fail, as of the last check; begins one like `look`. */
  counts(revision: string, day: string): StandingCounts;
  /** What other rules would add and settle. */
  ofChange(rules: Workspace, day: string, signal: AbortSignal): Promise<FindingsOfChange>;
  stop(): Promise<void>;
}

export interface StandingCounts {
  /** When they were counted; null: never yet. */
  readonly at: string | null;
  /** Something was changed since, or another day has begun. */
  readonly stale: boolean;
  readonly lists: readonly ListCounts[];
  readonly failing: number;
  readonly findings: number;
}

/** How a check is run: in a thread; in tests in process. */
type Run = (asked: CheckAsked, signal?: AbortSignal) => Promise<Checked>;

export function standingCheck(url: string, log: Logger, run?: Run): StandingCheck {
  const pool = run
    ? null
    : new Piscina<CheckAsked, Checked>({
        filename: new URL('./run-check.ts', import.meta.url).href,
        execArgv: ['--import', 'tsx'],
        minThreads: 0,
        maxThreads: 1,
        idleTimeout: 60_000,
      });
  const carryOut: Run = run ?? ((asked, signal) => pool!.run(asked, signal ? { signal } : {}));
  let known: (Checked & { day: string; at: string }) | null = null;
  let running = false;
  let trouble: string | null = null;
  const begin = async (day: string) => {
    running = true;
    try {
      known = { ...(await carryOut({ url, day })), day, at: new Date().toISOString() };
      trouble = null;
    } catch (error) {
      log.error({ stack: withoutValues(error) }, 'the check came to no end');
      trouble = 'The last check came to no end: the log says why.';
    } finally {
      running = false;
    }
  };
  let tried = '';
  const isStale = (revision: string, day: string): boolean => {
    const stale = known?.revision !== revision || known.day !== day;
    // one that failed is not begun again before something changes
    const state = `${revision}/${day}`;
    if (stale && !running && tried !== state) {
      tried = state;
      void begin(day);
    }
    return stale;
  };
  return {
    look: (revision, day) => {
      const stale = isStale(revision, day);
      return {
        at: known?.at ?? null,
        day: known?.day ?? null,
        stale,
        running,
        trouble,
        findings: known?.findings ?? [],
      };
    },
    counts: (revision, day) => {
      const stale = isStale(revision, day);
      return {
        at: known?.at ?? null,
        stale,
        lists: known?.lists ?? [],
        failing: known?.failing ?? 0,
        findings: known?.findings.length ?? 0,
      };
    },
    ofChange: async (rules, day, signal) => (await carryOut({ url, day, rules }, signal)).ofChange!,
    stop: async () => void (await pool?.destroy()),
  };
}
