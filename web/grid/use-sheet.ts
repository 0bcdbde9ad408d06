import { useCallback, useMemo, useRef, useState, useSyncExternalStore } from 'react';
import { type Filters, type Sort, arrange } from './arrange.ts';
import { type Arrangement, type Column, arranged, rememberArrangement, rememberedArrangement } from './columns.ts';
import { type Edit, History, type Plan, type Sheet } from './edits.ts';

export interface SheetOptions<Row> {
  /** Under which the arrangement of the columns is remembered. */
  readonly name: string;
  readonly columns: readonly Column<Row>[];
  readonly rows: readonly Row[];
  readonly keyOf: (row: Row) => string;
  readonly read: (text: string) => string | null;
  /** What is looked for in all columns when the grid is opened. */
  readonly find?: string;
  /** Takes edits to where they are kept; a refusal's message is shown, and the cells go back to what they were. */
  readonly onEdits?: (edits: readonly Edit[]) => Promise<string | null>;
}

const isNarrow = () => innerWidth < 900;
function watchWidth(changed: () => void): () => void {
  addEventListener('resize', changed);
  return () => removeEventListener('resize', changed);
}

/** The state of one grid: what is shown in which order, what was changed, what can be undone. */
export function useSheet<Row>({ name, columns, rows, keyOf, read, onEdits, find = '' }: SheetOptions<Row>) {
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
  const [notice, setNotice] = useState<string | null>(null);
  /** Values that have been entered and are not yet in the rows; by row key and column. */
  const [pending, setPending] = useState<ReadonlyMap<string, string>>(new Map());
  const history = useRef(new History());

  const narrow = useSyncExternalStore(watchWidth, isNarrow);
  const parts = useMemo(() => arranged(columns, arrangement, narrow), [columns, arrangement, narrow]);
  const shown = useMemo(() => [...parts.start, ...parts.middle, ...parts.end], [parts]);
  const order = useMemo(
    () => arrange(rows, columns, sort, filters, everywhere, read),
    [rows, columns, sort, filters, everywhere, read],
  );

  const sheet = useMemo((): Sheet<Row> => {
    const rowAt = (r: number) => rows[order[r]!]!;
    return {
      columns: shown,
      size: { rows: order.length, cols: shown.length },
      rowAt,
      keyOf,
      valueAt: (r, c) => {
        const row = rowAt(r);
        const column = shown[c]!;
        return pending.get(`${keyOf(row)}\u0000${column.id}`) ?? column.value(row);
      },
    };
  }, [rows, order, shown, keyOf, pending]);

  const send = useCallback(
    async (edits: readonly Edit[]) => {
      if (edits.length === 0 || !onEdits) return;
      const ids = edits.map((e) => `${e.key}\u0000${e.column}`);
      setPending((now) => {
        const next = new Map(now);
        edits.forEach((e, i) => next.set(ids[i]!, e.after));
        return next;
      });
      const refusal = await onEdits(edits);
      if (refusal !== null) setNotice(refusal);
      setPending((now) => {
        const next = new Map(now);
        edits.forEach((e, i) => next.get(ids[i]!) === e.after && next.delete(ids[i]!));
        return next;
      });
    },
    [onEdits],
  );

  const carryOut = useCallback(
    (plan: Plan) => {
      const first = plan.refused[0];
      setNotice(
        first
          ? `${plan.refused.length === 1 ? 'One cell was' : `${plan.refused.length} cells were`} not taken. Row ${first.row + 1}, ${first.column}: ${first.message}`
          : plan.skipped > 0 && plan.edits.length > 0
            ? `${plan.edits.length} cells changed; ${plan.skipped} can only be read and were left alone.`
            : null,
      );
      history.current.record(plan.edits);
      void send(plan.edits);
    },
    [send],
  );

  return {
    sheet,
    parts,
    order,
    arrangement,
    setArrangement,
    sort,
    filters,
    everywhere,
    notice,
    setNotice,
    carryOut,
    setSort,
    setFilters,
    setEverywhere,
    undo: useCallback(() => void send(history.current.undo() ?? []), [send]),
    redo: useCallback(() => void send(history.current.redo() ?? []), [send]),
  };
}

export type SheetState<Row> = ReturnType<typeof useSheet<Row>>;
