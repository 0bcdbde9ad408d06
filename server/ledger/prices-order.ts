import type { InferType } from 'yup';
import type { postBody } from '#contract/lists.ts';
import type { postingLines } from './tables.ts';

export type PostBody = InferType<typeof postBody>;

/** What is to be posted on one list or on several, together or not at all. */
export interface PricesOrder extends Omit<PostBody, 'lines'> {
  readonly lists: readonly { readonly list: number; readonly lines: PostBody['lines'] }[];
}

export type LineValues = Omit<typeof postingLines.$inferInsert, 'postingId' | 'listId' | 'effective'>;

/** What is to be written on one list. */
export interface ListLines {
  readonly list: number;
  readonly name: string;
  readonly lines: LineValues[];
}

/** Lines of a posting, and the state they were made from. */
export interface MadeLines {
  readonly revision: string;
  readonly lines: readonly ListLines[];
}
