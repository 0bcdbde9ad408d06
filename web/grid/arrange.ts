import type { Column } from './columns.ts';

export interface Sort {
  readonly column: string;
  readonly down: boolean;
}

export type Filters = Readonly<Record<string, string>>;

/** Compares two plain decimal texts exactly; an empty one comes last. */
export function compareNumbers(a: string, b: string): number {
  if (a === '' || b === '') return a === b ? 0 : a === '' ? 1 : -1;
  const [na, nb] = [a.startsWith('-'), b.startsWith('-')];
  if (na !== nb) return na ? -1 : 1;
  const order = compareSizes(na ? a.slice(1) : a, nb ? b.slice(1) : b);
  return na && order !== 0 ? -order : order;
}

function compareSizes(a: string, b: string): number {
  const [wa = '', pa = ''] = a.split('.');
  const [wb = '', pb = ''] = b.split('.');
  const [x, y] = [wa.replace(/^0+/, ''), wb.replace(/^0+/, '')];
  if (x.length !== y.length) return x.length - y.length;
  if (x !== y) return x < y ? -1 : 1;
  const places = Math.max(pa.length, pb.length);
  const [p, q] = [pa.padEnd(places, '0'), pb.padEnd(places, '0')];
  return p === q ? 0 : p < q ? -1 : 1;
}

const collator = new Intl.Collator(undefined, { numeric: true, sensitivity: 'base' });

/** What a filter asks of one column: a number compared (">10", "<=3,5", "=0"), nothing ("="), or a text contained. */
export function matcher(
  filter: string,
  numeric: boolean,
  read: (text: string) => string | null,
): ((value: string) => boolean) | null {
  const text = filter.trim();
  if (text === '') return null;
  if (text === '=') return (v) => v === '';
  const compared = /^(<=|>=|<|>|=)\s*(.+)$/.exec(text);
  if (compared && numeric) {
    const number = read(compared[2]!);
    if (number === null) return () => false;
    const tests: Record<string, (order: number) => boolean> = {
      '<': (o) => o < 0,
      '>': (o) => o > 0,
      '<=': (o) => o <= 0,
      '>=': (o) => o >= 0,
      '=': (o) => o === 0,
    };
    const test = tests[compared[1]!]!;
    return (v) => v !== '' && test(compareNumbers(v, number));
  }
  const wanted = (compared && compared[1] === '=' ? compared[2]! : text).toLowerCase();
  return compared?.[1] === '=' ? (v) => v.toLowerCase() === wanted : (v) => v.toLowerCase().includes(wanted);
}

/** The rows that a filter leaves, in the order of the sort: places in the given array. Sorting is stable. */
export function arrange<Row>(
  rows: readonly Row[],
  columns: readonly Column<Row>[],
  sort: Sort | null,
  filters: Filters,
  everywhere: string,
  read: (text: string) => string | null,
): number[] {
  const tests = columns.flatMap((c) => {
    const test = matcher(filters[c.id] ?? '', c.numeric ?? false, read);
    return test ? [{ c, test }] : [];
  });
  const words = everywhere
    .trim()
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
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
