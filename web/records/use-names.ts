import { useMemo } from 'react';
import type { ItemRow } from '#contract/items.ts';
import type { AttributeTerms } from '#core/items/described.ts';
import type { PointedTo, Suggested } from '#contract/records/declare.ts';
import { itemsApi } from '../items/endpoints.ts';
import { recordsApi } from './endpoints.ts';

/** A record that can be chosen: a code where it has one, and its name. */
export interface Choice {
  readonly id: string;
  readonly code: string | null;
  readonly name: string;
  /** Found by these words too. */
  readonly also?: string;
}

/** The register in which what is pointed to is kept. */
export const REGISTER_OF: Readonly<Record<Exclude<PointedTo, 'items'>, string>> = {
  categories: 'categories',
  suppliers: 'suppliers',
  groups: 'customer-groups',
  customers: 'customers',
  lists: 'lists',
  ladders: 'ladders',
  recipes: 'recipes',
  regions: 'regions',
  lockstep: 'lockstep',
  pools: 'pools',
  charges: 'charges',
};

const NO_ITEMS: ItemRow[] = [];

/** What can be pointed to, of one kind. */
export function useChoices(to: PointedTo): readonly Choice[] {
  const { data: items = NO_ITEMS } = itemsApi.useItemsQuery(null, { skip: to !== 'items' });
  const { data: rows } = recordsApi.useRegisterQuery(to === 'items' ? 'lists' : (REGISTER_OF[to] as 'lists'), {
    skip: to === 'items',
  });
  return useMemo(
    () =>
      to === 'items'
        ? items.map((i) => ({ id: i.id, code: i.sku, name: i.name }))
        : (rows ?? []).map((r) => ({ id: r.id, code: null, name: String(r['name']) })),
    [to, items, rows],
  );
}

/** Texts that are chosen once some of them are declared, by the register that holds them. */
const CLOSED: Readonly<Record<string, 'brands' | 'taxClasses'>> = { brands: 'brands', taxClasses: 'taxClasses' };

export interface Suggestions {
  readonly texts: readonly string[];
  /** Nothing else may be written. */
  readonly closed: boolean;
}
const NOTHING: Suggestions = { texts: [], closed: false };

/** Texts to choose from. */
export function useSuggestions(of: Suggested | undefined): Suggestions {
  const fromItems = of === 'packs' || of === 'brands' || of === 'models';
  const { data: items = NO_ITEMS } = itemsApi.useItemsQuery(null, { skip: !fromItems });
  const { data: taxes } = recordsApi.useRegisterQuery('tax-rates', { skip: of !== 'taxClasses' });
  const { data: lists } = recordsApi.useRegisterQuery('lists', { skip: of !== 'channels' });
  const { data: declared } = recordsApi.useRegisterQuery(CLOSED[of ?? ''] ?? 'lists', { skip: !CLOSED[of ?? ''] });
  return useMemo(() => {
    const found = {
      packs: () => items.flatMap((i) => i.packs.map((p) => p.name)),
      brands: () => items.flatMap((i) => i.brand ?? []),
      models: () => items.flatMap((i) => i.model ?? []),
      taxClasses: () => (taxes ?? []).map((t) => String(t['taxClass'])),
      channels: () => (lists ?? []).flatMap((l) => (l['channels'] as string[] | undefined) ?? []),
    };
    if (!of) return NOTHING;
    // what is declared is all there is; where nothing is, what is in use is at hand
    if (declared && declared.length > 0) return { texts: declared.map((d) => String(d['name'])).sort(), closed: true };
    return { texts: [...new Set(found[of]())].sort(), closed: false };
  }, [of, items, taxes, lists, declared]);
}

/** What items may be described by. */
export function useAttributes(): readonly AttributeTerms[] {
  const { data } = recordsApi.useRegisterQuery('attributes');
  return (data ?? NO_ATTRIBUTES) as readonly AttributeTerms[];
}
const NO_ATTRIBUTES: AttributeTerms[] = [];
