import type { FindingPlace, ShownFinding } from '#contract/findings.ts';
import { FINDINGS } from '#core/checks/finding.ts';
import { REGISTER_OF, placeOf as addressOf } from '#contract/places.ts';
import type { PointedTo } from '#contract/records/declare.ts';
import { MEMBERS } from '#contract/records/kinds.ts';
import type { Finding } from '#core/checks/finding.ts';
import type { Prepared } from '#core/workspace/prepared.ts';

/** Members that are looked at record by record. */
const OPENED: ReadonlySet<string> = new Set([...Object.keys(REGISTER_OF), ...MEMBERS, 'breaks', 'floors']);

const openedAt = (member: string, id: string): string | null =>
  OPENED.has(member) ? addressOf(REGISTER_OF[member as PointedTo] ?? member, id) : null;

const WORDS: Readonly<Record<string, string>> = {
  uplift: 'uplift row',
  rungs: 'rung',
  entries: 'entry',
  rows: 'break',
};

const COUNTED: ReadonlySet<string> = new Set(['rungs', 'rows']);

interface Named {
  readonly id?: string;
  readonly name?: string;
  readonly sku?: string;
}
/** By the rows: each finding names some of them, and there may be many of both. */
const byId = new WeakMap<readonly Named[], ReadonlyMap<string | undefined, Named>>();

function recordOf(ws: Prepared, member: string, id: string): Named | undefined {
  if (member === 'items') return ws.items.get(id);
  const rows = (ws.workspace as unknown as Record<string, readonly Named[]>)[member];
  if (!Array.isArray(rows)) return undefined;
  const known = byId.get(rows) ?? new Map(rows.map((r: Named) => [r.id, r]));
  byId.set(rows, known);
  return known.get(id);
}

/** A path into the workspace ("recipes/7/uplift/3") as a title and an address. */
export function placeOf(ws: Prepared, path: string): FindingPlace {
  const [member = '', id = '', part, partId] = path.split('/');
  const record = recordOf(ws, member, id);
  const name = record?.name ?? record?.sku ?? `${member} ${id}`;
  // rows without an id of their own are named by their place, counted from 0
  const number = partId && COUNTED.has(part ?? '') ? String(Number(partId) + 1) : partId;
  const inside = part ? `, ${WORDS[part] ?? part}${number ? ` ${number}` : ''}` : '';
  if (member === 'items') return { title: `${record?.sku ?? id}${inside}`, to: record ? addressOf('items', id) : null };
  if (member === 'lists' && part === 'entries') return { title: `${name}${inside}`, to: addressOf('entries', partId!) };
  return { title: `${name}${inside}`, to: record ? openedAt(member, id) : null };
}

/** The lists a finding is about: those it names, and those that its recipes and ladders price. */
function listsOf(ws: Prepared, f: Finding): string[] {
  const out = new Set<string>();
  for (const path of f.places) {
    const [member, id = ''] = path.split('/');
    for (const l of ws.workspace.lists)
      if (
        (member === 'lists' && l.id === id) ||
        (member === 'recipes' && (l.recipe === id || l.recipes?.some((r) => r.recipe === id))) ||
        (member === 'ladders' && (l.ladder === id || ws.recipes.get(l.recipe ?? '')?.ladder === id)) ||
        (member === 'breaks' && ws.workspace.breaks.find((b) => b.id === id)?.list === l.id)
      )
        out.add(l.name);
  }
  return [...out];
}

/** A finding with all its places named; its message follows from its code. */
export type FoundThing = Omit<ShownFinding, 'message' | 'morePlaces'>;

export function named(ws: Prepared, f: Finding): FoundThing {
  return {
    code: f.code,
    places: f.places.map((p) => placeOf(ws, p)),
    lists: listsOf(ws, f),
    items: f.items,
    customers: f.customers ?? null,
    example: Object.entries(f.example).map(([fact, value]) => ({ fact, value })),
  };
}

/** Places that are told of one finding. */
const MOST_PLACES = 4;

export const shown = (f: FoundThing): ShownFinding => ({
  ...f,
  message: FINDINGS[f.code],
  places: f.places.slice(0, MOST_PLACES),
  morePlaces: Math.max(0, f.places.length - MOST_PLACES),
});
