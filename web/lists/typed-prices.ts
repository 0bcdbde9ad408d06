import { type Dispatch, type SetStateAction, useCallback, useState } from 'react';
import { compareNumbers } from '#contract/filters.ts';
import type { Edit } from '../grid/edits.ts';

/** A price typed over what was computed when it was typed. */
export interface Typed {
  readonly after: string;
  readonly computed: string;
}

/** By the key of the row. */
export type TypedPrices = ReadonlyMap<string, Typed>;

const placeOf = (list: string) => `hard-ledger typed prices of ${list}`;

function kept(list: string): TypedPrices {
  try {
    return new Map(JSON.parse(sessionStorage.getItem(placeOf(list)) ?? '[]') as [string, Typed][]);
  } catch {
    return new Map();
  }
}

/** What was typed, with edits: what is computed anyway was not typed, so that undoing leaves nothing behind. */
export function withEdits(now: TypedPrices, edits: readonly Edit[]): TypedPrices {
  const next = new Map(now);
  for (const { key, before, after } of edits) {
    const computed = next.get(key)?.computed ?? before;
    if (after === '' || (computed !== '' && compareNumbers(after, computed) === 0)) next.delete(key);
    else next.set(key, { after, computed });
  }
  return next;
}

/** Prices typed over computed ones and not posted yet: they stay when the day changes or the page is left, until they are posted or dropped. */
export function useTypedPrices(list: string): [TypedPrices, Dispatch<SetStateAction<TypedPrices>>] {
  const [typed, setTyped] = useState<TypedPrices>(() => kept(list));
  const change = useCallback<Dispatch<SetStateAction<TypedPrices>>>(
    (next) =>
      setTyped((now) => {
        const after = typeof next === 'function' ? next(now) : next;
        if (after.size === 0) sessionStorage.removeItem(placeOf(list));
        else sessionStorage.setItem(placeOf(list), JSON.stringify([...after]));
        return after;
      }),
    [list],
  );
  return [typed, change];
}
