import { type Arranged, type Jump, type Stretch, type Window, readWindow } from '#contract/windows.ts';
import { ValidationError } from 'yup';
import { refused } from '../platform/refused.ts';
import { type Arrangeable, arrangedRows } from './arrange.ts';
import { type PackedColumn, shownFigure } from './pack.ts';
import type { Standing } from './standing.ts';

export interface AskedWindow {
  readonly arranged: Arranged;
  readonly stretch: Stretch;
  readonly jump: Jump | null;
}

/** What a window is asked by; refuses what cannot be read. */
export function askedWindow(query: Readonly<Record<string, string>>): AskedWindow {
  try {
    return readWindow(query);
  } catch (error) {
    if (!(error instanceof ValidationError || error instanceof SyntaxError)) throw error;
    const path = error instanceof ValidationError ? (error.path ?? 'filters') : 'filters';
    throw refused('fields_wrong', {}, { faults: [{ path, message: error.message.replace(/^this /, '') }] });
  }
}

/** Orders of a table that were asked for last: stretches of them are asked for one after the other. */
const orders = new WeakMap<object, Map<string, Uint32Array>>();
const MOST_ORDERS = 6;

export function orderOf(of: Arrangeable, arranged: Arranged): Uint32Array {
  const known = orders.get(of.table.columns) ?? new Map<string, Uint32Array>();
  orders.set(of.table.columns, known);
  const key = JSON.stringify([arranged, of.columns.length]);
  const order = known.get(key) ?? arrangedRows(of, arranged);
  known.delete(key);
  known.set(key, order);
  while (known.size > MOST_ORDERS) known.delete(known.keys().next().value!);
  return order;
}

/** The head of an answer: everything but the rows. */
export function headOf(
  { arranged, stretch, jump }: AskedWindow,
  of: Arrangeable,
  standing: Pick<Standing<unknown>, 'state' | 'at' | 'stale'>,
  placeOfKey: (order: Uint32Array) => number | null,
): { head: Omit<Window<never>, 'rows'>; places: Uint32Array } {
  const order = orderOf(of, arranged);
  return {
    head: {
      from: stretch.from,
      fits: order.length,
      total: of.table.rows,
      arrangement: `${standing.state} ${JSON.stringify(arranged)}`,
      place: jump ? placeOf(jump, of, order) : placeOfKey(order),
      at: standing.at,
      stale: standing.stale,
    },
    places: order.subarray(stretch.from, stretch.from + stretch.count),
  };
}

function placeOf(jump: Jump, of: Arrangeable, order: Uint32Array): number | null {
  const column = of.columns.includes(jump.column) ? of.table.columns[jump.column] : undefined;
  if (!column || jump.row >= order.length) return null;
  return jump.to === 'edge' ? edge(column, order, jump) : nextThatStarts(column, order, jump);
}

/** Where a stretch of filled or empty cells ends: the last filled one before a gap, or the first one after it. */
function edge({ codes }: PackedColumn, order: Uint32Array, { row, down }: Jump): number {
  const by = down ? 1 : -1;
  const filled = (at: number) => codes[order[at]!] !== 0;
  const within = (at: number) => at >= 0 && at < order.length;
  const stretch = within(row + by) && filled(row) && filled(row + by);
  let at = row;
  while (within(at + by)) {
    const next = filled(at + by);
    if (stretch && !next) break;
    at += by;
    if (!stretch && next) break;
  }
  return at;
}

/** The next row from the one named on, and round again, whose cell begins with the text; null: none does. */
function nextThatStarts(column: PackedColumn, order: Uint32Array, { row, text }: Jump): number | null {
  const wanted = text.toLowerCase();
  const count = 'words' in column ? column.words.length : column.values.length;
  const good = new Uint8Array(count + 1);
  for (let i = 0; i < count; i++) {
    const shown = 'words' in column ? column.words[i]!.toLowerCase() : shownFigure(column.values[i]!, column.places);
    if (shown.startsWith(wanted)) good[i + 1] = 1;
  }
  for (let n = 0; n < order.length; n++) {
    const at = (row + n) % order.length;
    if (good[column.codes[order[at]!]!] === 1) return at;
  }
  return null;
}

/** Where the row of these ids stands in an order. `ids`: a column of ids for each part of the key. */
export function placeOfIds(order: Uint32Array, key: string | undefined, ids: readonly Uint32Array[]): number | null {
  const wanted = (key ?? '').split('-').map(Number);
  if (!key || wanted.length !== ids.length) return null;
  const at = order.findIndex((place) => ids.every((of, n) => of[place] === wanted[n]));
  return at < 0 ? null : at;
}

/** The text of a place in a column: of rows that are gone by now. */
export function wordAt(of: Arrangeable, column: string, place: number): string {
  const found = of.table.columns[column]!;
  return 'words' in found ? (found.words[found.codes[place]! - 1] ?? '') : '';
}
