import { and, asc, eq, lte } from 'drizzle-orm';
import { type RuleMove, withMoves } from '#core/workspace/to-come.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import type { Queries } from '../platform/database.ts';
import { byRank, readRules } from '../workspace/read-rules.ts';
import { changesToCome } from './tables.ts';

/** The records as they become, of a change that is kept. */
export const movesIn = ({ moves }: { readonly moves: string }): RuleMove[] => JSON.parse(moves) as RuleMove[];

const due = (db: Queries, day: string) =>
  db
    .select({ id: changesToCome.id, version: changesToCome.version, moves: changesToCome.moves })
    .from(changesToCome)
    .where(and(eq(changesToCome.state, 'waiting'), lte(changesToCome.day, day)))
    .orderBy(asc(changesToCome.day), asc(changesToCome.id));

/** Names the changes that hold by a day without standing in the records yet: with the same ones the rules are the same. */
export async function dueName(db: Queries, day: string): Promise<string> {
  return (await due(db, day)).map((c) => `${c.id}.${c.version}`).join(' ');
}

/** The rules of a day: as they are kept, with the changes that begin by then. */
export async function rulesOn(db: Queries, day: string): Promise<Workspace> {
  const rules = await readRules(db);
  const moves = (await due(db, day)).flatMap(movesIn);
  if (moves.length === 0) return rules;
  const then = withMoves(rules, moves);
  return { ...then, lists: byRank(then.lists) };
}
