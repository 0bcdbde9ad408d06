import type { CheckAsked, Checked } from '../findings/checked.ts';
import type { TableDone, TableWork } from '../windows/standing.ts';

/** What is worked out in the thread that has the state of a day at hand. */
export type StateWork = { readonly url: string } & (
  | { readonly what: 'table'; readonly asked: TableWork }
  /** `given up`: not zero once nobody waits for it any more. */
  | { readonly what: 'check'; readonly asked: CheckAsked; readonly givenUp: Int32Array }
);

/** What came of it, by what was asked. */
export type StateDone = { readonly table: TableDone } | { readonly checked: Checked };

/**
 * Long work on the state of a day, beside the server's own thread: what grids are arranged by, and the check. All of it in one
 * thread, so that the state is read and kept once.
 */
export interface Beside {
  table(asked: TableWork): Promise<TableDone>;
  /** Rejects once `signal` says that nobody waits for it any more. */
  check(asked: CheckAsked, signal?: AbortSignal): Promise<Checked>;
  stop(): Promise<void>;
}
