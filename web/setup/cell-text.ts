import { useMemo } from 'react';
import { api } from '../api.ts';
import type { RegisterField } from './registers.ts';

/** The names of the records that fields point to. */
export function useNames(fields: readonly RegisterField[]): ReadonlyMap<string, string> {
  const wanted = new Set(fields.flatMap((f) => ('register' in f.as ? [f.as.register] : [])));
  const ask = (name: 'lists' | 'categories' | 'customer-groups') => ({ skip: !wanted.has(name) });
  const lists = api.useRegisterQuery('lists', ask('lists')).data;
  const categories = api.useRegisterQuery('categories', ask('categories')).data;
  const groups = api.useRegisterQuery('customer-groups', ask('customer-groups')).data;
  const items = api.useItemsQuery(null, { skip: !fields.some((f) => f.as.kind === 'item') }).data;
  const recipes = api.useRecipesQuery(undefined, { skip: !wanted.has('recipes') }).data;
  return useMemo(() => {
    const out = new Map<string, string>();
    for (const [register, rows] of [
      ['lists', lists],
      ['categories', categories],
      ['customer-groups', groups],
      ['recipes', recipes],
    ] as const) {
      for (const r of rows ?? []) out.set(`${register}/${r.id}`, String((r as Record<string, unknown>)['name']));
    }
    for (const i of items ?? []) out.set(`item/${i.id}`, i.sku);
    return out;
  }, [lists, categories, groups, recipes, items]);
}

/** A field of a record as text. */
export function cellText(
  f: RegisterField,
  value: unknown,
  names: ReadonlyMap<string, string>,
  number: (t: string) => string,
  day: (t: string) => string,
): string {
  if (value === null || value === undefined || value === '') return '';
  const kind = f.as;
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
      return names.get(`item/${String(value)}`) ?? `item ${String(value)}`;
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
