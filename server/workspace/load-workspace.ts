import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries } from '../platform/database.ts';
import { rulesOn } from '../to-come/rules-on.ts';
import type { Catalogue } from './catalogue.ts';
import { selectCatalogue } from './catalogue-rows.ts';
import { readPosted } from './posted-rows.ts';

/** Reads everything that prices of one day are made of. Money is selected as text, never through nested rows. */
export async function loadWorkspace(db: Queries, day: string): Promise<Workspace> {
  return { ...(await loadRules(db, day, await selectCatalogue(db, day))), posted: await readPosted(db, day) };
}

/** Everything but posted prices: of a large catalogue those are millions, and are read into columns. */
export async function loadRules(db: Queries, day: string, catalogue: Catalogue): Promise<Workspace> {
  return { ...(await rulesOn(db, day)), ...catalogue };
}
