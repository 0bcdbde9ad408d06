export interface Difference {
  readonly path: string;
  readonly before: string;
  readonly after: string;
}

const NONE = '–';
const MOST = 200;

/** Every single fact of a record by its path: "uplift 2, value" → "41". */
function facts(value: unknown, path = ''): [string, string][] {
  if (value === null || value === undefined || value === '') return [[path || 'value', NONE]];
  if (Array.isArray(value)) {
    if (value.every((v) => typeof v !== 'object' || v === null)) return [[path || 'value', value.join('; ') || NONE]];
    return value.flatMap((v, i) => facts(v, `${path} ${i + 1}`.trim()));
  }
  if (typeof value === 'object')
    return Object.entries(value).flatMap(([k, v]) => facts(v, path === '' ? k : `${path}, ${k}`));
  return [[path || 'value', typeof value === 'boolean' ? (value ? 'yes' : 'no') : String(value as string | number)]];
}

/** What differs between two records, fact by fact, and how many facts are the same. */
export function shownDifferences(before: unknown, after: unknown): { rows: Difference[]; same: number } {
  const [a, b] = [
    new Map(before === null || before === undefined ? [] : facts(before)),
    new Map(after === null || after === undefined ? [] : facts(after)),
  ];
  const rows: Difference[] = [];
  let same = 0;
  for (const path of new Set([...a.keys(), ...b.keys()])) {
    const [x, y] = [a.get(path) ?? NONE, b.get(path) ?? NONE];
    if (x === y) same++;
    else if (rows.length < MOST) rows.push({ path, before: x, after: y });
  }
  return { rows, same };
}
