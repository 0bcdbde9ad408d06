/** What parts of a record are called in a message, where that is not their own name. */
const WORDS: Readonly<Record<string, string>> = {
  uplift: 'uplift row',
  rungs: 'rung',
  rows: 'break',
  guards: 'guard',
  lines: 'line',
  changes: 'change',
  after: 'price',
  handSet: 'typed price',
  lastDay: 'last day',
  downUntil: 'down before',
  upFrom: 'up from',
  scope: 'only for',
  packUnits: 'units in the cost pack',
};

/** "uplift[1].value" as "uplift row 2, value": nobody has to read a path. */
export function pathWords(path: string): string {
  return path
    .split('.')
    .filter((part) => part !== '')
    .map((part) => {
      const [, name = part, at] = /^([^[]+)(?:\[(\d+)\])?$/.exec(part) ?? [];
      const words = WORDS[name] ?? name.replace(/Id$/, '').replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`);
      return at === undefined ? words : `${words} ${Number(at) + 1}`;
    })
    .join(', ');
}

export interface Fault {
  readonly path: string;
  readonly message: string;
}

/** Faults in one line, each with where it is in words. */
export const faultWords = (faults: readonly Fault[] | undefined): string =>
  (faults ?? []).map((f) => [pathWords(f.path), f.message].filter((t) => t !== '').join(': ')).join('; ');

/** What is wrong in one row of a record, told in that row. */
export function RowFaults({ faults, of }: { faults: readonly Fault[] | undefined; of: string }) {
  const here = (faults ?? []).filter((f) => f.path === of || f.path.startsWith(`${of}.`));
  return here.map((f) => (
    <div key={f.path} role="alert" className="text-xs text-stop">
      {[pathWords(f.path.slice(of.length)), f.message].filter((t) => t !== '').join(' ')}
    </div>
  ));
}
