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

const MOST_SHORT = 65_535;

const codesFor = (distinct: number, rows: number): Uint16Array | Uint32Array =>
  distinct > MOST_SHORT ? new Uint32Array(rows) : new Uint16Array(rows);

/** Gathers the values of one column, row by row. */
interface Gathered<Row> {
  take(row: Row): void;
  packed(): PackedColumn;
}

function gatheredTexts<Row>(text: (row: Row) => string): Gathered<Row> {
  const known = new Map<string, number>([['', 0]]);
  const met: number[] = [];
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
      met.forEach((code, row) => (codes[row] = place[code]!));
      return { codes, words };
    },
  };
}

function gatheredFigures<Row>(figure: (row: Row) => number, places: number): Gathered<Row> {
  const met: number[] = [];
  return {
    take: (row) => met.push(figure(row)),
    packed: () => {
      const all = Float64Array.from(met).sort();
      let count = 0;
      // those that are none stand at the end
      for (const value of all) if (value === value && (count === 0 || all[count - 1] !== value)) all[count++] = value;
      const values = all.slice(0, count);
      const place = new Map<number, number>();
      values.forEach((value, n) => place.set(value, n + 1));
      const codes = codesFor(count, met.length);
      met.forEach((value, row) => (codes[row] = place.get(value) ?? 0));
      return { codes, values, places };
    },
  };
}

/** Packs rows that come one after the other; they themselves are not kept. */
export class Packing<Row> {
  private readonly gathered: ReadonlyMap<string, Gathered<Row>>;
  private rows = 0;

  constructor(columns: readonly PackedBy<Row>[]) {
    this.gathered = new Map(
      columns.map((c) => [c.id, 'text' in c ? gatheredTexts(c.text) : gatheredFigures(c.figure, c.places)]),
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

/** The values of two columns in order, each once, and of both the new places of their own. */
function merged<T>(
  a: ArrayLike<T>,
  b: ArrayLike<T>,
  compare: (x: T, y: T) => number,
): { readonly values: T[]; readonly placesOfA: Uint32Array; readonly placesOfB: Uint32Array } {
  const values: T[] = [];
  const [placesOfA, placesOfB] = [new Uint32Array(a.length + 1), new Uint32Array(b.length + 1)];
  for (let i = 0, j = 0; i < a.length || j < b.length;) {
    const by = i === a.length ? 1 : j === b.length ? -1 : compare(a[i]!, b[j]!);
    values.push(by <= 0 ? a[i]! : b[j]!);
    if (by <= 0) placesOfA[++i] = values.length;
    if (by >= 0) placesOfB[++j] = values.length;
  }
  return { values, placesOfA, placesOfB };
}

function joinedColumn(was: PackedColumn, patch: PackedColumn, from: Int32Array): PackedColumn {
  const codesOf = (distinct: number, placesOfA: Uint32Array, placesOfB: Uint32Array) => {
    const codes = codesFor(distinct, from.length);
    for (let n = 0; n < from.length; n++) {
      const f = from[n]!;
      codes[n] = f < 0 ? placesOfB[patch.codes[-1 - f]!]! : placesOfA[was.codes[f]!]!;
    }
    return codes;
  };
  if ('words' in was && 'words' in patch) {
    const { values, placesOfA, placesOfB } = merged(was.words, patch.words, byWords);
    return { codes: codesOf(values.length, placesOfA, placesOfB), words: values };
  }
  if ('values' in was && 'values' in patch) {
    const { values, placesOfA, placesOfB } = merged(was.values, patch.values, (x, y) => x - y);
    return {
      codes: codesOf(values.length, placesOfA, placesOfB),
      values: Float64Array.from(values),
      places: was.places,
    };
  }
  throw new Error('columns of two kinds under one name');
}

/** A table of rows of another and of a patch to it: `from` names for each row its place there or, counted down from -1, here. */
export function joined(was: PackedTable, patch: PackedTable, from: Int32Array): PackedTable {
  return {
    rows: from.length,
    columns: Object.fromEntries(
      Object.entries(was.columns).map(([id, column]) => [id, joinedColumn(column, patch.columns[id]!, from)]),
    ),
  };
}

/** A figure as it is shown in its column: what a part of it is looked for in. */
export const shownFigure = (value: number, places: number): string => value.toFixed(places);

/** What is handed over to another thread, not copied. */
export const buffersOf = (table: PackedTable): ArrayBuffer[] =>
  Object.values(table.columns).flatMap((c) => [
    c.codes.buffer as ArrayBuffer,
    ...('values' in c ? [c.values.buffer as ArrayBuffer] : []),
  ]);
