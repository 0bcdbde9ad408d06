import { describe, expect, it } from 'vitest';
import { type RungTerms, prepareLadder } from '../rounding/ladder.ts';
import { filterLadder } from './filter-ladder.ts';

/** The segments of a ladder's stretches in cents: from, to, and where their prices go. */
function segments(...rungs: RungTerms[]) {
  const { segments: s } = filterLadder(prepareLadder(rungs, 2), 2)!;
  return Array.from(s.until, (until, p) => ({
    from: s.from[p]!,
    until,
    parts: Array.from({ length: s.first[p + 1]! - s.first[p]! }, (_, k) => {
      const at = s.first[p]! + k;
      return [s.low[at]!, s.high[at]!, s.target[at]!];
    }),
  }));
}
const rung = (more: Partial<RungTerms>): RungTerms => ({
  from: '0',
  to: null,
  step: '1',
  endings: ['0'],
  direction: 'nearest',
  ...more,
});

describe('a ladder between its decisions', () => {
  it('has one place to go to on either side of the middle between two endings', () => {
    const [only] = segments(rung({}));
    expect(only!.parts).toEqual([
      [-Infinity, 50, 0],
      [50, Infinity, 100],
    ]);
  });

  it('decides nothing on an ending, and nothing where the step begins if both sides go to one ending', () => {
    const [only] = segments(rung({ endings: ['0.49', '0.99'] }));
    expect(only!.parts).toEqual([
      [-Infinity, 24, -1],
      [24, 74, 49],
      [74, Infinity, 99],
    ]);
  });

  it('decides on an ending, and nowhere else, where all prices go up, or all go down', () => {
    expect(segments(rung({ endings: ['0.95'], direction: 'up' }))[0]!.parts).toEqual([
      [-Infinity, 95, 95],
      [95, Infinity, 195],
    ]);
    expect(segments(rung({ endings: ['0.95'], direction: 'down' }))[0]!.parts).toEqual([
      [-Infinity, 95, -5],
      [95, Infinity, 95],
    ]);
  });

  it('leaves prices between two cuts to the list’s decimals', () => {
    const [only] = segments(rung({ endings: ['0.95'], direction: 'cuts', downUntil: '0.40', upFrom: '0.60' }));
    expect(only!.parts).toEqual([
      [-Infinity, 40, -5],
      [40, 60, NaN],
      [60, Infinity, 95],
    ]);
  });

  it('covers every price: before the first rung, between rungs and after the last', () => {
    const stretches = segments(
      rung({ from: '1', to: '10', step: '0.05' }),
      rung({ from: '20', to: '100', step: '10', endings: ['9'], direction: 'up' }),
    );
    expect(stretches.map((s) => [s.from, s.until])).toEqual([
      [-Infinity, 100],
      [100, 1000],
      [1000, 2000],
      [2000, 10000],
      [10000, Infinity],
    ]);
    for (const hole of [stretches[0]!, stretches[2]!, stretches[4]!])
      expect(hole.parts).toEqual([[-Infinity, Infinity, NaN]]);
  });

  it('is one hole where there is no rung', () => {
    expect(segments()).toEqual([{ from: -Infinity, until: Infinity, parts: [[-Infinity, Infinity, NaN]] }]);
  });
});
