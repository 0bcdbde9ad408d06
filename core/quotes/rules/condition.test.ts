import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { holds, sameValue, testHolds, testsOf } from './condition.ts';
import type { Condition, Operator, Test } from './rule.ts';

const value = fc.oneof(
  fc.integer({ min: -50, max: 50 }).map(String),
  fc.constantFrom('red', 'Red', '2026-03-09', '20.0', ''),
);
const facts = fc.array(
  value.filter((v) => v !== ''),
  { maxLength: 3 },
);
const test = (operator: Operator, more: Partial<Test> = {}): Test => ({ fact: 'item.x', operator, ...more });

describe('conditions of attribute rules', () => {
  it('"from … up to" is "at least" and "less than" together, for one value', () => {
    fc.assert(
      fc.property(
        value.filter((v) => v !== ''),
        fc.integer({ min: -50, max: 50 }),
        fc.integer({ min: -50, max: 50 }),
        (fact, from, upTo) => {
          const both =
            testHolds(test('at_least', { value: String(from) }), [fact]) &&
            testHolds(test('less_than', { value: String(upTo) }), [fact]);
          expect(testHolds(test('from_up_to', { from: String(from), upTo: String(upTo) }), [fact])).toBe(both);
        },
      ),
      { numRuns: 5000 },
    );
  });

  it('"is not" is the opposite of "is"; "one of" is "is" for any of them', () => {
    fc.assert(
      fc.property(facts, value, value, (found, a, b) => {
        expect(testHolds(test('is_not', { value: a }), found)).toBe(!testHolds(test('is', { value: a }), found));
        const either = [a, b].some((v) => testHolds(test('is', { value: v }), found));
        expect(testHolds(test('one_of', { values: [a, b] }), found)).toBe(either);
      }),
      { numRuns: 5000 },
    );
  });

  it('a number is at most, at, or at least another; a text is none of these to a number', () => {
    fc.assert(
      fc.property(fc.integer({ min: -50, max: 50 }), fc.integer({ min: -50, max: 50 }), (a, b) => {
        const says = (operator: Operator) => testHolds(test(operator, { value: String(b) }), [String(a)]);
        expect([says('at_least'), says('more_than'), says('at_most'), says('less_than')]).toEqual([
          a >= b,
          a > b,
          a <= b,
          a < b,
        ]);
        for (const operator of ['at_least', 'more_than', 'at_most', 'less_than'] as const)
          expect(testHolds(test(operator, { value: 'red' }), [String(a)])).toBe(false);
      }),
      { numRuns: 2000 },
    );
  });

  it('days compare as days', () => {
    expect(testHolds(test('at_least', { value: '2026-03-09' }), ['2026-03-09'])).toBe(true);
    expect(testHolds(test('less_than', { value: '2026-03-09' }), ['2026-02-28'])).toBe(true);
  });

  it('numbers written otherwise are the same, texts are not', () => {
    expect([sameValue('20', '20.00'), sameValue('020', '20'), sameValue('red', 'Red')]).toEqual([true, true, false]);
  });

  it('none of several is not any of them, however deep they stand', () => {
    const leaf: fc.Arbitrary<Condition> = value.map((v) => test('is', { value: v }));
    const { condition } = fc.letrec<{ condition: Condition }>((tie) => ({
      condition: fc.oneof(
        { maxDepth: 3 },
        leaf,
        fc.array(tie('condition'), { maxLength: 3 }).map((all) => ({ all })),
        fc.array(tie('condition'), { maxLength: 3 }).map((any) => ({ any })),
      ),
    }));
    fc.assert(
      fc.property(condition, condition, facts, (a, b, found) => {
        const fact = () => found;
        expect(holds({ none: [a, b] }, fact)).toBe(!holds({ any: [a, b] }, fact));
        expect(holds({ all: [a, b] }, fact)).toBe(holds(a, fact) && holds(b, fact));
        expect(testsOf({ none: [a, b] }).length).toBe(testsOf(a).length + testsOf(b).length);
      }),
      { numRuns: 5000 },
    );
  });

  it('without a condition a rule always holds', () => expect(holds(null, () => [])).toBe(true));
});
