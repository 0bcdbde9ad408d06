import type { ReactNode } from 'react';

/** All rows are equally high: so a place in the list is a place on the screen. */
export const ROW_HEIGHT = 27;

export type Parsed = { ok: true; value: string } | { ok: false; message: string };

/** A column of a grid. Values are text from end to end: the grid never turns one into a number to keep it. */
export interface Column<Row> {
  readonly id: string;
  readonly title: string;
  readonly width: number;
  /** The text that is kept, compared and edited; '' where there is nothing. */
  readonly value: (row: Row) => string;
  /** How it is drawn; absent: the value itself. */
  readonly draw?: (row: Row, value: string) => ReactNode;
  /** What a copy takes; absent: the value. */
  readonly copied?: (value: string) => string;
  /** What a person types or pastes, as the value to keep; absent: the column is only read. */
  readonly parse?: (text: string, row: Row) => Parsed;
  /** What stands in the editor at first; absent: the value. */
  readonly typed?: (value: string) => string;
  readonly editable?: (row: Row) => boolean;
  readonly align?: 'start' | 'end';
  /** Compared as exact numbers when sorting and filtering. */
  readonly numeric?: boolean;
  readonly frozen?: 'start' | 'end';
  readonly hidden?: boolean;
  /** A band over neighbouring columns. */
  readonly group?: string;
  readonly tone?: (row: Row) => 'proposed' | 'warn' | 'stop' | undefined;
}

export interface Cell {
  readonly row: number;
  readonly col: number;
}

export function editable<Row>(column: Column<Row>, row: Row): boolean {
  return column.parse !== undefined && (column.editable?.(row) ?? true);
}

/** Columns in the order they stand: frozen at the start, the rest, frozen at the end; as the person arranged them. */
export interface Arrangement {
  readonly order: readonly string[];
  readonly hidden: ReadonlySet<string>;
  readonly widths: Readonly<Record<string, number>>;
}

export function startingArrangement<Row>(columns: readonly Column<Row>[]): Arrangement {
  return {
    order: columns.map((c) => c.id),
    hidden: new Set(columns.filter((c) => c.hidden).map((c) => c.id)),
    widths: {},
  };
}

const placeOf = (name: string) => `hard-ledger-columns-${name}`;

/** How this person left the columns of a grid the last time, on this machine; columns that are new since stand as they start. */
export function rememberedArrangement<Row>(name: string, columns: readonly Column<Row>[]): Arrangement {
  const start = startingArrangement(columns);
  try {
    const kept = JSON.parse(localStorage.getItem(placeOf(name)) ?? 'null') as {
      order?: unknown;
      hidden?: unknown;
      widths?: unknown;
    } | null;
    if (!kept || !Array.isArray(kept.order) || !Array.isArray(kept.hidden)) return start;
    const order = kept.order.map(String);
    const widths = Object.entries((kept.widths ?? {}) as Record<string, unknown>).filter(
      (e): e is [string, number] => typeof e[1] === 'number' && e[1] > 0,
    );
    return {
      order: [...order, ...start.order.filter((id) => !order.includes(id))],
      hidden: new Set([...kept.hidden.map(String), ...[...start.hidden].filter((id) => !order.includes(id))]),
      widths: Object.fromEntries(widths),
    };
  } catch {
    // what cannot be read is as good as nothing kept
    return start;
  }
}

export function rememberArrangement(name: string, { order, hidden, widths }: Arrangement): void {
  try {
    localStorage.setItem(placeOf(name), JSON.stringify({ order, hidden: [...hidden], widths }));
  } catch {
    /* a full or forbidden store: the columns stay as they are until the page is left */
  }
}

/** On a narrow page only the first column stays frozen: frozen ones must never cover what is to be read. */
export function arranged<Row>(
  columns: readonly Column<Row>[],
  a: Arrangement,
  narrow = false,
): { start: Column<Row>[]; middle: Column<Row>[]; end: Column<Row>[] } {
  const known = new Map(columns.map((c) => [c.id, c]));
  const order = [
    ...a.order.filter((id) => known.has(id)),
    ...columns.filter((c) => !a.order.includes(c.id)).map((c) => c.id),
  ];
  const shown = order
    .map((id) => known.get(id)!)
    .filter((c) => !a.hidden.has(c.id))
    .map((c) => (a.widths[c.id] ? { ...c, width: a.widths[c.id]! } : c));
  const start = shown.filter((c) => c.frozen === 'start');
  const end = shown.filter((c) => c.frozen === 'end');
  if (narrow)
    return {
      start: start.slice(0, 1),
      middle: [...start.slice(1), ...shown.filter((c) => !c.frozen), ...end],
      end: [],
    };
  return { start, middle: shown.filter((c) => !c.frozen), end };
}

/** Moves a column one place among those of its own part. */
export function moveColumn(a: Arrangement, id: string, by: -1 | 1): Arrangement {
  const order = [...a.order];
  const at = order.indexOf(id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= order.length) return a;
  [order[at], order[to]] = [order[to]!, order[at]!];
  return { ...a, order };
}
