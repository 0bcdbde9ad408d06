import { FACT_NAMES } from './condition.ts';
import { type Field, type Fields, type PointedTo, TIE_FIELDS } from './declare.ts';

export interface Link {
  readonly to: PointedTo;
  readonly id: string;
}

/** What a record points to, by its declaration; each once. */
export function linksOf(fields: Fields, row: Readonly<Record<string, unknown>>): Link[] {
  const found = new Map<string, Link>();
  for (const link of walk(fields, row)) found.set(`${link.to}/${link.id}`, link);
  return [...found.values()];
}

function* walk(fields: Fields, row: Readonly<Record<string, unknown>>): Generator<Link> {
  for (const [name, f] of Object.entries(fields)) {
    const value = row[name];
    if (value !== null && value !== undefined) yield* inField(f, value);
  }
}

function* inField(f: Field, value: unknown): Generator<Link> {
  switch (f.type) {
    case 'one':
      yield { to: f.to, id: value as string };
      break;
    case 'many':
      for (const id of value as string[]) yield { to: f.to, id };
      break;
    case 'scope':
      yield* walk(TIE_FIELDS, value as Record<string, unknown>);
      break;
    case 'scopes':
      for (const scope of value as Record<string, unknown>[]) yield* walk(TIE_FIELDS, scope);
      break;
    case 'part':
      yield* walk(f.fields, value as Record<string, unknown>);
      break;
    case 'rows':
      for (const row of value as Record<string, unknown>[]) yield* walk(f.fields, row);
      break;
    case 'condition':
      yield* inCondition(value as Record<string, unknown>);
      break;
    default:
  }
}

function* inCondition(c: Readonly<Record<string, unknown>>): Generator<Link> {
  for (const word of ['all', 'any', 'none'])
    for (const inner of (c[word] as Record<string, unknown>[] | undefined) ?? []) yield* inCondition(inner);
  const to = FACT_NAMES[String(c['fact'])];
  if (!to) return;
  for (const id of [c['value'], ...((c['values'] as unknown[] | undefined) ?? [])])
    if (typeof id === 'string' && /^\d+$/.test(id)) yield { to, id };
}
