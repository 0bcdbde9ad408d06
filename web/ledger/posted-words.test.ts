import { expect, it } from 'vitest';
import type { PostingSummary } from '#contract/lists.ts';
import { postedWords } from './posted-words.ts';
import { reversedWords } from './reversed.ts';

it('how many prices were posted is read at a glance: digits in groups, as the person writes numbers', () => {
  const done = { postings: ['7'], lines: 92_980, request: null };
  expect(postedWords(done, 'on Counter', 'comma')).toBe('92.980 prices posted on Counter (posting 7).');
  expect(postedWords({ ...done, lines: 1, request: '4' }, 'on Counter', 'point')).toBe(
    '1 price on Counter waits for a second person (request 4).',
  );
});

it('how much of a posting was reversed likewise', () => {
  const part = { lines: 92_980, reversedLines: 1_145, reversedBy: ['9'] } as unknown as PostingSummary;
  expect(reversedWords(part, 'comma')).toBe('1.145 of 92.980 prices reversed by');
  expect(reversedWords({ ...part, reversedLines: 92_980 }, 'comma')).toBe('reversed by');
});
