import { useCallback, useMemo, useRef, useState } from 'react';
import { arrange } from './arrange.ts';
import type { Column } from './columns.ts';
import { type Edit, History, type Plan, type Sheet } from './edits.ts';
import type { Rows } from './rows.ts';
import { useArrangement } from './use-arrangement.ts';

export interface GridOptions<Row> {
  /** Under which the arrangement of the columns is remembered. */
  readonly name: string;
  readonly columns: readonly Column<Row>[];
  readonly keyOf: (row: Row) => string;
  readonly read: (text: string) => string | null;
  /** What is looked for in all columns when the grid is opened. */
  readonly find?: string;
  /** Takes edits to where they are kept; a refusal's message is shown, and the cells go back to what they were. */
  readonly onEdits?: (edits: readonly Edit[]) => Promise<string | null>;
}

/** The state of one grid whose rows are all at hand: what is shown in which order, what was changed, what can be undone. */
export function useSheet<Row>({ rows, ...options }: GridOptions<Row> & { readonly rows: readonly Row[] }) {
  const { name, columns, read, find = '' } = options;
  const look = useArrangement(name, columns, find);
  const { sort, filters, everywhere } = look;
  const order = useMemo(
    () => arrange(rows, columns, sort, filters, everywhere, read),
    [rows, columns, sort, filters, everywhere, read],
  );
  const source = useMemo(
    (): Rows<Row> => ({
      count: order.length,
      total: rows.length,
      rowAt: (r) => rows[order[r]!],
      away: null,
    }),
    [rows, order],
  );
  const sheet = useEdits(source, look, options);
  return { ...sheet, order };
}

export type Look<Row> = ReturnType<typeof useArrangement<Row>>;

const cellKey = (row: string, column: string) => `${row}\u0000${column}`;

/** What is shown of rows, and changed in them. */
export function useEdits<Row>(rows: Rows<Row>, look: Look<Row>, { keyOf, onEdits }: GridOptions<Row>) {
  const { shown } = look;
  const [notice, setNotice] = useState<string | null>(null);
  /** Values that have been entered and are not yet in the rows; by row key and column. */
  const [pending, setPending] = useState<ReadonlyMap<string, string>>(new Map());
  const history = useRef(new History());

  const sheetOf = useCallback(
    (rowAt: (r: number) => Row | undefined): Sheet<Row> => ({
      columns: shown,
      size: { rows: rows.count, cols: shown.length },
      rowAt,
      keyOf,
      valueAt: (r, c) => {
        const row = rowAt(r);
        const column = shown[c]!;
        return row === undefined ? '' : (pending.get(cellKey(keyOf(row), column.id)) ?? column.value(row));
      },
    }),
    [rows.count, shown, keyOf, pending],
  );
  const sheet = useMemo(() => sheetOf(rows.rowAt), [sheetOf, rows.rowAt]);

  const { away } = rows;
  const send = useCallback(
    async (edits: readonly Edit[]) => {
      if (edits.length === 0 || !onEdits) return;
      const ids = edits.map((e) => cellKey(e.key, e.column));
      setPending((now) => {
        const next = new Map(now);
        edits.forEach((e, i) => next.set(ids[i]!, e.after));
        return next;
      });
      const refusal = await onEdits(edits);
      if (refusal !== null) setNotice(refusal);
      // what was kept is shown as it was entered until it is read again
      else await away?.again();
      setPending((now) => {
        const next = new Map(now);
        edits.forEach((e, i) => next.get(ids[i]!) === e.after && next.delete(ids[i]!));
        return next;
      });
    },
    [onEdits, away],
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

  /** Does something with rows, `last` included: at once where they are at hand, else once they have been fetched. */
  const reach = useCallback(
    (first: number, last: number, then: (sheet: Sheet<Row>) => void) => {
      let missing = false;
      if (away) for (let r = first; r <= last && !missing; r++) missing = rows.rowAt(r) === undefined;
      if (!missing || !away) return then(sheet);
      setNotice(`Reading ${last - first + 1} rows …`);
      away.fetch(first, last).then(
        (found) => {
          setNotice(null);
          then(sheetOf((r) => found.get(r) ?? rows.rowAt(r)));
        },
        (error: unknown) => setNotice(error instanceof Error ? error.message : String(error)),
      );
    },
    [rows, away, sheet, sheetOf],
  );

  return {
    ...look,
    sheet,
    away,
    total: rows.total,
    notice,
    setNotice,
    carryOut,
    reach,
    undo: useCallback(() => void send(history.current.undo() ?? []), [send]),
    redo: useCallback(() => void send(history.current.redo() ?? []), [send]),
  };
}

export type SheetState<Row> = ReturnType<typeof useEdits<Row>>;
