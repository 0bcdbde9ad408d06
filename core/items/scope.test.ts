import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareRows } from '../recipes/row-order.ts';
import { compareEntries } from '../lists/entries.ts';
import type { Item } from './item.ts';
import { Prepared } from '../workspace/prepared.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { type Scope, ScopeIndex, fits, meet } from './scope.ts';

const some = (...values: string[]) => fc.constantFrom(undefined, undefined, ...values);
const anyScope: fc.Arbitrary<Scope> = fc.record({
  item: some('a', 'b'),
  model: some('M', 'N'),
  lockstep: some('g'),
  attributes: fc.constantFrom<Record<string, string> | undefined>(
    undefined,
    undefined,
    { colour: 'red' },
    { colour: 'red', size: '8' },
    { size: '8' },
  ),
  brand: some('Kelda', 'Vik'),
  supplier: some('s', 't'),
  category: some('all', 'rope', 'braid', 'paint'),
  pack: some('each', 'carton'),
  channel: some('counter', 'web'),
});
const anyChannels = fc.constantFrom<readonly string[]>([], ['web'], ['counter']);
const anyItem: fc.Arbitrary<Item> = fc
  .record({
    id: fc.constantFrom('a', 'b', 'c'),
    model: fc.constantFrom('M', 'N', null),
    brand: fc.constantFrom('Kelda', 'Vik', null),
    supplier: fc.constantFrom('s', 't', null),
    category: fc.constantFrom('all', 'rope', 'braid', 'paint'),
    attributes: fc.constantFrom<Record<string, string>>({}, { colour: 'red' }, { colour: 'red', size: '8' }),
  })
  .map((i) => ({ ...i, sku: i.id, name: i.id, unit: 'each', taxClass: 'std', packs: [] }));
const category = (id: string, parent: string | null) => ({ id, name: id, parent });
const ws = new Prepared({
  ...emptyWorkspace(),
  categories: [category('all', null), category('rope', 'all'), category('braid', 'rope'), category('paint', 'all')],
  lockstep: [{ id: 'g', version: 1, name: 'G', lead: 'a', members: ['b'] }],
});

describe('what a rule is tied to', () => {
  it('two scopes that hold one item are found to meet', () => {
    fc.assert(
      fc.property(
        anyScope,
        anyScope,
        anyItem,
        fc.constantFrom('each', 'carton'),
        anyChannels,
        (a, b, item, pack, channels) => {
          if (fits(ws, a, item, pack, channels) && fits(ws, b, item, pack, channels)) expect(meet(ws, a, b)).toBe(true);
        },
      ),
      { numRuns: 20_000 },
    );
  });

  it.each([
    ['uplift rows', (a: Scope, b: Scope) => compareRows(ws, a, b)],
    [
      'entries',
      (a: Scope, b: Scope) =>
        compareEntries(ws, { scope: a, kind: 'price', value: '1' }, { scope: b, kind: 'price', value: '1' }),
    ],
  ])('the order of %s is one: the other way round it is turned, and of three it goes on', (_, compare) => {
    fc.assert(
      fc.property(anyScope, anyScope, anyScope, (a, b, c) => {
        expect(Math.sign(compare(a, b))).toBe(-Math.sign(compare(b, a)) || 0);
        if (compare(a, b) <= 0 && compare(b, c) <= 0) expect(compare(a, c)).toBeLessThanOrEqual(0);
      }),
      { numRuns: 10_000 },
    );
  });

  it('more ties are more specific: a row with one tie more never loses to the same without it', () => {
    fc.assert(
      fc.property(anyScope, anyScope, (a, b) => {
        const both: Scope = {
          ...a,
          ...Object.fromEntries(Object.entries(b).filter(([tie]) => !a[tie as keyof Scope])),
        };
        expect(compareRows(ws, both, a)).toBeLessThanOrEqual(0);
      }),
      { numRuns: 10_000 },
    );
  });

  it('the index finds every rule that holds an item', () => {
    fc.assert(
      fc.property(fc.array(anyScope, { maxLength: 12 }), anyItem, (scopes, item) => {
        const index = new ScopeIndex(scopes, (s) => s);
        const held = (all: readonly Scope[]) => new Set(all.filter((s) => fits(ws, s, item, 'each', null)));
        expect(held(index.candidates(item.id))).toEqual(held(scopes));
      }),
      { numRuns: 5000 },
    );
  });
});
