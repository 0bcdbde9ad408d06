import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { useRested } from './use-rested.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('of a word that is being typed the whole word is asked for, and no letter of it', () => {
  const asked: string[] = [];
  const { rerender } = renderHook(
    ({ typed }) => {
      const rested = useRested(typed, 120);
      if (asked.at(-1) !== rested) asked.push(rested);
    },
    { initialProps: { typed: '' } },
  );
  const after = (ms: number) => act(() => vi.advanceTimersByTime(ms));
  for (const typed of ['B', 'BL', 'BL-']) {
    rerender({ typed });
    after(100);
  }
  expect(asked).toEqual(['']);
  after(20);
  expect(asked).toEqual(['', 'BL-']);
  // taken back before it rested: nothing is asked anew
  rerender({ typed: 'BL-1' });
  after(60);
  rerender({ typed: 'BL-' });
  after(500);
  expect(asked).toEqual(['', 'BL-']);
});
