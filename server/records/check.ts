import { inArray } from 'drizzle-orm';
import type { FieldFault } from '#contract/fields.ts';
import { referenceFaults } from '#contract/workspace-file/references.ts';
import type { Item } from '#core/items/item.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { items } from '../items/tables.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { conflictsAt, openPricesAt } from './conflicts.ts';
import { rulesBefore } from '../workspace/rules-before.ts';

/** Every text in a record that may be the number of an item. */
function numbersIn(value: unknown, into = new Set<number>()): Set<number> {
  if (typeof value === 'string' && /^\d{1,9}$/.test(value)) into.add(Number(value));
  else if (value !== null && typeof value === 'object') for (const part of Object.values(value)) numbersIn(part, into);
  return into;
}

/** What stands at a place such as "$.lists[4].entries[2]". */
const valueAt = (ws: Workspace, at: string): unknown =>
  at.match(/[a-z]\w*|\d+/gi)!.reduce<unknown>((value, part) => Reflect.get(Object(value), part), ws);

/** Of a hundred thousand items those that a record may name, by their ids alone: none is looked into. */
async function itemsNamed(tx: Tx, record: unknown): Promise<Item[]> {
  const known = await tx
    .select({ id: items.id })
    .from(items)
    .where(inArray(items.id, [...numbersIn(record)]));
  return known.map((i) => ({ id: String(i.id), packs: [] as Item['packs'] }) as unknown as Item);
}

const placed = (ws: Workspace, at: string) =>
  referenceFaults(ws, at).map(({ path, expected }) => ({ path: path.slice(at.length).replace(/^\./, ''), expected }));

/** What is wrong with the record at a place of a workspace ("$.floors[2]") that has no items yet. */
export const faultsAt = async (tx: Tx, rules: Workspace, at: string): Promise<{ path: string; expected: string }[]> =>
  placed({ ...rules, items: await itemsNamed(tx, valueAt(rules, at)) }, at);

/**
 * Refuses what no single field shows: by the same rules as a workspace file, references to nothing and values that do not go
 * together; and what only a finding tells of a file, where it would tie with another record or leave a price open. `put`: the workspace with the record in it, and where it stands there ("$.reductions[4]").
 */
export async function refuseFaults(
  tx: Tx,
  put: (ws: Workspace) => { readonly ws: Workspace; readonly at: string },
): Promise<void> {
  const rules = await rulesBefore(tx);
  const alone = put(rules);
  const { ws, at } = put({ ...rules, items: await itemsNamed(tx, valueAt(alone.ws, alone.at)) });
  const wrong = placed(ws, at).map((f): FieldFault => ({ path: f.path, message: `must be ${f.expected}` }));
  // what is not sound in itself is told first
  const faults = wrong.length > 0 ? wrong : [...conflictsAt(ws, at), ...(await openPricesAt(tx, ws, at))];
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
}

type Member = Extract<keyof Workspace, string>;
interface Put {
  readonly id?: string;
  readonly entries?: unknown;
}

/** The workspace with a record as it would be instead of what it is, and where it then stands. */
export function putMember(ws: Workspace, member: Member, record: object): { ws: Workspace; at: string } {
  const rows = ws[member] as unknown as readonly Put[];
  const { id } = record as Put;
  const was = id === undefined ? undefined : rows.find((row) => row.id === id);
  const others = rows.filter((row) => row !== was);
  // nothing of what it was stays but the entries of a list: they stand inside of it and are records of their own
  const kept = was?.entries ? { entries: was.entries } : {};
  return { ws: { ...ws, [member]: [...others, { ...kept, ...record }] }, at: `$.${member}[${others.length}]` };
}
