import { useCallback, useMemo, useState, useSyncExternalStore } from 'react';
import type { Filters, Sort } from './arrange.ts';
import { type Arrangement, type Column, arranged, rememberArrangement, rememberedArrangement } from './columns.ts';

const isNarrow = () => innerWidth < 900;
function watchWidth(changed: () => void): () => void {
  addEventListener('resize', changed);
  return () => removeEventListener('resize', changed);
}

/** Which columns a grid shows where, by which it is sorted, and what is looked for in it. */
export function useArrangement<Row>(name: string, columns: readonly Column<Row>[], find: string) {
  const [arrangement, setNow] = useState<Arrangement>(() => rememberedArrangement(name, columns));
  const setArrangement = useCallback(
    (next: Arrangement | ((now: Arrangement) => Arrangement)) =>
      setNow((now) => {
        const then = typeof next === 'function' ? next(now) : next;
        rememberArrangement(name, then);
        return then;
      }),
    [name],
  );
  const [sort, setSort] = useState<Sort | null>(null);
  const [filters, setFilters] = useState<Filters>({});
  const [everywhere, setEverywhere] = useState(find);
  const narrow = useSyncExternalStore(watchWidth, isNarrow);
  const parts = useMemo(() => arranged(columns, arrangement, narrow), [columns, arrangement, narrow]);
  const shown = useMemo(() => [...parts.start, ...parts.middle, ...parts.end], [parts]);
  return { arrangement, setArrangement, sort, setSort, filters, setFilters, everywhere, setEverywhere, parts, shown };
}
