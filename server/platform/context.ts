import type { Logger } from 'pino';
import type { Declared } from '#contract/api/declare.ts';
import type { QuoteView } from '#contract/quotes.ts';
import type { SupplierClient } from '../connections/supplier-client.ts';
import type { Database, Db } from './database.ts';
import type { Jobs } from './jobs.ts';
import type { Replica } from './replica.ts';
import type { Metrics } from './metrics.ts';
import type { StandingCheck } from '../findings/checked.ts';
import type { StandingTables } from '../windows/standing.ts';
import type { Beside } from '../beside/state-work.ts';
import type { CostThreads } from '../costs/cost-work.ts';

/** What every operation needs from outside: nothing reads the clock, the environment or the database on its own. */
export interface Context {
  readonly database: Database;
  /** Where it is read and written; of a question it may be the replica. */
  readonly db: Db;
  /** A copy of the database that questions may be answered from; null: there is none. */
  readonly replica: Replica | null;
  readonly now: () => Date;
  readonly jobs: Jobs;
  readonly log: Logger;
  /** A quote as a PDF, made beside the server's own thread. */
  readonly pdf: (quote: QuoteView, company: string) => Promise<Buffer>;
  /** Workbooks, and what costs that wait would move. */
  readonly costs: CostThreads;
  /** What grids and counts are arranged by, worked out again after a change. */
  readonly tables: StandingTables;
  /** Posts many prices beside the server's own thread. */
  readonly beside: Pick<Beside, 'post'>;
  /** Asks the services of suppliers. */
  readonly suppliers: SupplierClient;
  /** What is wrong with the set-up, checked again after a change. */
  readonly check: StandingCheck;
  /** What runs here, as numbers. */
  readonly metrics: Metrics;
  /** Who shows it may read the metrics; null: who asks from this machine. */
  readonly metricsToken: string | null;
  /** Looks at every answer before it is sent; throws where it is not what was declared. */
  readonly answered?: (declared: Declared, answer: unknown) => void;
  /** Signs the session cookie. */
  readonly sessionSecret: string;
  /** Whether cookies may only travel over TLS. */
  readonly secureCookies: boolean;
  /** Where the built interface lies; null: the API alone. */
  readonly webFolder: string | null;
  /** Wrong tries of one account from one address within a quarter of an hour. */
  readonly signInTries: number;
  /** After so many hours one signs in again, however busy one is. */
  readonly longestSession: number;
  /** Names this server is asked by, besides those of this machine itself. */
  readonly hostNames: readonly string[];
  /** Whose word on a visitor's address is taken, as Express names them ("loopback"); false: nobody's. */
  readonly trustProxy: string | false;
}

/** The calendar day at a moment in a time zone: 2026-03-09. */
export function dayIn(timeZone: string, at: Date): string {
  // no day begins within a minute
  const minute = Math.floor(at.getTime() / 60_000);
  const known = calendars.get(timeZone);
  if (known?.minute === minute) return known.day;
  const calendar = known?.calendar ?? new Intl.DateTimeFormat('en-CA', { timeZone, ...DAY });
  const day = calendar.format(at);
  calendars.set(timeZone, { calendar, minute, day });
  return day;
}

const DAY = { year: 'numeric', month: '2-digit', day: '2-digit' } as const;
/** They are dear to make and to ask, and every request asks for the day. */
const calendars = new Map<
  string,
  { readonly calendar: Intl.DateTimeFormat; readonly minute: number; readonly day: string }
>();
