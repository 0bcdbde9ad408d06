import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { calculate } from '../buildup/steps.ts';
import { dec, roundHalfUp } from '../numbers/decimal.ts';
import type { Item } from '../items/item.ts';
import examples from './examples/markup.json' with { type: 'json' };
import { marginFromMarkup, marginOf, markupFromMargin, markupOf, priceAtMargin, priceAtMarkup } from './markup.ts';
import type { UpliftMethod } from './recipe.ts';
import { upliftOperation } from './uplift.ts';

const item = { id: 'i', sku: 'I-1' } as Item;

describe('markup and margin', () => {
  it.each(examples.cases)('$method $value on $cost gives $price, with the other figure beside it', (c) => {
    const operation = upliftOperation(
      { id: 'u', scope: {}, method: c.method as UpliftMethod, value: c.value },
      dec(c.cost),
      dec(1),
      item,
      'u',
    );
    if (!operation.ok) throw new Error(operation.reason.code);
    const price = calculate(operation.value, dec(c.cost));
    expect(price.toFixed(2)).toBe(dec(c.price).toFixed(2));
    expect(markupOf(dec(c.cost), price)!.toFixed(2)).toBe(c.markup);
    expect(marginOf(dec(c.cost), price)!.toFixed(2)).toBe(c.margin);
  });

  it.each(examples.refused)('$method $value on cost $cost is refused, never a price of 0', (c) => {
    const found = upliftOperation(
      { id: 'u', scope: {}, method: c.method as UpliftMethod, value: c.value },
      dec(c.cost),
      dec(1),
      item,
      'u',
    );
    expect(found.ok ? 'a price' : found.reason.code).toBe(c.code);
    const direct =
      c.method === 'margin' ? priceAtMargin(dec(c.cost), dec(c.value)) : priceAtMarkup(dec(c.cost), dec(c.value));
    expect(direct.ok ? 'a price' : direct.reason.code).toBe(c.code);
  });

  it('confusing the two costs 9.05 a piece on a cost of 48.00', () => {
    const { cost, percent, difference } = examples.confused;
    const a = priceAtMargin(dec(cost), dec(percent));
    const b = priceAtMarkup(dec(cost), dec(percent));
    expect(a.ok && b.ok && roundHalfUp(a.value, 2).minus(b.value).toFixed(2)).toBe(difference);
  });

  it('a margin turned into a markup and back is the same margin', () => {
    fc.assert(
      fc.property(fc.integer({ min: -50_000, max: 9_999 }), (n) => {
        const margin = dec(n).div(100);
        const markup = markupFromMargin(margin);
        if (!markup.ok) throw new Error('refused');
        expect(roundHalfUp(marginFromMarkup(markup.value)!, 20).eq(margin)).toBe(true);
      }),
      { numRuns: 2000 },
    );
  });
});
