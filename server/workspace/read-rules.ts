import { emptyWorkspace } from '#core/workspace/sample.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries } from '../platform/database.ts';
import { readRecipes } from '../recipes/store.ts';
import { readDeclared } from '../records/load.ts';
import { readLadders } from '../rounding/store.ts';
import { type ColumnTable, coreRecords } from '../setup/column-table.ts';
import { readSettings } from '../setup/settings.ts';
import { MEMBER_ROWS } from './member-rows.ts';

/** Lists in the order in which they are read: by rank, among equal ones by number. */
export const byRank = (lists: Workspace['lists']): Workspace['lists'] =>
  [...lists].sort((a, b) => a.rank - b.rank || Number(a.id) - Number(b.id));

type Members = Pick<Workspace, keyof typeof MEMBER_ROWS>;

/** What prices are made from of the records with tables of their own. */
async function readMembers(db: Queries): Promise<Members> {
  const out: Record<string, object[]> = {};
  for (const [member, rows] of Object.entries(MEMBER_ROWS) as [string, ColumnTable][]) {
    const { kind } = rows;
    const known = (await rows.kept(db)).filter((r) => !kind.whileActive || r['active'] === true);
    out[member] = known.map(coreRecords(kind));
  }
  return out as unknown as Members;
}

/** What neither grows with the catalogue nor hangs on a day: everything but items, costs and posted prices. */
export async function readRules(db: Queries): Promise<Workspace> {
  const settings = await readSettings(db);
  const { lists, ...members } = await readMembers(db);
  const { members: declared, entries } = await readDeclared(db);
  return {
    ...emptyWorkspace(),
    currency: settings.currency,
    supplierChoice: settings.supplierChoice,
    listChoice: (settings.more['listChoice'] as Workspace['listChoice'] | undefined) ?? 'first',
    ...members,
    ...declared,
    ladders: await readLadders(db),
    recipes: await readRecipes(db),
    lists: lists.map((l) => ({ ...l, entries: entries.get(l.id) ?? [] })),
  };
}
