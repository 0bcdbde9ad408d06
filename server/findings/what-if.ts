import type { Workspace } from '#core/workspace/types.ts';
import type { Db } from '../platform/database.ts';
import type { Register } from '../setup/register.ts';
import { loadRules } from '../workspace/load-workspace.ts';

/** Ends a transaction that only looked. */
class OnlyLooked extends Error {}

/**
 * The rules as they would be with a record kept as it was sent, by the way that keeps it; nothing of it stays. Refused as
 * keeping it would be. Holds who else changes rules only for the moment of writing it: what grows with the catalogue is not
 * read here.
 */
export async function rulesWith<B extends object>(
  db: Db,
  register: Register<B>,
  id: number | null,
  body: B,
): Promise<Workspace> {
  let found: Workspace | null = null;
  try {
    await db.transaction(async (tx) => {
      await register.check?.(tx, body, id);
      const [before] = id === null ? [] : await register.read(tx, id);
      await register.write(tx, id, body, (before?.version ?? 0) + 1);
      found = await loadRules(tx, { items: [], packs: [], costs: [] });
      throw new OnlyLooked();
    });
  } catch (error) {
    if (!(error instanceof OnlyLooked)) throw error;
  }
  if (!found) throw new Error('nothing was read');
  return found;
}
