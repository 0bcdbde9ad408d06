import { FACT_NAMES } from '../records/condition.ts';
import type { Field, Fields, PointedTo } from '../records/declare.ts';
import { KINDS, MEMBERS } from '../records/kinds.ts';
import type { Workspace } from '#core/workspace/workspace.ts';

/** Fields that name a record of a member, wherever they stand. */
const NAMES: Readonly<Record<string, PointedTo>> = {
  ...declaredNames(KINDS.map((k) => k.fields)),
  item: 'items',
  category: 'categories',
  parent: 'categories',
  supplier: 'suppliers',
  group: 'groups',
  groups: 'groups',
  customer: 'customers',
  customers: 'customers',
  list: 'lists',
  lists: 'lists',
  ladder: 'ladders',
  recipe: 'recipes',
  region: 'regions',
  regions: 'regions',
  lockstep: 'lockstep',
  pool: 'pools',
  charge: 'charges',
};

/** The fields of declared kinds that name records, however deep they stand. */
function declaredNames(all: readonly Fields[]): Record<string, PointedTo> {
  return Object.assign(
    {},
    ...all.flatMap(Object.entries).map(([name, f]: [string, Field]) => {
      if (f.type === 'one' || f.type === 'many') return { [name]: f.to };
      return f.type === 'rows' || f.type === 'part' ? declaredNames([f.fields]) : {};
    }),
  ) as Record<string, PointedTo>;
}

/** Members whose records share one table, and so one row of numbers. */
const TOGETHER: readonly string[] = MEMBERS;
const ALONE = [
  ...['items', 'categories', 'suppliers', 'groups', 'customers', 'lists', 'ladders', 'recipes', 'breaks', 'floors'],
  'costs',
] as const;

/** Numbers up to here are kept; a database counts on after the highest. */
const MOST = 20_000_000;
const isNumber = (id: string) => /^[1-9]\d{0,9}$/.test(id) && Number(id) <= MOST;

type Numbers = ReadonlyMap<string, string>;

/** Each id as a number of its own: as it is where all are numbers already, else counted. */
function numbersFor(ids: readonly string[]): Numbers {
  const fine = ids.every(isNumber) && new Set(ids).size === ids.length;
  return new Map(ids.map((id, i) => [id, fine ? id : String(i + 1)]));
}

/** Ids of several members that may go by the same text; told apart by their member. */
const own = (member: string, id: string) => `${member}\u0000${id}`;

/**
 * A workspace whose ids are whole numbers, as a database keeps them; a file that came from a database keeps its own.
 * What names a record names it by its new number. Packs and postings are numbered too.
 */
export function renumbered(ws: Workspace): Workspace {
  const raw = ws as unknown as Record<string, readonly { id: string }[]>;
  const numbers = new Map<string, Numbers>();
  for (const m of ALONE) numbers.set(m, numbersFor(raw[m]!.map((r) => r.id)));
  const shared = [
    ...TOGETHER.flatMap((m) => raw[m]!.map((r) => [m, r.id] as const)),
    ...ws.lists.flatMap((l) => (l.entries ?? []).map((e) => [`entries of ${l.id}`, e.id] as const)),
  ];
  const plain = shared.map(([, id]) => id);
  const fine = plain.every(isNumber) && new Set(plain).size === plain.length;
  const sharedNumbers = new Map(shared.map(([m, id], i) => [own(m, id), fine ? id : String(i + 1)]));
  for (const m of TOGETHER) numbers.set(m, new Map(raw[m]!.map((r) => [r.id, sharedNumbers.get(own(m, r.id))!])));
  const packs = ws.items.flatMap((i) => i.packs.map((p) => own(i.id, p.id)));
  const packIds = ws.items.flatMap((i) => i.packs.map((p) => p.id));
  const packsFine = packIds.every(isNumber) && new Set(packIds).size === packIds.length;
  const packNumbers = new Map(packs.map((key, i) => [key, packsFine ? packIds[i]! : String(i + 1)]));
  // a posting is of one list: one that names several becomes several
  const posted = [...ws.posted];
  const postings = [...new Set(posted.map((p) => own(p.list, p.posting)))];
  const postingIds = postings.map((key) => key.split('\u0000')[1]!);
  const postingsFine = postingIds.every(isNumber) && new Set(postingIds).size === postingIds.length;
  const postingNumbers = new Map(postings.map((key, i) => [key, postingsFine ? postingIds[i]! : String(i + 1)]));

  const named = (member: PointedTo, id: string) => numbers.get(member)!.get(id) ?? id;
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(walk);
    if (value === null || typeof value !== 'object') return value;
    const fact = FACT_NAMES[String((value as { fact?: unknown }).fact)];
    return Object.fromEntries(
      Object.entries(value).map(([key, v]) => {
        const to = fact && (key === 'value' || key === 'values') ? fact : NAMES[key];
        if (to && typeof v === 'string') return [key, named(to, v)];
        if (to && Array.isArray(v) && v.every((x) => typeof x === 'string'))
          return [key, v.map((x) => named(to, x as string))];
        // names and values of attributes are nobody's ids
        return [key, key === 'attributes' ? v : walk(v)];
      }),
    );
  };
  const rowsOf = (member: string) =>
    raw[member]!.map((r) => ({ ...(walk(r) as object), id: numbers.get(member)!.get(r.id)! }));
  const out: Record<string, unknown> = { ...(walk(ws) as object) };
  for (const m of [...ALONE, ...TOGETHER]) out[m] = rowsOf(m);
  out['items'] = ws.items.map((i) => ({
    ...(walk(i) as object),
    id: numbers.get('items')!.get(i.id)!,
    packs: i.packs.map((p) => ({ ...p, id: packNumbers.get(own(i.id, p.id))! })),
  }));
  out['lists'] = ws.lists.map((l) => ({
    ...(walk(l) as object),
    id: numbers.get('lists')!.get(l.id)!,
    entries: (l.entries ?? []).map((e) => ({
      ...(walk(e) as object),
      id: sharedNumbers.get(own(`entries of ${l.id}`, e.id))!,
    })),
  }));
  const entries = posted.map((p) => p.entry);
  const entriesFine = new Set(entries).size === entries.length && entries.every((e) => e >= 1 && e <= MOST);
  const inOrder = [...entries.keys()].sort((a, b) => entries[a]! - entries[b]!);
  const places = new Map(inOrder.map((at, i) => [at, i + 1]));
  out['posted'] = posted.map((p, at) => ({
    ...(walk(p) as object),
    pack: packNumbers.get(own(p.item, p.pack)) ?? p.pack,
    posting: postingNumbers.get(own(p.list, p.posting))!,
    entry: entriesFine ? p.entry : places.get(at)!,
  }));
  return out as unknown as Workspace;
}
