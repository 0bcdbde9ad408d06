import type { PointedTo } from './declare.ts';
import { FACTS, OPERATORS } from '#core/quotes/rules/rule.ts';

/** Facts whose values are ids, by the member of a workspace that holds what they name. */
export const FACT_NAMES: Readonly<Record<string, PointedTo>> = {
  'item.category': 'categories',
  'item.supplier': 'suppliers',
  'customer.id': 'customers',
  'customer.group': 'groups',
  'quote.list': 'lists',
  'quote.region': 'regions',
};

interface Fault {
  readonly path: string;
  readonly message: string;
}

const NUMBER = /^-?\d{1,20}(\.\d{1,15})?$/;
const MOST_DEPTH = 12;

/** What is wrong in a condition: all, any or none of others, or one fact held against a value. Null: always. */
export function conditionFaults(value: unknown, path = '', depth = 0): Fault[] {
  if (value === null || value === undefined) return [];
  if (typeof value !== 'object' || Array.isArray(value)) return [{ path, message: 'must be a condition' }];
  if (depth > MOST_DEPTH) return [{ path, message: 'is nested too deeply' }];
  const c = value as Record<string, unknown>;
  for (const word of ['all', 'any', 'none'] as const) {
    if (!(word in c)) continue;
    const inner = c[word];
    if (Object.keys(c).length > 1 || !Array.isArray(inner) || inner.length > 200)
      return [{ path, message: `must be a list of conditions under "${word}" alone` }];
    if (inner.length === 0) return [{ path, message: 'needs at least one condition inside' }];
    return inner.flatMap((one, i) => conditionFaults(one, `${path}.${word}[${i}]`, depth + 1));
  }
  return testFaults(c, path);
}

function testFaults(c: Record<string, unknown>, path: string): Fault[] {
  const known = ['fact', 'operator', 'value', 'values', 'from', 'upTo'];
  const unknown = Object.keys(c).find((k) => !known.includes(k));
  if (unknown) return [{ path: `${path}.${unknown}`, message: 'is no part of a condition' }];
  const { fact, operator } = c;
  if (typeof fact !== 'string' || !isFact(fact))
    return [{ path: `${path}.fact`, message: 'must be a fact that is known' }];
  if (!(OPERATORS as readonly unknown[]).includes(operator))
    return [{ path: `${path}.operator`, message: 'must be one of the known comparisons' }];
  const texts = [c['value'], c['from'], c['upTo'], ...(Array.isArray(c['values']) ? (c['values'] as unknown[]) : [])];
  if (texts.some((t) => t !== null && t !== undefined && (typeof t !== 'string' || t.length > 400)))
    return [{ path: `${path}.value`, message: 'must be a text' }];
  if (operator === 'one_of')
    return Array.isArray(c['values']) && c['values'].length > 0
      ? []
      : [{ path: `${path}.values`, message: 'needs at least one value' }];
  if (operator === 'is_empty') return [];
  if (operator === 'from_up_to')
    return c['from'] || c['upTo'] ? [] : [{ path: `${path}.from`, message: 'needs a beginning, an end or both' }];
  if (typeof c['value'] !== 'string' || c['value'] === '') return [{ path: `${path}.value`, message: 'needs a value' }];
  const ordered = ['at_least', 'more_than', 'at_most', 'less_than'].includes(operator as string);
  return ordered && !NUMBER.test(c['value']) && !/^\d{4}-\d{2}-\d{2}$/.test(c['value'])
    ? [{ path: `${path}.value`, message: 'must be a number or a day to be compared' }]
    : [];
}

const isFact = (fact: string): boolean =>
  (FACTS as readonly string[]).includes(fact) || /^(item|customer|quote|line)\.attributes\..+$/.test(fact);
