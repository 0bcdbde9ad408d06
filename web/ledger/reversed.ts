import type { PostingSummary } from '#contract/lists.ts';

export const whollyReversed = (p: PostingSummary): boolean => p.reversedBy.length > 0 && p.reversedLines >= p.lines;

/** "reversed by" or "3 of 9 prices reversed by"; the numbers of the postings follow. */
export const reversedWords = (p: PostingSummary): string =>
  whollyReversed(p) ? 'reversed by' : `${p.reversedLines} of ${p.lines} prices reversed by`;
