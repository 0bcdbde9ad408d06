import { FACT_NAMES } from './condition.ts';
import { type Field, type Fields, type PointedTo, TIE_FIELDS } from './declare.ts';

type Row = Readonly<Record<string, unknown>>;

export interface Link {
  readonly to: PointedTo;
  readonly id: string;
}

export interface PlacedLink extends Link {
  /** Where it stands: "$.reductions[3].scope.item". */
  readonly path: string;
}

/** What a record points to, by its declaration; each once. */
export function linksOf(fields: Fields, row: Row): Link[] {
  const found = new Map<string, Link>();
  for (const { to, id } of [...placedLinks(fields, row, ''), ...inConditions(fields, row)])
    found.set(`${to}/${id}`, { to, id });
  return [...found.values()];
}

/** The same with where each stands, as often as it is named; what conditions ask for is not among them. */
export function* placedLinks(fields: Fields, row: Row, at: string): Generator<PlacedLink> {
  for (const [name, f] of Object.entries(fields)) {
    const value = row[name];
    if (value !== null && value !== undefined) yield* inField(f, value, `${at}.${name}`);
  }
}

function* inField(f: Field, value: unknown, path: string): Generator<PlacedLink> {
  const rows = (of: Fields) => (value as Row[]).flatMap((row, i) => [...placedLinks(of, row, `${path}[${i}]`)]);
  switch (f.type) {
    case 'one':
      yield { to: f.to, id: value as string, path };
      break;
    case 'many':
      yield* (value as string[]).map((id, i) => ({ to: f.to, id, path: `${path}[${i}]` }));
      break;
    case 'scope':
      yield* placedLinks(TIE_FIELDS, value as Row, path);
      break;
    case 'scopes':
      yield* rows(TIE_FIELDS);
      break;
    case 'part':
      yield* placedLinks(f.fields, value as Row, path);
      break;
    case 'rows':
      yield* rows(f.fields);
      break;
    default:
  }
}

function* inConditions(fields: Fields, row: Row): Generator<Link> {
  for (const [name, f] of Object.entries(fields)) {
    const value = row[name];
    if (value === null || value === undefined) continue;
    if (f.type === 'condition') yield* inCondition(value as Row);
    if (f.type === 'rows') for (const inner of value as Row[]) yield* inConditions(f.fields, inner);
    if (f.type === 'part') yield* inConditions(f.fields, value as Row);
  }
}

function* inCondition(c: Row): Generator<Link> {
  for (const word of ['all', 'any', 'none'])
    for (const inner of (c[word] as Record<string, unknown>[] | undefined) ?? []) yield* inCondition(inner);
  const to = FACT_NAMES[String(c['fact'])];
  if (!to) return;
  for (const id of [c['value'], ...((c['values'] as unknown[] | undefined) ?? [])])
    if (typeof id === 'string' && /^\d+$/.test(id)) yield { to, id };
}
