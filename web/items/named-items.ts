import { useMemo } from 'react';
import type { NamedItem } from '#contract/items.ts';
import { itemsApi } from './endpoints.ts';

const NONE: NamedItem[] = [];

/** Items by their ids; those that were known before stay while others are asked for. */
export function useNamedItems(ids: readonly (string | null | undefined)[]): ReadonlyMap<string, NamedItem> {
  const asked = [...new Set(ids.flatMap((id) => id || []))].sort((a, b) => Number(a) - Number(b)).join(',');
  const { data = NONE } = itemsApi.useItemsNamedQuery(asked, { skip: asked === '' });
  return useMemo(() => new Map(data.map((i) => [i.id, i])), [data]);
}
