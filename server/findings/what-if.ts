import { eq } from 'drizzle-orm';
import type { Item, Workspace } from '#core/workspace/types.ts';
import { items, packs } from '../items/tables.ts';
import type { Db, Tx } from '../platform/database.ts';
import type { Register } from '../setup/register.ts';
import { catalogueOf, readRules } from '../workspace/load-workspace.ts';

/** Ends a transaction that only looked. */
class OnlyLooked extends Error {}

/** What would be otherwise: the rules, and where it is an item that is changed, that item. */
export interface Otherwise {
  readonly rules: Workspace;
  readonly item: Item | null;
}

async function itemIn(tx: Tx, id: number): Promise<Item> {
  const its = await tx.select().from(items).where(eq(items.id, id));
  const own = await tx.select().from(packs).where(eq(packs.itemId, id));
  return catalogueOf({ items: its, packs: own, costs: [] }).items[0]!;
}

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
): Promise<Otherwise> {
  let found: Otherwise | null = null;
  try {
    await db.transaction(async (tx) => {
      await register.check?.(tx, body, id);
      const meant = id === null ? body : ((await register.forMoves?.(tx, id, body)) ?? body);
      const [before] = id === null ? [] : await register.read(tx, id);
      const written = await register.write(tx, id, meant, (before?.version ?? 0) + 1);
      found = { rules: await readRules(tx), item: register.name === 'items' ? await itemIn(tx, written) : null };
      throw new OnlyLooked();
    });
  } catch (error) {
    if (!(error instanceof OnlyLooked)) throw error;
  }
  if (!found) throw new Error('nothing was read');
  return found;
}
