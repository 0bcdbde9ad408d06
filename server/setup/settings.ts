import type { Revisions } from '../ledger/audit.ts';
import type { Db, Queries } from '../platform/database.ts';
import { isPool, prepared } from '../platform/prepared.ts';
import { workspaceSettings } from './tables.ts';

export type Settings = typeof workspaceSettings.$inferSelect;

const settings = prepared((db) => db.select().from(workspaceSettings).limit(1).prepare('settings'));

export async function readSettings(db: Queries): Promise<Settings> {
  const [row] = isPool(db) ? await settings(db) : await db.select().from(workspaceSettings).limit(1);
  if (!row) throw new Error('the workspace has not been set up');
  return row;
}

/** Settings are rules: while those are the same, so are they. */
const kept = new WeakMap<Db, { readonly rules: number; readonly settings: Settings }>();

/** The settings as of a state of the rules, without asking again while that stands. */
export async function settingsAt(db: Db, { rules }: Pick<Revisions, 'rules'>): Promise<Settings> {
  const known = kept.get(db);
  if (known?.rules === rules) return known.settings;
  const settings = await readSettings(db);
  kept.set(db, { rules, settings });
  return settings;
}
