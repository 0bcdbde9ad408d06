import type { PostingSummary } from '#contract/lists.ts';
import type { NumberForm } from '../kit/number-form.ts';
import { countedIn } from '../kit/words.ts';

export const whollyReversed = (p: PostingSummary): boolean => p.reversedBy.length > 0 && p.reversedLines >= p.lines;

/** "reversed by" or "3 of 9 prices reversed by"; the numbers of the postings follow. */
export function reversedWords(p: PostingSummary, form: NumberForm): string {
  const { whole } = countedIn(form);
  return whollyReversed(p) ? 'reversed by' : `${whole(p.reversedLines)} of ${whole(p.lines)} prices reversed by`;
}
