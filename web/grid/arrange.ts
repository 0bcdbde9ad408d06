import { type ReadNumber, compareNumbers, fitsOrder, readFilter, wordsOf } from '#contract/filters.ts';
import type { Column } from './columns.ts';

export interface Sort {
  readonly column: string;
  readonly down: boolean;
}

export type Filters = Readonly<Record<string, string>>;

const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });

/** What a filter asks of one column as a test of its values; null: nothing. */
export function matcher(filter: string, numeric: boolean, read: ReadNumber): ((value: string) => boolean) | null {
  const asked = readFilter(filter, numeric, read);
  if (!asked) return null;
  switch (asked.is) {
    case 'empty':
      return (v) => v === '';
    case 'unreadable':
      return () => false;
    case 'same':
      return (v) => v.toLowerCase() === asked.text;
    case 'part': {
      const part = numeric ? (read(asked.text) ?? asked.text) : asked.text;
      return (v) => v.toLowerCase().includes(part);
    }
    default:
      return (v) => v !== '' && fitsOrder(asked.is, compareNumbers(v, asked.number));
  }
}

/** The rows that a filter leaves, in the order of the sort: places in the given array. Sorting is stable. */
export function arrange<Row>(
  rows: readonly Row[],
  columns: readonly Column<Row>[],
  sort: Sort | null,
  filters: Filters,
  everywhere: string,
  read: ReadNumber,
): number[] {
  const tests = columns.flatMap((c) => {
    const test = matcher(filters[c.id] ?? '', c.numeric ?? false, read);
    return test ? [{ c, test }] : [];
  });
  const words = wordsOf(everywhere);
  const out: number[] = [];
  rows.forEach((row, i) => {
    if (!tests.every(({ c, test }) => test(c.value(row)))) return;
    if (words.length > 0) {
      const all = columns
        .map((c) => c.value(row))
        .join('\u0000')
        .toLowerCase();
      if (!words.every((w) => all.includes(w))) return;
    }
    out.push(i);
  });
  const column = sort && columns.find((c) => c.id === sort.column);
  if (!sort || !column) return out;
  const values = new Map(out.map((i) => [i, column.value(rows[i]!)]));
  const direction = sort.down ? -1 : 1;
  return out.sort((a, b) => {
    const [x, y] = [values.get(a)!, values.get(b)!];
    // what is empty stays at the end, whichever way
    if (x === '' || y === '') return x === y ? a - b : x === '' ? 1 : -1;
    return direction * (column.numeric ? compareNumbers(x, y) : collator.compare(x, y)) || a - b;
  });
}
