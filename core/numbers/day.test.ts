import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isDay, plusDays } from './day.ts';

describe('calendar days', () => {
  it.each([
    ['2026-03-01', -1, '2026-02-28'],
    ['2024-03-01', -1, '2024-02-29'],
    ['2000-02-28', 1, '2000-02-29'],
    ['1900-02-28', 1, '1900-03-01'],
    ['2025-12-31', 1, '2026-01-01'],
    ['2026-03-09', -30, '2026-02-07'],
    ['1969-12-31', 1, '1970-01-01'],
  ])('%s and %i days is %s', (day, days, then) => expect(plusDays(day, days)).toBe(then));
  it('there and back again is the same day', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -100_000, max: 100_000 }),
        fc.integer({ min: -50_000, max: 50_000 }),
        (start, move) => {
          const day = plusDays('1970-01-01', start);
          expect(isDay(day)).toBe(true);
          expect(plusDays(plusDays(day, move), -move)).toBe(day);
          expect(new Date(`${day}T00:00:00Z`).getTime()).toBe(start * 86_400_000);
        },
      ),
      { numRuns: 5000 },
    );
  });
  it.each(['2026-02-29', '2026-13-01', '2026-1-1', '2026-00-10', '26-01-01', '2026-04-31'])('%s is no day', (text) =>
    expect(isDay(text)).toBe(false),
  );
});
