import type { InferType } from 'yup';
import type { postBody } from '#contract/lists.ts';

export type PostBody = InferType<typeof postBody>;

/** What is to be posted on one list or on several, together or not at all. */
export interface PricesOrder extends Omit<PostBody, 'lines'> {
  readonly lists: readonly { readonly list: number; readonly lines: PostBody['lines'] }[];
}
