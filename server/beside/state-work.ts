import type { CheckAsked, Checked } from '../findings/checked.ts';
import type { Posted } from '#contract/posting-requests.ts';
import type { Refusal } from '../platform/threads.ts';
import type { PostingAsked } from '../ledger/asked-posting.ts';
import type { TableDone, TableWork } from '../windows/standing.ts';

/** What is worked out in the thread that has the state of a day at hand. */
export type StateWork = { readonly url: string } & (
  | { readonly what: 'table'; readonly asked: TableWork }
  /** `given up`: not zero once nobody waits for it any more. */
  | { readonly what: 'check'; readonly asked: CheckAsked; readonly givenUp: Int32Array }
  | { readonly what: 'post'; readonly asked: PostingAsked }
);

/** What came of it, by what was asked. */
export type StateDone =
  { readonly table: TableDone } | { readonly checked: Checked } | { readonly posted: Posted } | Refusal;

/**
 * Long work on the state of a day, beside the server's own thread: what grids are arranged by, the check, and postings of
 * many prices. All of it in one thread, so that the state is read and kept once.
 */
export interface Beside {
  table(asked: TableWork): Promise<TableDone>;
  /** Rejects once `signal` says that nobody waits for it any more. */
  check(asked: CheckAsked, signal?: AbortSignal): Promise<Checked>;
  /** Posts many prices. */
  post(asked: PostingAsked): Promise<Posted>;
  stop(): Promise<void>;
}
