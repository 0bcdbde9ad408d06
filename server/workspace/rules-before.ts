import { sql } from 'drizzle-orm';
import type { Workspace } from '#core/workspace/workspace.ts';
import { layers } from '../ledger/tables.ts';
import { type Db, type Tx, databaseOf } from '../platform/database.ts';
import { readRules } from './read-rules.ts';

const kept = new WeakMap<Db, { readonly revision: number; readonly rules: Workspace }>();

/**
 * The rules as a transaction finds them: read once for each revision of them and shared, so nothing in them is to be changed.
 * One that has written already may see what no revision names yet: for it they are read anew.
 */
export async function rulesBefore(tx: Tx): Promise<Workspace> {
  const owner = databaseOf(tx);
  const revision = owner && (await revisionBefore(tx));
  if (owner === null || revision === null) return readRules(tx);
  const known = kept.get(owner);
  if (known?.revision === revision) return known.rules;
  const rules = await readRules(tx);
  // who changed them while they were read has raised it
  if ((await revisionBefore(tx)) === revision) kept.set(owner, { revision, rules });
  return rules;
}

/** The revision of the rules; null: there is none yet, or the transaction has written. */
async function revisionBefore(tx: Tx): Promise<number | null> {
  const [row] = await tx
    .select({ revision: layers.revision })
    .from(layers)
    .where(sql`${layers.name} = 'rules' and pg_current_xact_id_if_assigned() is null`);
  return row?.revision ?? null;
}
