import type { InferType } from 'yup';
import { eq } from 'drizzle-orm';
import type { postBody } from '#contract/lists.ts';
import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { Prepared } from '#core/workspace/index.ts';
import { findList } from '../lists/list-prices.ts';
import { priceLists } from '../lists/tables.ts';
import type { Context } from '../platform/context.ts';
import type { Tx } from '../platform/database.ts';
import type { SignedIn } from '../platform/http/session.ts';
import { refused } from '../platform/refused.ts';
import { loadWorkspace } from '../workspace/load-workspace.ts';
import { audit } from './audit.ts';
import { postingLines, postings } from './tables.ts';

type PostBody = InferType<typeof postBody>;
type LineValues = Omit<typeof postingLines.$inferInsert, 'postingId' | 'listId' | 'effective'>;

const CHUNK = 1000;

export async function writeLines(
  tx: Tx,
  head: { postingId: number; listId: number; effective: string },
  lines: readonly LineValues[],
): Promise<void> {
  for (let i = 0; i < lines.length; i += CHUNK)
    await tx.insert(postingLines).values(lines.slice(i, i + CHUNK).map((l) => ({ ...head, ...l })));
}

/**
 * Posts prices of a list from a day on. Everything is computed again inside the transaction: what differs from what
 * the person saw refuses the posting, and names the prices.
 */
export async function postPrices(
  context: Context,
  person: SignedIn,
  listId: number,
  body: PostBody,
  today: string,
): Promise<{ posting: string; lines: number }> {
  if (body.effective < today) throw refused('day_in_the_past', { today });
  return context.db.transaction(async (tx) => {
    // one posting at a time on a list
    const [locked] = await tx
      .select({ id: priceLists.id })
      .from(priceLists)
      .where(eq(priceLists.id, listId))
      .for('update');
    if (!locked) throw refused('not_found', { what: 'The price list', id: String(listId) });
    const ws = new Prepared(await loadWorkspace(tx, body.effective));
    const list = findList(ws, String(listId));
    const decimals = ws.decimalsOf(list);
    const same = (a: string | null, b: string | null) => (a === null || b === null ? a === b : dec(a).eq(b));
    const changed: unknown[] = [];
    let held = 0;
    const lines: LineValues[] = [];
    for (const line of body.lines) {
      const q = { item: line.item, pack: line.pack, list: String(listId), day: body.effective };
      const posted = ws.postedOn(q.list, q.item, q.pack, body.effective);
      const before = posted ? money(dec(posted.price!), decimals) : null;
      const found = computePrice(ws, q);
      const computed = found.ok ? money(found.value.price, decimals) : null;
      if (!same(before, line.before) || (!line.handSet && !same(computed, line.after))) {
        changed.push({
          item: line.item,
          pack: line.pack,
          sku: ws.items.get(line.item)?.sku ?? line.item,
          seen: { before: line.before, after: line.after },
          now: { before, after: computed },
        });
        continue;
      }
      if (!line.handSet && found.ok && found.value.flag === 'floor_above_ceiling') held++;
      if (same(before, line.after) && !line.handSet) continue;
      const achieved = achievedAt(ws, q, dec(line.after));
      const round = (d: Dec | null) => (d ? plain(roundHalfUp(d, 4)) : null);
      lines.push({
        itemId: Number(line.item),
        packId: Number(line.pack),
        before,
        after: money(dec(line.after), decimals),
        cost: achieved.ok ? plain(roundHalfUp(achieved.value.cost, 10)) : null,
        margin: achieved.ok ? round(achieved.value.margin) : null,
        steps: line.handSet ? null : found.ok ? found.value.steps : null,
        handSetReason: line.handSet?.reason ?? null,
        handSetLastDay: line.handSet?.lastDay ?? null,
      });
    }
    if (changed.length > 0)
      throw refused('prices_changed_meanwhile', { count: String(changed.length) }, { current: changed.slice(0, 200) });
    if (held > 0) throw refused('held_lines', { count: String(held) });
    if (lines.length === 0) throw refused('nothing_to_post');
    const at = context.now();
    const [posting] = await tx
      .insert(postings)
      .values({
        listId,
        kind: 'post',
        reason: body.reason,
        effective: body.effective,
        postedBy: person.id,
        postedAt: at,
      })
      .returning({ id: postings.id });
    await writeLines(tx, { postingId: posting!.id, listId, effective: body.effective }, lines);
    await audit(tx, {
      at,
      personId: person.id,
      action: 'posted prices',
      subject: 'postings',
      subjectId: String(posting!.id),
      after: { list: list.name, effective: body.effective, lines: lines.length, reason: body.reason },
    });
    return { posting: String(posting!.id), lines: lines.length };
  });
}
