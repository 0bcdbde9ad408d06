import { Growing } from '#core/growing.ts';
import type { Pausable } from '#core/pausable.ts';

/** A column of a table that is arranged here: of texts, '' where there is none, or of figures, NaN where there is none. */
export type PackedBy<Row> = { readonly id: string } & (
  | { readonly text: (row: Row) => string }
  /** Shown with so many decimals. */
  | { readonly places: number; readonly figure: (row: Row) => number }
);

/**
 * A column of many rows as numbers. A row's code is the place of its value among the distinct values in ascending order,
 * counted from 1; 0: it has none. Plain data: it can be sent to another thread.
 */
export type PackedColumn = { readonly codes: Uint16Array | Uint32Array } & (
  | { readonly words: readonly string[] }
  | {
      /** The doubles nearest to the figures. */
      readonly values: Float64Array;
      readonly places: number;
    }
);

/** Many rows, column by column. */
export interface PackedTable {
  readonly rows: number;
  readonly columns: Readonly<Record<string, PackedColumn>>;
}

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
const byWords = (a: string, b: string) => collator.compare(a, b) || (a < b ? -1 : a > b ? 1 : 0);

const ascending = (x: number, y: number) => x - y;

const MOST_SHORT = 65_535;

const codesFor = (distinct: number, rows: number): Uint16Array | Uint32Array =>
  distinct > MOST_SHORT ? new Uint32Array(rows) : new Uint16Array(rows);

/** Gathers the values of one column, row by row. */
interface Gathered<Row> {
  take(row: Row): void;
  packed(): PackedColumn;
}

function gatheredTexts<Row>(text: (row: Row) => string, rows?: number): Gathered<Row> {
  const known = new Map<string, number>([['', 0]]);
  const met = new Growing(Uint32Array, rows);
  return {
    take: (row) => {
      const value = text(row);
      let code = known.get(value);
      if (code === undefined) known.set(value, (code = known.size));
      met.push(code);
    },
    packed: () => {
      const words = [...known.keys()].slice(1).sort(byWords);
      const place = new Uint32Array(known.size);
      words.forEach((word, n) => (place[known.get(word)!] = n + 1));
      const codes = codesFor(words.length, met.length);
      met.all.forEach((code, row) => (codes[row] = place[code]!));
      return { codes, words };
    },
  };
}

function gatheredFigures<Row>(figure: (row: Row) => number, places: number, rows?: number): Gathered<Row> {
  const met = new Growing(Float64Array, rows);
  return {
    take: (row) => met.push(figure(row)),
    packed: () => {
      const all = met.all.slice().sort();
      let count = 0;
      // those that are none stand at the end
      for (const value of all) if (value === value && (count === 0 || all[count - 1] !== value)) all[count++] = value;
      const values = all.slice(0, count);
      const codes = codesFor(count, met.length);
      // looked for in order: a map of them would be megabytes to throw away
      met.all.forEach((value, row) => (codes[row] = value === value ? placeAmong(values, value, ascending) + 1 : 0));
      return { codes, values, places };
    },
  };
}

/** Packs rows that come one after the other; they themselves are not kept. */
export class Packing<Row> {
  private readonly gathered: ReadonlyMap<string, Gathered<Row>>;
  private rows = 0;

  /** `rows`: how many are expected. */
  constructor(columns: readonly PackedBy<Row>[], rows?: number) {
    this.gathered = new Map(
      columns.map((c) => [c.id, 'text' in c ? gatheredTexts(c.text, rows) : gatheredFigures(c.figure, c.places, rows)]),
    );
  }

  take(row: Row): void {
    this.rows++;
    for (const column of this.gathered.values()) column.take(row);
  }

  packed(): PackedTable {
    return {
      rows: this.rows,
      columns: Object.fromEntries([...this.gathered].map(([id, column]) => [id, column.packed()])),
    };
  }
}

