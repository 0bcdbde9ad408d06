import { sql } from 'drizzle-orm';
import type { Db } from '../platform/database.ts';

/** Prices of a posting; what one is followed by after its last day is no price of its own. */
export interface LineCounts {
  readonly lines: number;
  readonly up: number;
  readonly down: number;
}

/** What a posting did is the same for ever: it is counted once. */
const counted = new WeakMap<Db, Map<number, LineCounts>>();

/** So many are remembered: some megabytes. */
const MOST = 50_000;

const NONE: LineCounts = { lines: 0, up: 0, down: 0 };

/** How many prices postings of the ledger put in force, and how many of them rose and fell. */
export async function linesCounted(db: Db, postings: readonly number[]): Promise<(posting: number) => LineCounts> {
  const known = counted.get(db) ?? new Map<number, LineCounts>();
  counted.set(db, known);
  if (known.size > MOST) known.clear();
  const found = new Map<number, LineCounts>();
  for (const id of postings) found.set(id, known.get(id) ?? NONE);
  const fresh = postings.filter((id) => !known.has(id));
  if (fresh.length > 0) {
    const { rows } = await db.execute<{ id: number; lines: number; up: number; down: number }>(sql`
      select l.posting_id as id, count(*)::int as lines,
        (count(*) filter (where l.before is null or l.after > l.before))::int as up,
        (count(*) filter (where l.after is null or l.after < l.before))::int as down
      from posting_lines l join postings h on h.id = l.posting_id and h.effective = l.effective
      where l.posting_id = any(${sql.param(fresh)}::int[]) group by l.posting_id`);
    for (const { id, ...counts } of rows) {
      known.set(id, counts);
      found.set(id, counts);
    }
  }
  return (id) => found.get(id) ?? NONE;
}
