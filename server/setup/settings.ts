import type { Queries } from '../platform/database.ts';
import { workspaceSettings } from './tables.ts';

export type Settings = typeof workspaceSettings.$inferSelect;

export async function readSettings(db: Queries): Promise<Settings> {
  const [row] = await db.select().from(workspaceSettings).limit(1);
  if (!row) throw new Error('the workspace has not been set up');
  return row;
}
