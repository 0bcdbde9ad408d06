import type { Workspace } from '#core/workspace/workspace.ts';

/** What differs in one member of two workspaces. */
export interface MemberDifference {
  /** "items", "recipes", or "settings" for what holds for the whole. */
  member: string;
  added: number;
  gone: number;
  changed: number;
  same: number;
  /** The first of those that differ, by name, with what became of them. */
  examples: { name: string; what: 'added' | 'gone' | 'changed' }[];
}

type Row = Readonly<Record<string, unknown>>;
const EXAMPLES = 10;

/** What tells the rows of a member apart; most have an id. */
const KEYS: Readonly<Record<string, (row: Row) => string>> = {
  rates: (r) => `${String(r['from'])}→${String(r['to'])} ${String(r['day'])}`,
  taxes: (r) => `${String(r['taxClass'])} ${String(r['region'] ?? '')} ${String(r['from'])}`,
  posted: (r) => `${String(r['posting'])}/${String(r['item'])}/${String(r['pack'])}`,
};

const keyOf = (member: string, row: Row): string => KEYS[member]?.(row) ?? String(row['id']);
const nameOf = (member: string, row: Row): string => String(row['sku'] ?? row['name'] ?? keyOf(member, row));

/** Field by field, whatever order they stand in; nothing and not there are the same. */
function canonical(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(canonical);
  if (value === null || typeof value !== 'object') return value;
  const fields = Object.entries(value).filter(([, v]) => v !== null && v !== undefined);
  return Object.fromEntries(fields.sort(([a], [b]) => (a < b ? -1 : 1)).map(([k, v]) => [k, canonical(v)]));
}
const textOf = (value: unknown) => JSON.stringify(canonical(value));

/** What would be added, gone and changed if `next` stood instead of `now`, member by member. */
export function compareWorkspaces(now: Workspace, next: Workspace): MemberDifference[] {
  const settings = ({ currency, supplierChoice, listChoice }: Workspace) => [
    { id: 'settings', name: 'what holds for the whole', currency, supplierChoice, listChoice },
  ];
  const members = Object.entries(next).filter(([, rows]) => Array.isArray(rows)) as [string, Row[]][];
  return [
    difference('settings', settings(now), settings(next)),
    ...members.map(([member, rows]) =>
      difference(member, (now as unknown as Record<string, Row[]>)[member] ?? [], rows),
    ),
  ].filter((d) => d.added + d.gone + d.changed + d.same > 0);
}

function difference(member: string, now: readonly Row[], next: readonly Row[]): MemberDifference {
  const before = new Map(now.map((row) => [keyOf(member, row), row]));
  const out: MemberDifference = { member, added: 0, gone: 0, changed: 0, same: 0, examples: [] };
  const tell = (row: Row, what: 'added' | 'gone' | 'changed') => {
    out[what]++;
    if (out.examples.length < EXAMPLES) out.examples.push({ name: nameOf(member, row), what });
  };
  for (const row of next) {
    const key = keyOf(member, row);
    const old = before.get(key);
    before.delete(key);
    if (!old) tell(row, 'added');
    else if (textOf(old) === textOf(row)) out.same++;
    else tell(row, 'changed');
  }
  for (const row of before.values()) tell(row, 'gone');
  return out;
}
