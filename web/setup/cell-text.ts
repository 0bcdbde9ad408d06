import { type Field, type Fields, type PointedTo, TIE_FIELDS } from '#contract/records/declare.ts';
import { useMemo } from 'react';
import { useNamedItems } from '../items/named-items.ts';
import { useNamesOf } from '../records/named-records.ts';
import { countryName } from '../records/countries.ts';
import { REGISTER_OF } from '#contract/places.ts';

/** The name of a record by "register/id". */
export interface Names {
  get(key: string): string | undefined;
}

/** What records point to, by register. */
function pointedIn(
  fields: Fields,
  records: readonly Record<string, unknown>[],
): ReadonlyMap<string, ReadonlySet<string>> {
  const met = new Map<string, Set<string>>();
  const noting: Names = {
    get: (key) => {
      const [register = '', id] = key.split('/');
      if (id) met.set(register, (met.get(register) ?? new Set()).add(id));
      return undefined;
    },
  };
  const same = (text: string) => text;
  for (const record of records)
    for (const [name, f] of Object.entries(fields))
      if (!f.formOnly) declaredText(f, record[name], { names: noting, number: same, day: same });
  return met;
}

/** The names of the records that fields of these records point to, by "register/id". */
export function useNames(fields: Fields, records: readonly Record<string, unknown>[]): Names {
  const pointed = useMemo(() => pointedIn(fields, records), [fields, records]);
  const found = useNamesOf(useMemo(() => new Map([...pointed].filter(([r]) => r !== 'items')), [pointed]));
  const items = useNamedItems([...(pointed.get('items') ?? [])]);
  return {
    get: (key) => {
      const [register = '', id = ''] = key.split('/');
      return register === 'items' ? items.get(id)?.sku : found.get(key);
    },
  };
}

export interface Words {
  readonly names: Names;
  readonly number: (t: string) => string;
  readonly day: (t: string) => string;
}

/** A declared field as text. */
export function declaredText(f: Field, value: unknown, w: Words): string {
  if (value === null || value === undefined || value === '') return '';
  const nameOf = (to: PointedTo, id: string) => w.names.get(`${REGISTER_OF[to]}/${id}`) ?? id;
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
      return (value as string[]).map((id) => nameOf(f.to, id)).join(', ') || (f.none ?? '');
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
      if (f.words) return (value as Record<string, unknown>[]).map((r) => f.words!(r, w.number)).join(' · ');
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
