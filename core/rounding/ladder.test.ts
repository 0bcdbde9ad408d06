import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dec, plain } from '../numbers/decimal.ts';
import examples from './examples/ladder.json' with { type: 'json' };
import {
  DIRECTIONS,
  type RungTerms,
  applyLadder,
  endingAtOrBelow,
  isAtEnding,
  prepareLadder,
  rungFaults,
  rungFor,
} from './ladder.ts';
import { largestRestingPrice, smallestRestingPrice } from './resting-prices.ts';

const ladder = prepareLadder(examples.rungs as RungTerms[], 2);

describe('the ladder', () => {
  it.each(examples.cases)('takes %s to %s', (before, after) => {
    expect(plain(applyLadder(ladder, dec(before!)))).toBe(plain(dec(after!)));
  });
  for (const other of examples.other) {
    it.each(other.cases)(`${other.name}: %s → %s`, (before, after) => {
      expect(plain(applyLadder(prepareLadder(other.rungs as RungTerms[], 2), dec(before!)))).toBe(plain(dec(after!)));
    });
  }
  it('has an example for every direction', () => {
    const shown = [examples, ...examples.other].flatMap((e) => (e.rungs as RungTerms[]).map((r) => r.direction));
    expect(new Set(shown)).toEqual(new Set(DIRECTIONS));
  });
  it.each(examples.resting.atLeast)('not below %s: the next price it leaves alone is %s', (floor, price) => {
    expect(plain(smallestRestingPrice(ladder, dec(floor!))!)).toBe(plain(dec(price!)));
  });
  it.each(examples.resting.atMost)('not above %s: the next price it leaves alone is %s', (ceiling, price) => {
    expect(plain(largestRestingPrice(ladder, dec(ceiling!))!)).toBe(plain(dec(price!)));
  });
});

const cents = fc.integer({ min: 1, max: 500_000 }).map((n) => dec(n).div(100));
const mils = fc.integer({ min: 1, max: 5_000_000 }).map((n) => dec(n).div(1000));

/** Random ladders of up to four rungs, holes allowed, over prices up to 5,000. */
const anyLadder = fc
  .array(
    fc.record({
      width: fc.integer({ min: 1, max: 1500 }),
      hole: fc.boolean(),
      step: fc.constantFrom('0.05', '0.1', '0.5', '1', '5', '10', '100'),
      endings: fc.array(fc.integer({ min: 0, max: 99 }), { minLength: 1, maxLength: 3 }),
      direction: fc.constantFrom(...DIRECTIONS),
      cuts: fc.tuple(fc.integer({ min: 0, max: 99 }), fc.integer({ min: 0, max: 99 })),
      offset: fc.constantFrom('0', '0', '-0.10', '-0.01', '0.05', '-2', '3', '0.005'),
    }),
    { minLength: 1, maxLength: 4 },
  )
  .map((parts) => {
    let at = 0;
    const rungs: RungTerms[] = [];
    for (const [i, p] of parts.entries()) {
      if (p.hole) at += 7;
      const inStep = (n: number) => dec(p.step).times(n).div(100).toDecimalPlaces(2, 1).toFixed();
      const [down, up] = p.cuts;
      rungs.push({
        from: String(at),
        to: i === parts.length - 1 ? null : String(at + p.width),
        step: p.step,
        endings: p.endings.map(inStep),
        direction: p.direction,
        downUntil: inStep(down),
        upFrom: inStep(up),
        offset: p.offset,
      });
      at += p.width;
    }
    return prepareLadder(rungs, 2);
  });

