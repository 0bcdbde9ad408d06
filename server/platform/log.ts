import { pino } from 'pino';
import type { Logger } from 'pino';

/** What is written to the log of a server; `level` from LOG_LEVEL or the command line. */
export const makeLog = (level: string): Logger => pino({ level });

/**
 * An error as text for the log. The values of a statement, and what a database tells of them ("Key (name)=(…)"), may be a
 * customer's: only the statement and the place stay.
 */
export function withoutValues(error: unknown): string {
  if (!(error instanceof Error)) return typeof error;
  const cause = error.cause instanceof Error ? `\ncaused by: ${withoutValues(error.cause)}` : '';
  const text = error.stack ?? `${error.name}: ${error.message}`;
  return (
    text
      .replace(/\n?params: [^\n]*/g, '')
      .replace(/"[^"\n]{0,500}"/g, '"…"')
      .replace(/=\([^)\n]*\)/g, '=(…)') + cause
  );
}
