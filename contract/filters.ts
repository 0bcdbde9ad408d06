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

const COMPARED = ['<', '>', '<=', '>=', '='] as const;

/** What a filter asks of one column. */
export type Filter =
  | { readonly is: 'empty' }
  /** Of figures: a plain decimal text. */
  | { readonly is: (typeof COMPARED)[number]; readonly number: string }
  /** Of texts, whatever their case: the whole, or a part. */
  | { readonly is: 'same' | 'part'; readonly text: string }
  /** A figure to compare with that cannot be read: nothing fits. */
  | { readonly is: 'unreadable' };

/** Reads a figure that a person wrote as plain decimal text; null: it is none. */
export type ReadNumber = (text: string) => string | null;

/** Figures as they travel: plain decimal texts. */
export const readPlain: ReadNumber = (text) => (/^-?\d+(\.\d+)?$/.test(text) ? text : null);

/** ">10", "<=3.5", "=0" of figures, "=" for nothing, "=word" for the whole text, else a part of it; null: nothing is asked. */
export function readFilter(filter: string, numeric: boolean, read: ReadNumber): Filter | null {
  const text = filter.trim();
  if (text === '') return null;
  if (text === '=') return { is: 'empty' };
  const [, op, rest = ''] = /^(<=|>=|<|>|=)\s*(.+)$/.exec(text) ?? [];
  const is = COMPARED.find((c) => c === op);
  if (is && numeric) {
    const number = read(rest);
    return number === null ? { is: 'unreadable' } : { is, number };
  }
  return is === '=' ? { is: 'same', text: rest.toLowerCase() } : { is: 'part', text: text.toLowerCase() };
}

/** A filter as it travels: its figures plain, whatever the reader's form is. */
export function plainFilter(filter: string, numeric: boolean, read: ReadNumber): string {
  const found = readFilter(filter, numeric, read);
  if (!numeric || !found) return filter.trim();
  if ('number' in found) return `${found.is}${found.number}`;
  return found.is === 'part' ? (read(found.text) ?? found.text) : filter.trim();
}

/** Whether an order, below zero, zero or above it, is what is asked. */
export function fitsOrder(is: (typeof COMPARED)[number], order: number): boolean {
  if (order === 0) return is.endsWith('=');
  return is[0] === (order < 0 ? '<' : '>');
}

/** The words that are looked for, all of them. */
export const wordsOf = (find: string): string[] =>
  find
    .trim()
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