describe('laws of every ladder', () => {
  it('a result is an ending, or stays between the cuts, or no rung held the price', () => {
    fc.assert(
      fc.property(anyLadder, mils, (l, price) => {
        const rung = rungFor(l, price);
        const result = applyLadder(l, price);
        expect(result.gt(0) || !rung).toBe(true);
        if (!rung || isAtEnding(rung, result)) return;
        expect(rung.direction).toBe('cuts');
        expect(result.minus(price).abs().lt('0.01')).toBe(true);
      }),
      { numRuns: 5000 },
    );
  });

  it('a result is not moved again by the rung that made it', () => {
    fc.assert(
      fc.property(anyLadder, cents, (l, price) => {
        const rung = rungFor(l, price);
        const result = applyLadder(l, price);
        if (rung && rung === rungFor(l, result)) expect(plain(applyLadder(l, result))).toBe(plain(result));
      }),
      { numRuns: 5000 },
    );
  });

  it('a resting price rests, holds its floor, and no resting price in cents lies between', () => {
    fc.assert(
      fc.property(anyLadder, mils, fc.integer({ min: 0, max: 40 }), (l, floor, probe) => {
        const found = smallestRestingPrice(l, floor)!;
        expect(applyLadder(l, found).eq(found)).toBe(true);
        expect(found.gte(floor)).toBe(true);
        const between = floor.plus(found.minus(floor).times(probe).div(41)).toDecimalPlaces(2, 2);
        if (between.lt(found) && between.gt(0)) expect(applyLadder(l, between).eq(between)).toBe(false);
      }),
      { numRuns: 5000 },
    );
  });

  it('the largest resting price under a ceiling rests, and none in cents lies between', () => {
    fc.assert(
      fc.property(anyLadder, mils, fc.integer({ min: 0, max: 40 }), (l, ceiling, probe) => {
        const found = largestRestingPrice(l, ceiling);
        const low = found ?? dec(0);
        if (found) expect(applyLadder(l, found).eq(found) && found.lte(ceiling)).toBe(true);
        const between = ceiling.minus(ceiling.minus(low).times(probe).div(41)).toDecimalPlaces(2, 3);
        if (between.gt(low)) expect(applyLadder(l, between).eq(between)).toBe(false);
      }),
      { numRuns: 5000 },
    );
  });

  it('a higher price in one rung never rounds lower', () => {
    fc.assert(
      fc.property(anyLadder, cents, cents, (l, a, b) => {
        const [low, high] = a.lte(b) ? [a, b] : [b, a];
        const rung = rungFor(l, low);
        if (!rung || rung !== rungFor(l, high)) return;
        // an ending with its offset stays, though the prices beside it move past it
        if (!rung.offset.isZero()) return;
        // cuts set against each other on purpose may cross: that is what the check of a ladder reports
        if (rung.direction === 'cuts' && rung.endings.length > 1) return;
        // a price that would go to 0 or less is lifted to the first ending, past prices that stay between the cuts
        if (rung.direction === 'cuts' && endingAtOrBelow(rung, low).lte(0)) return;
        expect(applyLadder(l, low).lte(applyLadder(l, high))).toBe(true);
      }),
      { numRuns: 5000 },
    );
  });
});

describe('a ladder that cannot be kept', () => {
  const good: RungTerms = { from: '0', to: '10', step: '1', endings: ['0.95'], direction: 'nearest' };
  it.each<[string, Partial<RungTerms>, string, string]>([
    ['an ending as large as the step', { endings: ['1'] }, 'endings', 'outside_step'],
    ['a step of 0', { step: '0' }, 'step', 'not_above_zero'],
    ['a band that ends before it begins', { from: '10', to: '5' }, 'to', 'not_above_from'],
    ['cuts without positions', { direction: 'cuts' }, 'downUntil', 'missing'],
    ['no ending', { endings: [] }, 'endings', 'no_ending'],
    ['text for a number', { from: 'ten' }, 'from', 'not_a_number'],
  ])('names the row and field: %s', (_, change, field, code) => {
    expect(rungFaults([{ ...good, ...change }])).toContainEqual({ row: 0, field, code });
  });
  it('refuses bands that overlap and allows a hole between them', () => {
    expect(rungFaults([good, { ...good, from: '9', to: '20' }])).toEqual([{ row: 1, field: 'from', code: 'overlap' }]);
    expect(rungFaults([good, { ...good, from: '12', to: '20' }])).toEqual([]);
  });
});
