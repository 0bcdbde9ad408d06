import { useMemo } from 'react';
import type { AttributeTerms } from '#core/items/described.ts';
import { REGISTER_OF } from '#contract/places.ts';
import type { PointedTo, Suggested } from '#contract/records/declare.ts';
import { itemsApi } from '../items/endpoints.ts';
import { useRegister } from './use-register.ts';

/** A record that can be chosen: a code where it has one, and its name. */
export interface Choice {
  readonly id: string;
  readonly code: string | null;
  readonly name: string;
  /** Found by these words too. */
  readonly also?: string;
}

/** What can be pointed to, of one kind; items are too many to be at hand. */
export function useChoices(to: Exclude<PointedTo, 'items'>): readonly Choice[] {
  const { rows } = useRegister(REGISTER_OF[to] as 'lists');
  return useMemo(() => rows.map((r) => ({ id: r.id, code: null, name: r.name })), [rows]);
}

/** Texts that are chosen once some of them are declared, by the register that holds them. */
const CLOSED: Readonly<Record<string, 'brands' | 'taxClasses'>> = { brands: 'brands', taxClasses: 'taxClasses' };

export interface Suggestions {
  readonly texts: readonly string[];
  /** Nothing else may be written. */
  readonly closed: boolean;
}
const NO_WORDS: string[] = [];
const NOTHING: Suggestions = { texts: [], closed: false };

/** Texts to choose from. */
export function useSuggestions(of: Suggested | undefined): Suggestions {
  const fromItems = of === 'packs' || of === 'brands' || of === 'models';
  const { data: words = NO_WORDS } = itemsApi.useItemWordsQuery(fromItems ? of : 'packs', { skip: !fromItems });
  const { rows: taxes } = useRegister('tax-rates', { skip: of !== 'taxClasses' });
  const { rows: lists } = useRegister('lists', { skip: of !== 'channels' });
  const { rows: declared } = useRegister(CLOSED[of ?? ''] ?? 'lists', { skip: !CLOSED[of ?? ''] });
  return useMemo(() => {
    const found = {
      packs: () => words,
      brands: () => words,
      models: () => words,
      taxClasses: () => taxes.map((t) => t.taxClass),
      channels: () => lists.flatMap((l) => l.channels ?? []),
    };
    if (!of) return NOTHING;
    // what is declared is all there is; where nothing is, what is in use is at hand
    if (declared.length > 0) return { texts: declared.map((d) => d.name).sort(), closed: true };
    return { texts: [...new Set(found[of]())].sort(), closed: false };
  }, [of, words, taxes, lists, declared]);
}

/** What items may be described by. */
export const useAttributes = (): readonly AttributeTerms[] => useRegister('attributes').rows;
