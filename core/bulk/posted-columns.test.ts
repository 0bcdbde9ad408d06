import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dec } from '../numbers/decimal.ts';
import { amountsOf, emptyPosted, postedPlaces, putPosted } from './posted-columns.ts';

/** A price as the ledger writes it: up to nine decimals, with or without zeros at the end. */
const anyPrice = fc
  .tuple(fc.integer({ min: 0, max: 999_999 }), fc.stringMatching(/^\d{0,9}$/))
  .map(([whole, fraction]) => (fraction === '' ? String(whole) : `${whole}.${fraction}`));

describe('posted prices as digits', () => {
  it('are the price to its last digit', () => {
    fc.assert(
      fc.property(anyPrice, (price) => {
        const columns = emptyPosted(1);
        putPosted(columns, 0, price, false);
        const exact = dec(String(columns.digits[0])).div(dec(10).pow(columns.places[0]!));
        expect(exact.eq(price)).toBe(true);
        // no more places than the price has: else the list would count in finer units than it needs
        expect(columns.places[0]).toBe(dec(price).decimalPlaces());
        expect(amountsOf(columns)[0]).toBe(Number(price));
      }),
      { numRuns: 5000 },
    );
  });

  it('say where there is none, and where one is too long to be counted', () => {
    const columns = emptyPosted(3);
    putPosted(columns, 1, '12345678901234567.89', true);
    putPosted(columns, 2, '12.50', true);
    expect([...columns.digits]).toEqual([NaN, Infinity, 125]);
    expect([...columns.handSet]).toEqual([0, 1, 1]);
    expect([...amountsOf(columns)]).toEqual([NaN, Infinity, 12.5]);
  });

  it('know how many decimals a list’s prices have', () => {
    const columns = emptyPosted(3);
    for (const [row, price] of ['10.00', '1.255', '7'].entries()) putPosted(columns, row, price, false);
    expect(postedPlaces(columns)).toBe(3);
    expect(postedPlaces(emptyPosted(0))).toBe(0);
  });
});
