import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plusDays } from '../numbers/day.ts';
import { dec } from '../numbers/decimal.ts';
import type { PostedPrice } from '../lists/posted-price.ts';
import { Prepared } from '../workspace/prepared.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { WAS_DAYS, wasPrice } from './was-price.ts';

const BEGAN = '2026-03-09';
const q = { list: 'l', item: 'i', pack: 'p', began: BEGAN };

describe('the earlier price shown beside a reduced one', () => {
  it('is the lowest that any of the 30 days before saw, whatever was posted when, and in which order', () => {
    const posting = fc.record({
      daysBefore: fc.integer({ min: -5, max: 80 }),
      price: fc.option(fc.integer({ min: 1, max: 5000 }), { freq: 8 }),
    });
    fc.assert(
      fc.property(fc.array(posting, { maxLength: 8 }), (postings) => {
        const posted = postings.map(({ daysBefore, price }, i): PostedPrice => ({
          list: 'l',
          item: 'i',
          pack: 'p',
          price: price === null ? null : dec(price).div(100).toFixed(),
          from: plusDays(BEGAN, -daysBefore),
          posting: String(i),
          entry: i,
        }));
        const ws = new Prepared({ ...emptyWorkspace(), posted });
        // day by day, as the ledger shows it
        const days = Array.from({ length: WAS_DAYS }, (_, i) => plusDays(BEGAN, -WAS_DAYS + i));
        const seen = days.flatMap((day) => ws.postedOn('l', 'i', 'p', day)?.price ?? []).map((p) => dec(p));
        const lowest = seen.reduce((a, b) => (b.lt(a) ? b : a), seen[0] ?? dec(0));
        const found = wasPrice(ws, q);
        expect(found?.lowest.toFixed() ?? null).toBe(seen.length > 0 ? lowest.toFixed() : null);
        if (found) expect(ws.postedOn('l', 'i', 'p', found.on)?.price).toBe(found.lowest.toFixed());
      }),
      { numRuns: 5000 },
    );
  });

  it('of another list or pack does not count', () => {
    const posted: PostedPrice[] = [
      { list: 'other', item: 'i', pack: 'p', price: '1.00', from: '2026-01-01', posting: '1', entry: 1 },
    ];
    expect(wasPrice(new Prepared({ ...emptyWorkspace(), posted }), q)).toBeNull();
  });
});
