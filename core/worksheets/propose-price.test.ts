import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dec, settle } from '../numbers/decimal.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { proposePrice } from './propose-price.ts';

const Q = { item: 'i', pack: 'p', list: 'l', day: '2026-03-09' };

/** An item at a cost and a margin, posted at a price, on a list that only raises. */
function shop(cost: string, margin: string, posted: string | null, handSet = false): Workspace {
  return {
    ...emptyWorkspace(),
    items: [
      {
        id: 'i',
        sku: 'I',
        name: 'I',
        unit: 'each',
        category: 'all',
        taxClass: 'std',
        packs: [{ id: 'p', name: 'each', units: '1' }],
      },
    ],
    suppliers: [{ id: 's', version: 1, name: 'S', currency: 'EUR', landed: {} }],
    costs: [
      {
        id: 'c',
        item: 'i',
        supplier: 's',
        cost: { amount: cost, currency: 'EUR' },
        packUnits: '1',
        from: '2026-01-01',
        origin: 'file',
        entry: 1,
      },
    ],
    recipes: [
      {
        id: 'r',
        version: 1,
        name: 'R',
        basis: { kind: 'landed' },
        uplift: [{ id: 'u', scope: {}, method: 'margin', value: margin }],
        ladder: null,
        guards: [{ kind: 'raise_only' }],
      },
    ],
    lists: [
      {
        id: 'l',
        version: 1,
        name: 'L',
        currency: 'EUR',
        taxIn: false,
        advertised: false,
        active: true,
        groups: [],
        rank: 1,
        recipe: 'r',
      },
    ],
    posted: posted
      ? [
          {
            list: 'l',
            item: 'i',
            pack: 'p',
            price: posted,
            from: '2026-01-01',
            posting: '1',
            entry: 1,
            handSet: handSet ? { reason: 'promised', by: 'Marit' } : null,
          },
        ]
      : [],
  };
}

const cents = fc.integer({ min: 1, max: 100_000 }).map((n) => dec(n).div(100).toFixed());
const margins = fc.integer({ min: 0, max: 90 }).map(String);
const propose = (w: Workspace, falls: 'keep' | 'allow_fall' = 'keep', tolerance = {}) => {
  const found = proposePrice(new Prepared(w), Q, tolerance, falls);
  if (!found.ok) throw new Error(found.reason.code);
  return found.value;
};

describe('a proposed price', () => {
  it('never falls by itself; what it would fall to is what is proposed when the fall is allowed', () => {
    fc.assert(
      fc.property(cents, margins, cents, (cost, margin, posted) => {
        const w = shop(cost, margin, posted);
        const kept = propose(w);
        expect(kept.proposed.gte(posted)).toBe(true);
        const allowed = propose(w, 'allow_fall');
        if (kept.wouldFallTo) expect(allowed.proposed.eq(kept.wouldFallTo) && allowed.proposed.lt(posted)).toBe(true);
        else expect(allowed.proposed.eq(kept.proposed)).toBe(true);
        expect(allowed.wouldFallTo).toBeNull();
      }),
      { numRuns: 3000 },
    );
  });

  it('is held exactly when it moves by more than the tolerance, whichever way', () => {
    fc.assert(
      fc.property(cents, margins, cents, fc.integer({ min: 0, max: 200 }), (cost, margin, posted, allowed) => {
        const tolerance = { up: String(allowed), down: String(allowed) };
        const { proposed, holds } = propose(shop(cost, margin, posted), 'allow_fall', tolerance);
        const limit = dec(posted).times(allowed).div(100);
        const moved = settle(proposed.minus(posted));
        expect(holds.includes('rises_beyond_tolerance')).toBe(moved.gt(limit));
        expect(holds.includes('falls_beyond_tolerance')).toBe(moved.negated().gt(limit));
      }),
      { numRuns: 3000 },
    );
  });

  it('stands where it was typed, and says when that leaves less than the recipe aims at', () => {
    fc.assert(
      fc.property(cents, margins, cents, (cost, margin, posted) => {
        const { proposed, squeezed, computed } = propose(shop(cost, margin, posted, true), 'allow_fall');
        expect(proposed.toFixed()).toBe(dec(posted).toFixed());
        expect(squeezed).toBe(settle(dec(posted)).lt(settle(computed.targetNet)));
      }),
      { numRuns: 3000 },
    );
  });

  it('of a price never posted has no change and is not held', () => {
    const { posted, changePercent, holds } = propose(shop('40', '50', null), 'keep', { up: '0', down: '0' });
    expect([posted, changePercent, holds]).toEqual([null, null, []]);
  });
});
