import { type Dec, dec } from '../../numbers/decimal.ts';
import type { Condition, Test } from './rule.ts';

/** The values of a fact; several where an item is in categories or a customer in groups, none where it is missing. */
export type FactOf = (fact: string) => readonly string[];

const NUMBER = /^-?\d+(\.\d+)?$/;

/** Below, at or above 0: numbers as numbers, anything else (days too) as text; null: a number against a text. */
export function compareValues(a: string, b: string): number | null {
  const numbers = [NUMBER.test(a), NUMBER.test(b)];
  if (numbers[0] && numbers[1]) return dec(a).cmp(b);
  if (numbers[0] !== numbers[1]) return null;
  return a < b ? -1 : a > b ? 1 : 0;
}

export function sameValue(a: string, b: string): boolean {
  return a === b || compareValues(a, b) === 0;
}

export function testHolds(test: Test, facts: readonly string[]): boolean {
  const value = test.value ?? '';
  const compares = (fits: (order: number) => boolean) =>
    facts.some((f) => {
      const order = compareValues(f, value);
      return order !== null && fits(order);
    });
  switch (test.operator) {
    case 'is':
      return facts.some((f) => sameValue(f, value));
    case 'is_not':
      return !facts.some((f) => sameValue(f, value));
    case 'one_of':
      return facts.some((f) => test.values?.some((v) => sameValue(f, v)));
    case 'at_least':
      return compares((order) => order >= 0);
    case 'more_than':
      return compares((order) => order > 0);
    case 'at_most':
      return compares((order) => order <= 0);
    case 'less_than':
      return compares((order) => order < 0);
    case 'from_up_to':
      return facts.some((f) => {
        const [low, high] = [test.from, test.upTo].map((edge) => (edge ? compareValues(f, edge) : undefined));
        return low !== null && high !== null && (low === undefined || low >= 0) && (high === undefined || high < 0);
      });
    case 'contains':
      return facts.some((f) => f.toLowerCase().includes(value.toLowerCase()));
    case 'is_empty':
      return facts.length === 0;
  }
}

/** Whether a condition holds; none given: always. "All" of nothing holds, "any" of nothing does not. */
export function holds(condition: Condition | null | undefined, fact: FactOf): boolean {
  if (!condition) return true;
  if ('all' in condition) return condition.all.every((c) => holds(c, fact));
  if ('any' in condition) return condition.any.some((c) => holds(c, fact));
  if ('none' in condition) return !condition.none.some((c) => holds(c, fact));
  return testHolds(condition, fact(condition.fact));
}

/** The tests of a condition, wherever they stand in it. */
export function testsOf(condition: Condition | null | undefined): readonly Test[] {
  if (!condition) return [];
  if ('all' in condition) return condition.all.flatMap(testsOf);
  if ('any' in condition) return condition.any.flatMap(testsOf);
  if ('none' in condition) return condition.none.flatMap(testsOf);
  return [condition];
}

export const asFact = (value: Dec | string | null | undefined): readonly string[] =>
  value === null || value === undefined || value === '' ? [] : [typeof value === 'string' ? value : value.toFixed()];
