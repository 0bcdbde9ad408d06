import { type RuleMove, movesBetween } from '#core/workspace/to-come.ts';
import { type Queries, type Tx, withoutTrace } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { refuseWhileLinked } from '../records/links.ts';
import { pointedAs } from '../setup/one-record.ts';
import type { AnyRegister } from '../setup/register.ts';
import { readRules } from '../workspace/read-rules.ts';

export type Body = Readonly<Record<string, unknown>>;

/** What a change to come says: the fields that become another; null: the record is removed. */
export type Change = Body | null;

/** A record without what names it; refused where it is gone. */
export async function bodyOf(db: Queries, r: AnyRegister, id: number): Promise<{ version: number; body: Body }> {
  const [row] = await r.read(db, id);
  if (!row) throw refused('not_found', { what: r.title, id: String(id) });
  const { id: _, version, ...body } = row;
  return { version, body };
}

/** Writes a change into its record, by the way that keeps records. */
export async function apply(tx: Tx, r: AnyRegister, id: number, change: Change): Promise<void> {
  const { version, body } = await bodyOf(tx, r, id);
  if (change === null) {
    if (!r.remove) throw refused('not_removed', { what: r.title });
    await refuseWhileLinked(tx, r.title, pointedAs(r.name), id);
    await r.remove(tx, id);
    return;
  }
  const next = { ...body, ...change };
  await r.check?.(tx, next, id);
  await r.write(tx, id, next, version + 1);
}

/** What each of a record's changes makes of the rules, one on what the one before left; nothing of it stays. */
export function movesOf(
  tx: Tx,
  r: AnyRegister,
  id: number,
  changes: readonly Change[],
  hindered: (at: number, error: unknown) => unknown = (_, error) => error,
): Promise<RuleMove[][]> {
  return withoutTrace(tx, async (inside) => {
    let before = await readRules(inside);
    const out: RuleMove[][] = [];
    for (const [at, change] of changes.entries()) {
      try {
        await apply(inside, r, id, change);
      } catch (error) {
        throw hindered(at, error);
      }
      const after = await readRules(inside);
      out.push(movesBetween(before, after));
      before = after;
    }
    return out;
  });
}
