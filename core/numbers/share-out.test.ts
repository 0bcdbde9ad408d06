import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dec } from './decimal.ts';
import { shareOut, sum } from './share-out.ts';

const cents = (n: number) => dec(n).div(100);

describe('sharing an amount out', () => {
  it('the shares sum to the whole, none is below 0 or over its limit, whatever the weights', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({ weight: fc.integer({ min: 0, max: 1_000_000 }), limit: fc.integer({ min: 0, max: 1_000_000 }) }),
          {
            minLength: 1,
            maxLength: 12,
          },
        ),
        fc.integer({ min: 0, max: 1_000_000 }),
        (lines, wanted) => {
          // what has no weight takes part only when nothing else can
          const limits = lines.map((l) => cents(l.weight === 0 ? 0 : l.limit));
          const possible = sum(limits);
          const amount = possible.times(wanted).div(1_000_000).toDecimalPlaces(2, 1);
          const shares = shareOut(
            amount,
            lines.map((l) => cents(l.weight)),
            2,
            limits,
          );
          expect(sum(shares).toFixed(2)).toBe(amount.toFixed(2));
          shares.forEach((s, i) => {
            expect(s.gte(0) && s.lte(limits[i]!)).toBe(true);
            expect(s.decimalPlaces()).toBeLessThanOrEqual(2);
          });
        },
      ),
      { numRuns: 5000 },
    );
  });

  it('without limits no share is a whole cent away from its exact part', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 1_000_000 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 0, max: 100_000_000 }),
        (weights, amount) => {
          const shares = shareOut(
            cents(amount),
            weights.map((w) => dec(w)),
            2,
          );
          const total = weights.reduce((a, b) => a + b, 0);
          expect(sum(shares).eq(cents(amount))).toBe(true);
          shares.forEach((s, i) => {
            const exact = cents(amount).times(weights[i]!).div(total);
            expect(s.minus(exact).abs().lt('0.01')).toBe(true);
          });
        },
      ),
      { numRuns: 5000 },
    );
  });

  it('a very large amount loses no cent', () => {
    const amount = dec('98765432109876543210987654321.01');
    expect(sum(shareOut(amount, [dec(1), dec(1), dec(1)], 2)).eq(amount)).toBe(true);
  });

  it('throws rather than lose what cannot be placed', () => {
    expect(() => shareOut(dec('10.00'), [dec(1)], 2, [dec('9.00')])).toThrow(/is left of/);
  });
});
