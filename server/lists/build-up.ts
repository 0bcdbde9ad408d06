import type { BuildUp } from '#contract/lists.ts';
import { eq } from 'drizzle-orm';
import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { priceToPost } from '#core/lists/price-to-post.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { stepsOfLine } from '../ledger/rebuilt-steps.ts';
import { postingLines, postings } from '../ledger/tables.ts';
import { people } from '../people/tables.ts';
import type { Db } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import type { Loaded } from '../workspace/state.ts';

const twoPlaces = (d: Dec | null | undefined): string | null => (d ? roundHalfUp(d, 2).toFixed(2) : null);

export function findList(ws: Prepared, id: string): PriceList {
  const list = ws.lists.get(id);
  if (!list) throw refused('not_found', { what: 'The price list', id });
  return list;
}

/** The full derivation of one price, posted and computed. */
export async function buildUpOf(
  db: Db,
  { ws, day }: Loaded,
  listId: string,
  itemId: string,
  packId: string,
  showCost: boolean,
): Promise<BuildUp> {
  const list = findList(ws, listId);
  const item = ws.items.get(itemId);
  const pack = item?.packs.find((p) => p.id === packId);
  if (!item || !pack) throw refused('not_found', { what: 'The item or pack', id: `${itemId}/${packId}` });
  const decimals = ws.decimalsOf(list);
  // who follows a lead has what is posted for it
  const posted = ws.postedFor(listId, item, packId, day);
  const [line] = await db
    .select({
      after: postingLines.after,
      effective: postingLines.effective,
      posting: postings.id,
      by: people.name,
      at: postings.postedAt,
      reason: postings.reason,
      entry: postingLines.id,
      handSet: postingLines.handSetReason,
      lastDay: postingLines.lastDay,
    })
    .from(postingLines)
    .innerJoin(postings, eq(postings.id, postingLines.postingId))
    .innerJoin(people, eq(people.id, postings.postedBy))
    .where(eq(postingLines.id, posted?.entry ?? 0));
  const found = showCost ? priceToPost(ws, { item: itemId, pack: packId, list: listId, day }) : null;
  return {
    item: { id: item.id, sku: item.sku, name: item.name },
    pack: { id: pack.id, name: pack.name, units: pack.units },
    list: { id: list.id, name: list.name, currency: list.currency, taxIn: list.taxIn },
    day,
    posted: line?.after
      ? {
          price: money(dec(line.after), decimals),
          from: line.effective,
          lastDay: line.lastDay,
          posting: String(line.posting),
          by: line.by,
          at: line.at.toISOString(),
          reason: line.reason,
          handSet: line.handSet === null ? null : { reason: line.handSet },
        }
      : null,
    postedSteps: showCost && line ? await stepsOfLine(db, line.entry) : null,
    computed: found?.ok
      ? {
          price: money(found.value.price, decimals),
          recipePrice: money(found.value.recipePrice, decimals),
          steps: found.value.steps,
          costSteps: found.value.costSteps,
          net: plain(found.value.net),
          markup: twoPlaces(found.value.markup),
          margin: twoPlaces(found.value.margin),
          taxInPrice: plain(found.value.taxInPrice),
        }
      : null,
    reason: found && !found.ok ? wording(found.reason) : null,
  };
}
