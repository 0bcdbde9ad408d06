import { useMemo } from 'react';
import { MOST_NAMED_AT_ONCE, type NamedItem } from '#contract/items.ts';
import { itemsApi } from './endpoints.ts';

const NONE: NamedItem[] = [];

/** Items by their ids; those that were known before stay while others are asked for. */
export function useNamedItems(ids: readonly (string | null | undefined)[]): ReadonlyMap<string, NamedItem> {
  const asked = [...new Set(ids.flatMap((id) => id || []))].sort((a, b) => Number(a) - Number(b));
  // of more the first are named; the rest stand there by their ids
  const key = asked.slice(0, MOST_NAMED_AT_ONCE).join(',');
  const { data = NONE } = itemsApi.useItemsNamedQuery(key, { skip: key === '' });
  return useMemo(() => new Map(data.map((i) => [i.id, i])), [data]);
}
