import { type Filter, fitsOrder, readFilter, readPlain, wordsOf } from '#contract/filters.ts';
import type { Arranged } from '#contract/windows.ts';
import { refused } from '../platform/refused.ts';
import { type PackedColumn, type PackedTable, shownFigure } from './pack.ts';

/** What may be asked of a table. */
export interface Arrangeable {
  readonly table: PackedTable;
  /** Columns that this person may sort and filter by. */
  readonly columns: readonly string[];
  /** Those whose texts are searched for words. */
  readonly searched: readonly string[];
  /** The rows of each look, by a bit of their mask; a look that is not named is refused. */
  readonly looks?: { readonly masks: Uint16Array | Uint32Array; readonly bits: Readonly<Record<string, number>> };
}

type Test = (row: number) => boolean;

/** Which distinct values fit: asked once for each, not once for each row. Place 0 stands for no value. */
function fitting(column: PackedColumn, empty: boolean, fits: (value: number) => boolean): Test {
  const count = 'words' in column ? column.words.length : column.values.length;
  const good = new Uint8Array(count + 1);
  good[0] = empty ? 1 : 0;
  for (let i = 0; i < count; i++) good[i + 1] = fits(i) ? 1 : 0;
  return (row) => good[column.codes[row]!] === 1;
}

function testOf(column: PackedColumn, asked: Filter): Test {
  switch (asked.is) {
    case 'empty':
      return fitting(column, true, () => false);
    case 'unreadable':
      return () => false;
    case 'same':
    case 'part': {
      const { is, text } = asked;
      const shown = (i: number) =>
        'words' in column ? column.words[i]!.toLowerCase() : shownFigure(column.values[i]!, column.places);
      return fitting(column, false, (i) => (is === 'same' ? shown(i) === text : shown(i).includes(text)));
    }
    default: {
      if (!('values' in column)) return () => false;
      const { is } = asked;
      const number = Number(asked.number);
      return fitting(column, false, (i) => fitsOrder(is, column.values[i]! - number));
    }
  }
}

/** A word stands in any of the columns. */
function testOfWord(columns: readonly PackedColumn[], word: string): Test {
  const tests = columns.map((c) => testOf(c, { is: 'part', text: word }));
  return (row) => tests.some((fits) => fits(row));
}

/** The rows in the order of a column: equal ones stay as they stood, those without a value come last whichever way. */
function sorted(rows: Uint32Array, { codes, ...of }: PackedColumn, down: boolean): Uint32Array {
  const most = 'words' in of ? of.words.length : of.values.length;
  const place = (row: number) => {
    const code = codes[row]!;
    return code === 0 ? most : down ? most - code : code - 1;
  };
  const next = new Uint32Array(most + 2);
  for (const row of rows) next[place(row) + 1]!++;
  for (let i = 1; i < next.length; i++) next[i]! += next[i - 1]!;
  const out = new Uint32Array(rows.length);
  for (const row of rows) out[next[place(row)]!++] = row;
  return out;
}

/** The rows that fit, in their order: places in the table. Refuses columns and looks that it does not have. */
export function arrangedRows(of: Arrangeable, { sort, down, filters, find, show }: Arranged): Uint32Array {
  const { table } = of;
  const columnOf = (id: string, path: string): PackedColumn => {
    const column = of.columns.includes(id) ? table.columns[id] : undefined;
    if (column) return column;
    const message = `must be one of ${of.columns.join(', ')}`;
    throw refused('fields_wrong', {}, { faults: [{ path, message }] });
  };
  const tests: Test[] = [];
  if (show !== '' && show !== 'all') {
    const bit = of.looks?.bits[show];
    const message = `must be one of ${Object.keys(of.looks?.bits ?? {}).join(', ')}`;
    if (bit === undefined) throw refused('fields_wrong', {}, { faults: [{ path: 'show', message }] });
    const { masks } = of.looks!;
    tests.push((row) => (masks[row]! & bit) !== 0);
  }
  for (const f of filters) {
    const column = columnOf(f.column, 'filters');
    const asked = readFilter(f.filter, 'values' in column, readPlain);
    if (asked) tests.push(testOf(column, asked));
  }
  const searched = of.searched.flatMap((id) => table.columns[id] ?? []);
  for (const word of wordsOf(find)) tests.push(testOfWord(searched, word));
  const fit = new Uint32Array(table.rows);
  let count = 0;
  for (let row = 0; row < table.rows; row++) if (tests.every((fits) => fits(row))) fit[count++] = row;
  const rows = fit.subarray(0, count);
  return sort === '' ? rows.slice() : sorted(rows, columnOf(sort, 'sort'), down);
}
