import type { Prepared } from '../workspace/prepared.ts';
import { type Answer, answer } from './answer.ts';
import type { Question } from './questions.ts';

/** Where two answers to one question differ: the path into the answer, and what stands there; null: nothing does. */
export interface Difference {
  readonly path: string;
  readonly before: unknown;
  readonly after: unknown;
}

/** What a change of the set-up does to a question. */
export interface Compared {
  readonly id?: string;
  readonly kind: Question['kind'];
  readonly same: boolean;
  readonly differences: readonly Difference[];
}

/** Answers a question on two workspaces and says where the answers differ, in the order of their fields. */
export function compareAnswers(before: Prepared, after: Prepared, q: Question): Compared {
  const [was, now] = [before, after].map((ws) => answer(ws, q, { buildUp: false })) as [Answer, Answer];
  const differences = [...differencesOf(named(was), named(now), '')];
  return { ...(q.id === undefined ? {} : { id: q.id }), kind: q.kind, same: differences.length === 0, differences };
}

/** Rows that have a name of their own are compared by it, not by where they stand. */
function named(value: unknown): unknown {
  if (Array.isArray(value)) {
    const keys = value.map(nameOf);
    const all = keys.every((k) => k !== null) && new Set(keys).size === keys.length;
    const rows = value.map(named);
    return all && keys.length > 0 ? new Map(keys.map((k, i) => [k!, rows[i]])) : rows;
  }
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([key, inner]) => [key, named(inner)]));
}

function nameOf(row: unknown): string | null {
  if (row === null || typeof row !== 'object') return null;
  const { id, list, item, pack } = row as Record<string, unknown>;
  if (typeof id === 'string') return id;
  const parts = [list, item, pack].filter((p) => typeof p === 'string');
  return typeof item === 'string' ? parts.join('/') : null;
}

const entriesOf = (value: unknown): Map<string, unknown> | null =>
  value instanceof Map
    ? (value as Map<string, unknown>)
    : value !== null && typeof value === 'object'
      ? new Map(Object.entries(value))
      : null;

function* differencesOf(before: unknown, after: unknown, path: string): Generator<Difference> {
  const [a, b] = [entriesOf(before), entriesOf(after)];
  if (!a || !b) {
    if (!Object.is(before, after)) yield { path, before: plainOf(before), after: plainOf(after) };
    return;
  }
  for (const key of new Set([...a.keys(), ...b.keys()]))
    yield* differencesOf(a.get(key) ?? null, b.get(key) ?? null, path === '' ? key : `${path}.${key}`);
}

/** Back to plain data. */
function plainOf(value: unknown): unknown {
  const entries = entriesOf(value);
  if (!entries) return value;
  const made = [...entries].map(([key, inner]) => [key, plainOf(inner)] as const);
  return value instanceof Map || Array.isArray(value) ? made.map(([, inner]) => inner) : Object.fromEntries(made);
}
