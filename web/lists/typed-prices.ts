import { type Dispatch, type SetStateAction, useCallback, useState } from 'react';

type Typed = ReadonlyMap<string, string>;

const placeOf = (list: string) => `hard-ledger typed prices ${list}`;

function kept(list: string): Typed {
  try {
    return new Map(JSON.parse(sessionStorage.getItem(placeOf(list)) ?? '[]') as [string, string][]);
  } catch {
    return new Map();
  }
}

/** Prices typed over computed ones and not posted yet: they stay when the day changes or the page is left, until they are posted or dropped. */
export function useTypedPrices(list: string): [Typed, Dispatch<SetStateAction<Typed>>] {
  const [typed, setTyped] = useState<Typed>(() => kept(list));
  const change = useCallback<Dispatch<SetStateAction<Typed>>>(
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
