import { type Db, type Tx, inTransaction } from '../platform/database.ts';
import { holdState, revisionOf } from './audit.ts';

/** Somebody changed what prices are made from while the work was done. */
class MovedOn extends Error {}

/** How often work is done beside that of others before everybody else waits for it from its beginning. */
const TRIES = 3;

/**
 * Does work in a transaction while others go on with theirs. Before it writes its audit entries it calls `unmoved`: from then
 * on nobody may change anything, and if somebody has since the work began, it is undone and done again.
 */
export async function besideOthers<T>(db: Db, work: (tx: Tx, unmoved: () => Promise<void>) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt++)
    try {
      return await inTransaction(db, async (tx) => {
        if (attempt === TRIES) await holdState(tx);
        const seen = await revisionOf(tx);
        return work(tx, async () => {
          await holdState(tx);
          if ((await revisionOf(tx)) !== seen) throw new MovedOn();
        });
      });
    } catch (error) {
      if (!(error instanceof MovedOn)) throw error;
    }
}
