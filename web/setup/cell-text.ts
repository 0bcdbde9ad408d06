import { type Field, type Fields, type PointedTo, TIES, TIE_FIELDS } from '#contract/records/declare.ts';
import { useMemo } from 'react';
import { useNamedItems } from '../items/named-items.ts';
import { recordsApi } from '../records/endpoints.ts';
import { countryName } from '../records/countries.ts';
import { REGISTER_OF } from '../records/use-names.ts';
import type { RegisterField } from './registers.ts';

/** Every register that a field may point into; each is asked for only where a field does. */
const POINTED = [...Object.values(REGISTER_OF)] as const;

const registerOf = (to: PointedTo): string => (to === 'items' ? 'items' : REGISTER_OF[to]);

/** The registers that declared fields point into. */
function* pointedBy(f: Field): Generator<string> {
  if (f.type === 'one' || f.type === 'many') yield registerOf(f.to);
  else if (f.type === 'scope' || f.type === 'scopes') for (const tie of TIES) yield* pointedBy(TIE_FIELDS[tie]);
  else if (f.type === 'part' || f.type === 'rows') for (const inner of Object.values(f.fields)) yield* pointedBy(inner);
}

/** The name of a record by "register/id". */
export interface Names {
  get(key: string): string | undefined;
}

/** The items that records point to. */
function itemsIn(fields: readonly RegisterField[], records: readonly Record<string, unknown>[]): string[] {
  const met = new Set<string>();
  const noting: Names = {
    get: (key) => {
      const [register, id] = key.split('/');
      if (register === 'items' && id) met.add(id);
      return undefined;
    },
  };
  const same = (text: string) => text;
  for (const record of records)
    for (const f of fields) if (!f.formOnly) cellText(f, record[f.name], noting, same, same);
  return [...met];
}

/** The registers that fields point into. */
const registersOf = (fields: readonly RegisterField[]): ReadonlySet<string> =>
  new Set(
    fields.flatMap((f) =>
      f.as.kind === 'declared'
        ? f.formOnly
          ? []
          : [...pointedBy(f.as.field)]
        : f.as.kind === 'item'
          ? ['items']
          : 'register' in f.as
            ? [f.as.register]
            : [],
    ),
  );

/** The names of the records that fields of these records point to, by "register/id". */
export function useNames(fields: readonly RegisterField[], records: readonly Record<string, unknown>[]): Names {
  const wanted = useMemo(() => registersOf(fields), [fields]);
  // the same hooks in the same order at every call: skipped where nothing points there
  const found = new Map(
    POINTED.map(
      (register) =>
        [register, recordsApi.useRegisterQuery(register as 'lists', { skip: !wanted.has(register) }).data] as const,
    ),
  );
  const pointed = useMemo(() => (wanted.has('items') ? itemsIn(fields, records) : []), [wanted, fields, records]);
  const items = useNamedItems(pointed);
  return {
    get: (key) => {
      const [register = '', id = ''] = key.split('/');
      return register === 'items' ? items.get(id)?.sku : namesIn(found.get(register)).get(id);
    },
  };
}

/** The names of an answer's records by id, made once for every answer. */
const made = new WeakMap<readonly object[], ReadonlyMap<string, string>>();
const NONE: ReadonlyMap<string, string> = new Map();

function namesIn(rows: readonly { id: string }[] | undefined): ReadonlyMap<string, string> {
  if (!rows) return NONE;
  const known =
    made.get(rows) ?? new Map(rows.map((r) => [r.id, String((r as unknown as Record<string, unknown>)['name'])]));
  made.set(rows, known);
  return known;
}

export interface Words {
  readonly names: Names;
  readonly number: (t: string) => string;
  readonly day: (t: string) => string;
}

/** A declared field as text. */
export function declaredText(f: Field, value: unknown, w: Words): string {
  if (value === null || value === undefined || value === '') return '';
  const nameOf = (to: PointedTo, id: string) => w.names.get(`${registerOf(to)}/${id}`) ?? id;
  switch (f.type) {
    case 'yes':
      return value ? 'yes' : 'no';
    case 'decimal':
      return `${w.number(String(value as string))}${f.unit === '%' ? '\u00a0%' : ''}`;
    case 'day':
      return w.day(String(value as string));
    case 'choice':
      return f.options[value as string] ?? String(value as string);
    case 'country':
      return countryName(value as string);
    case 'countries':
      return (value as string[]).map(countryName).join(', ');
    case 'texts':
      return (value as string[]).join(', ');
    case 'one':
      return nameOf(f.to, value as string);
    case 'many':
      return (value as string[]).map((id) => nameOf(f.to, id)).join(', ');
    case 'amount': {
      const { amount, currency } = value as { amount: string; currency: string };
      return `${w.number(amount)} ${currency}`;
    }
    case 'attributes':
      return Object.entries(value as Record<string, string>)
        .map(([name, v]) => `${name} ${v}`)
        .join(', ');
    case 'scope': {
      const ties = fieldsText(TIE_FIELDS, value as Record<string, unknown>, w);
      return ties === '' ? 'everything' : ties;
    }
    case 'scopes':
      return (value as Record<string, unknown>[]).map((s) => fieldsText(TIE_FIELDS, s, w) || 'everything').join('; ');
    case 'rows':
      return (value as Record<string, unknown>[])
        .map((r) => (typeof r['name'] === 'string' ? r['name'] : fieldsText(f.fields, r, w)))
        .join('; ');
    case 'part':
      return fieldsText(f.fields, value as Record<string, unknown>, w);
    case 'condition':
      return 'under a condition';
    default:
      return String(value as string | number);
  }
}

const fieldsText = (fields: Fields, row: Record<string, unknown>, w: Words): string =>
  Object.entries(fields)
    .map(([name, f]) => {
      const text = declaredText(f, row[name], w);
      return text === '' || f.type === 'yes' ? '' : `${f.title.toLowerCase()} ${text}`;
    })
    .filter((t) => t !== '')
    .join(', ');

/** A field of a record as text. */
export function cellText(
  f: RegisterField,
  value: unknown,
  names: Names,
  number: (t: string) => string,
  day: (t: string) => string,
): string {
  const kind = f.as;
  if (kind.kind === 'declared') return declaredText(kind.field, value, { names, number, day });
  if (value === null || value === undefined || value === '') return '';
  switch (kind.kind) {
    case 'yes':
      return value ? 'yes' : 'no';
    case 'number':
      return number(String(value));
    case 'day':
      return day(String(value));
    case 'choice':
      return kind.options.find(([v]) => v === value)?.[1] ?? String(value);
    case 'record':
      return names.get(`${kind.register}/${String(value)}`) ?? String(value);
    case 'item':
      return names.get(`items/${String(value)}`) ?? `item ${String(value)}`;
    case 'records':
      return (value as string[]).map((v) => names.get(`${kind.register}/${v}`) ?? v).join(', ') || 'everyone';
    case 'breakRows':
      return (value as { from: string; kind: string; value: string }[])
        .map(
          (r) =>
            `from ${number(r.from)}: ${number(r.value)}${r.kind === 'percent_off' ? ' % off' : r.kind === 'amount_off' ? ' off' : ''}`,
        )
        .join(' · ');
    default:
      return String(value);
  }
}
