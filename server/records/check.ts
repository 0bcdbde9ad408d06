import type { FieldFault } from '#contract/fields.ts';
import { referenceFaults } from '#contract/workspace-file/references.ts';
import type { Item, Workspace } from '#core/workspace/index.ts';
import { items } from '../items/tables.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { loadRules } from '../workspace/load-workspace.ts';

/** The rules with the items by name only: enough to see whether what points somewhere points to something. */
async function rulesWithItems(tx: Tx): Promise<Workspace> {
  const rules = await loadRules(tx, { items: [], packs: [], costs: [] });
  const known = await tx.select({ id: items.id }).from(items);
  // no item is looked into: these stand for their ids alone
  return { ...rules, items: known.map((i) => ({ id: String(i.id), packs: [] as Item['packs'] }) as unknown as Item) };
}

/**
 * Refuses what no single field shows, by the same rules as a workspace file: references to nothing, values that do not go
 * together. `put`: the workspace with the record in it, and where it stands there ("$.reductions[4]"); `fieldOf`: what a
 * place in it is called where the record is sent in another form.
 */
export async function refuseFaults(
  tx: Tx,
  put: (ws: Workspace) => { readonly ws: Workspace; readonly at: string },
  fieldOf: (path: string) => string = (path) => path,
): Promise<void> {
  const { ws, at } = put(await rulesWithItems(tx));
  const faults = referenceFaults(ws, at).map((f): FieldFault => {
    const path = f.path.slice(at.length).replace(/^\./, '');
    return { path: fieldOf(path), message: `must be ${f.expected}` };
  });
  if (faults.length > 0) throw refused('fields_wrong', {}, { faults });
}
