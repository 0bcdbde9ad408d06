import { and, eq, not } from 'drizzle-orm';
import type { SelfPosted } from '#contract/worksheets.ts';
import { costs } from '../costs/tables.ts';
import { audit } from '../ledger/audit.ts';
import type { Tx } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { readDeclared } from '../records/load.ts';
import { worksheetLists, worksheets } from './tables.ts';

/** What costs came with. */
export type CameWith = { readonly costSheet: number } | { readonly bill: number };

export interface NewWorksheet {
  readonly at: Date;
  readonly person: number;
  readonly reason: string;
  readonly day: string;
  /** In order; at least one. */
  readonly lists: readonly number[];
  /** Absent: about all items. */
  readonly cameWith?: CameWith | undefined;
  readonly byItself?: SelfPosted | undefined;
}

/** Writes a worksheet down; whoever does queues its computation once it is kept. */
export async function writeWorksheet(tx: Tx, made: NewWorksheet): Promise<number> {
  const { at, person, reason, day, lists, cameWith, byItself } = made;
  const costSheetId = cameWith && 'costSheet' in cameWith ? cameWith.costSheet : null;
  const billId = cameWith && 'bill' in cameWith ? cameWith.bill : null;
  const onlyItems = cameWith ? await reachedItems(tx, cameWith) : null;
  const [row] = await tx
    .insert(worksheets)
    .values({ reason, day, madeBy: person, madeAt: at, costSheetId, billId, onlyItems, byItself: byItself ?? null })
    .returning({ id: worksheets.id });
  const worksheetId = row!.id;
  await tx.insert(worksheetLists).values(lists.map((listId) => ({ worksheetId, listId })));
  await audit(tx, {
    at,
    personId: person,
    action: byItself ? 'had prices proposed that post themselves' : 'had prices proposed',
    subject: 'worksheets',
    subjectId: String(worksheetId),
    after: { reason, day, lists: lists.map(String), costSheet: costSheetId, bill: billId, byItself },
  });
  return worksheetId;
}

/** The items whose prices hang on costs that were taken in: theirs, and of lockstep groups all. */
async function reachedItems(tx: Tx, of: CameWith): Promise<number[]> {
  const cameWith = 'bill' in of ? eq(costs.billId, of.bill) : eq(costs.sheetId, of.costSheet);
  const taken = await tx
    .selectDistinct({ item: costs.itemId })
    .from(costs)
    .where(and(cameWith, not(costs.takenBack)));
  if (taken.length === 0) throw refused('nothing_taken_in');
  const { members } = await readDeclared(tx);
  const found = new Set(taken.map((t) => t.item));
  for (const group of members.lockstep) {
    const all = [group.lead, ...group.members].map(Number);
    if (all.some((id) => found.has(id))) for (const id of all) found.add(id);
  }
  return [...found].sort((a, b) => a - b);
}
