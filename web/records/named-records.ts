import { useMemo } from 'react';
import type { NamedRecords } from '#contract/records/found.ts';
import { recordsApi } from './endpoints.ts';

const NONE: NamedRecords[] = [];
const MOST = 5_000;

/** Names of records by "register/id"; those that were known before stay while others are asked for. */
export function useNamesOf(pointed: ReadonlyMap<string, Iterable<string>>): ReadonlyMap<string, string> {
  const of = [...pointed]
    .map(([register, ids]) => ({
      register,
      ids: [...new Set(ids)].sort((a, b) => Number(a) - Number(b)).slice(0, MOST),
    }))
    .filter(({ ids }) => ids.length > 0);
  const { data = NONE } = recordsApi.useRecordsNamedQuery(of, { skip: of.length === 0 });
  return useMemo(
    () => new Map(data.flatMap(({ register, records }) => records.map((r) => [`${register}/${r.id}`, r.name]))),
    [data],
  );
}

/** Names of records of one register by their ids. */
export function useNamedRecords(
  register: string,
  ids: readonly (string | null | undefined)[],
): { readonly get: (id: string) => string | undefined } {
  const names = useNamesOf(new Map([[register, ids.flatMap((id) => id || [])]]));
  return { get: (id) => names.get(`${register}/${id}`) };
}