/** Where a value stands among others that are in order, or would: counted from 0. */
function placeAmong<T>(values: ArrayLike<T>, value: T, compare: (x: T, y: T) => number): number {
  let [low, high] = [0, values.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compare(values[middle]!, value) < 0) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** The codes of the rows of a joined column, and the values that are new in it with the places at which they are put in. */
function joinedCodes<T>(
  was: { readonly codes: PackedColumn['codes']; readonly values: ArrayLike<T> },
  patch: { readonly codes: PackedColumn['codes']; readonly values: ArrayLike<T> },
  from: Int32Array,
  compare: (x: T, y: T) => number,
): { readonly codes: PackedColumn['codes']; readonly added: readonly { readonly at: number; readonly value: T }[] } {
  const added: { at: number; value: T }[] = [];
  const places = new Uint32Array(patch.values.length + 1);
  for (let i = 0; i < patch.values.length; i++) {
    const value = patch.values[i]!;
    const at = placeAmong(was.values, value, compare);
    const known = at < was.values.length && compare(was.values[at]!, value) === 0;
    places[i + 1] = at + added.length + 1;
    if (!known) added.push({ at, value });
  }
  // what was known moves up by as many as were put in before it
  const moved = new Uint32Array(was.values.length + 1);
  for (let i = 0, n = 0; i < was.values.length; i++) {
    while (n < added.length && added[n]!.at <= i) n++;
    moved[i + 1] = i + 1 + n;
  }
  const codes = codesFor(was.values.length + added.length, from.length);
  for (let n = 0; n < from.length; n++) {
    const f = from[n]!;
    codes[n] = f < 0 ? places[patch.codes[-1 - f]!]! : moved[was.codes[f]!]!;
  }
  return { codes, added };
}

/** Values in order with others put in. */
function putIn<T>(
  values: ArrayLike<T>,
  added: readonly { readonly at: number; readonly value: T }[],
  put: (n: number, value: T) => void,
): void {
  for (let i = 0, n = 0; i < values.length || n < added.length;)
    if (n < added.length && added[n]!.at === i) put(i + n, added[n++]!.value);
    else put(i + n, values[i++]!);
}

function joinedColumn(was: PackedColumn, patch: PackedColumn, from: Int32Array): PackedColumn {
  if ('words' in was && 'words' in patch) {
    const [a, b] = [
      { codes: was.codes, values: was.words },
      { codes: patch.codes, values: patch.words },
    ];
    const { codes, added } = joinedCodes(a, b, from, byWords);
    if (added.length === 0) return { codes, words: was.words };
    const words: string[] = [];
    putIn(was.words, added, (n, word) => (words[n] = word));
    return { codes, words };
  }
  if ('values' in was && 'values' in patch) {
    const { codes, added } = joinedCodes(was, patch, from, ascending);
    if (added.length === 0) return { codes, values: was.values, places: was.places };
    const values = new Float64Array(was.values.length + added.length);
    putIn(was.values, added, (n, value) => (values[n] = value));
    return { codes, values, places: was.places };
  }
  throw new Error('columns of two kinds under one name');
}

/**
 * A table of rows of another and of a patch to it: `from` names for each row its place there or, counted down from -1, here.
 * To be paused after each column.
 */
export function* joined(was: PackedTable, patch: PackedTable, from: Int32Array): Pausable<PackedTable> {
  const columns: Record<string, PackedColumn> = {};
  for (const [id, column] of Object.entries(was.columns)) {
    columns[id] = joinedColumn(column, patch.columns[id]!, from);
    yield;
  }
  return { rows: from.length, columns };
}

/** A figure as it is shown in its column: what a part of it is looked for in. */
export const shownFigure = (value: number, places: number): string => value.toFixed(places);

/** What is handed over to another thread, not copied. */
export const buffersOf = (table: PackedTable): ArrayBuffer[] =>
  Object.values(table.columns).flatMap((c) => [
    c.codes.buffer as ArrayBuffer,
    ...('values' in c ? [c.values.buffer as ArrayBuffer] : []),
  ]);
