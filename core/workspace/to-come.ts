import type { PriceList } from '../lists/price-list.ts';
import type { Workspace } from './workspace.ts';

/** Members of a workspace whose records change as a whole, from a day on. What has days of its own is not among them. */
const MEMBERS = [
  ...(['suppliers', 'categories', 'ladders', 'recipes', 'lists', 'groups', 'customers'] as const),
  ...(['breaks', 'floors', 'regions', 'reductions', 'pools', 'rules', 'charges'] as const),
] as const satisfies readonly (keyof Workspace)[];
type Member = (typeof MEMBERS)[number];

/** One record as it becomes; null: it is there no longer. */
export interface RuleMove {
  readonly member: Member;
  readonly id: string;
  readonly becomes: { readonly id: string } | null;
}

type Row = { readonly id: string };

/** Entries of a list have days of their own, and stay what they are when the list changes. */
function alone(member: Member, row: Row): Row {
  if (member !== 'lists') return row;
  const list: PriceList = { ...(row as PriceList), entries: [] };
  return list;
}

const text = (member: Member, row: Row | undefined): string => (row ? JSON.stringify(alone(member, row)) : '');

/** Which records are another, gone or new in the second of two sets of rules. */
export function movesBetween(before: Workspace, after: Workspace): RuleMove[] {
  return MEMBERS.flatMap((member) => {
    const [was, is] = [before, after].map((ws) => new Map((ws[member] as readonly Row[]).map((r) => [r.id, r])));
    const ids = new Set([...was!.keys(), ...is!.keys()]);
    return [...ids]
      .filter((id) => text(member, was!.get(id)) !== text(member, is!.get(id)))
      .map((id): RuleMove => {
        const row = is!.get(id);
        return { member, id, becomes: row ? alone(member, row) : null };
      });
  });
}

/** The rules once these records are what they become, each in its place; one after the other. */
export function withMoves(rules: Workspace, moves: readonly RuleMove[]): Workspace {
  return moves.reduce((ws, { member, id, becomes }) => {
    const rows = ws[member] as readonly Row[];
    const at = rows.findIndex((r) => r.id === id);
    if (becomes === null) return { ...ws, [member]: rows.filter((r) => r.id !== id) };
    if (at < 0) return { ...ws, [member]: [...rows, becomes] };
    // its fields stay in their order: the same rules are the same text
    const { entries } = rows[at] as Partial<PriceList>;
    const next: Row & Partial<PriceList> = entries ? { ...becomes, entries } : becomes;
    return { ...ws, [member]: rows.with(at, next) };
  }, rules);
}
