import fc from 'fast-check';
import { runs } from '../tests/runs.ts';
import { describe, expect, it } from 'vitest';
import { dec } from '../numbers/decimal.ts';
import { DIRECTIONS, type RungTerms, applyLadder, prepareLadder } from '../rounding/ladder.ts';
import { largestRestingPrice, smallestRestingPrice } from '../rounding/resting-prices.ts';
import { filterLadder, filterRestingAbove, filterRestingBelow, placesFor } from './filter-ladder.ts';
import { UNDECIDED, roundBlock } from './segments.ts';

// Whatever the doubles decide, the exact ladder decides alike; beside a decision they say nothing.

const hundredths = (n: number) => dec(n).div(100).toFixed();
const rung = fc
  .record({
    step: fc.constantFrom(5, 25, 30, 100, 1000),
    endings: fc.array(fc.integer({ min: 0, max: 999 }), { minLength: 1, maxLength: 3 }),
    direction: fc.constantFrom(...DIRECTIONS),
    cuts: fc.tuple(fc.integer({ min: 0, max: 999 }), fc.integer({ min: 0, max: 999 })),
    offset: fc.constantFrom('0', '0', '0', '-0.1', '0.05', '-1', '0.005'),
  })
  .map(({ step, endings, direction, cuts, offset }) => ({
    step: hundredths(step),
    endings: [...new Set(endings.map((e) => hundredths(e % step)))],
    direction,
    downUntil: hundredths(cuts[0] % step),
    upFrom: hundredths(cuts[1] % step),
    offset,
  }));
const anyRungs: fc.Arbitrary<RungTerms[]> = fc
  .tuple(rung, rung, rung, fc.boolean())
  .map(([a, b, c, hole]) => [
    { ...a, from: '0', to: '10' },
    ...(hole ? [] : [{ ...b, from: '10', to: '100' }]),
    { ...c, from: '100', to: null },
  ]);
/** Prices of up to six decimals, often on a hundredth, where decisions are. */
const anyPrice = fc.oneof(
  fc.integer({ min: 1, max: 50_000 }).map((n) => dec(n).div(100)),
  fc.integer({ min: 1, max: 500_000_000 }).map((n) => dec(n).div(1_000_000)),
);
const SLACK = 2 ** -40;

function ready(rungs: RungTerms[], decimals: number) {
  const ladder = prepareLadder(rungs, decimals);
  const fast = filterLadder(ladder, placesFor(ladder, 0));
  if (!fast) throw new Error('this ladder fits into doubles');
  return { ladder, fast };
}

describe('a ladder in doubles', () => {
  it('rounds as the exact one does wherever it decides, and decides nearly always', () => {
    let decided = 0;
    let asked = 0;
    fc.assert(
      fc.property(anyRungs, anyPrice, fc.constantFrom(0, 2, 3), (rungs, price, decimals) => {
        const { ladder, fast } = ready(rungs, decimals);
        const shown = Number(price.times(fast.scale).toFixed());
        const into = new Float64Array(1);
        roundBlock(fast, Float64Array.of(shown), Float64Array.of(shown * SLACK), into, 1);
        asked += 1;
        if (into[0] === UNDECIDED) return;
        decided += 1;
        expect(dec(String(into[0])).div(fast.scale).toFixed()).toBe(applyLadder(ladder, price).toFixed());
      }),
      { numRuns: runs(20_000) },
    );
    expect(decided / asked).toBeGreaterThan(0.5);
  });

  it('finds the prices at rest above a floor and below a ceiling that the exact one finds', () => {
    let decided = 0;
    fc.assert(
      fc.property(anyRungs, anyPrice, fc.constantFrom(0, 2, 3), (rungs, limit, decimals) => {
        const { ladder, fast } = ready(rungs, decimals);
        const at = Number(limit.times(fast.scale).toFixed());
        const above = filterRestingAbove(fast, at, at * SLACK);
        const below = filterRestingBelow(fast, at, at * SLACK);
        const price = (units: number) => dec(String(units)).div(fast.scale).toFixed();
        if (above !== UNDECIDED) expect(price(above)).toBe(smallestRestingPrice(ladder, limit)?.toFixed());
        if (below !== UNDECIDED) expect(price(below)).toBe(largestRestingPrice(ladder, limit)?.toFixed());
        decided += Number(above !== UNDECIDED) + Number(below !== UNDECIDED);
      }),
      { numRuns: runs(20_000) },
    );
    expect(decided / runs(20_000)).toBeGreaterThan(0.5);
  });

  it('says nothing on a tie, an edge or a cut', () => {
    const rungs: RungTerms[] = [
      { from: '0', to: '10', step: '1', endings: ['0'], direction: 'nearest' },
      { from: '10', to: null, step: '10', endings: ['9'], direction: 'cuts', downUntil: '2', upFrom: '6' },
    ];
    const { fast } = ready(rungs, 2);
    const rounded = (units: number) => {
      const into = new Float64Array(1);
      roundBlock(fast, Float64Array.of(units), Float64Array.of(units * SLACK), into, 1);
      return into[0];
    };
    for (const units of [150, 1000, 1200, 1600]) expect([units, rounded(units)]).toEqual([units, UNDECIDED]);
    // on an ending, and a hair beside it, a price goes to that ending
    for (const units of [1900, 1900.0000001, 1899.9999999]) expect([units, rounded(units)]).toEqual([units, 1900]);
  });

  it('leaves rungs that overlap, and figures too large or too fine, to the exact one', () => {
    const one = (from: string, to: string | null, step = '1'): RungTerms => ({
      from,
      to,
      step,
      endings: ['0'],
      direction: 'up',
    });
    expect(filterLadder(prepareLadder([one('0', '10'), one('5', null)], 2), 2)).toBeNull();
    expect(filterLadder(prepareLadder([one('0', null, '99999999999999999')], 2), 2)).toBeNull();
    expect(filterLadder(prepareLadder([one('0', null)], 2), 12)).toBeNull();
  });
});
