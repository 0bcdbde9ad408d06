import { setImmediate } from 'node:timers/promises';
import type { BuildUp, ListPriceRow, ListPrices } from '#contract/lists.ts';
import { eq } from 'drizzle-orm';
import { type Dec, dec, money, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { wording } from '#core/reasons.ts';
import { type PriceQuestion, costOnList, marginAt } from '#core/lists/achieved.ts';
import { computePrice } from '#core/lists/list-price.ts';
import type { Prepared, PriceList } from '#core/workspace/index.ts';
import { askedPrice } from './asked-price.ts';
import { type ComputedRow, ListComputation } from './compute-rows.ts';
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

/** The computed part of a row; nothing of it is shown to those who may not see costs. */
function computedPart(ws: Prepared, q: PriceQuestion, posted: string | null, row: ComputedRow) {
  const found = costOnList(ws, q);
  const known = found.ok && (posted !== null || row.proposed !== null) ? found.value : null;
  return {
    ...row,
    // what the page needs to work out the margin of a price while it is typed
    taxFactor: known ? plain(known.terms.taxFactor) : null,
    depositShown: known ? plain(known.terms.depositShown) : null,
    bit: [...row.bit],
    cost: known ? plain(known.cost) : null,
    changePercent: row.proposed === null ? null : priceChange(posted, row.proposed),
    marginBefore: posted !== null && known ? twoPlaces(marginAt(known, dec(posted))) : null,
  };
}

const HIDDEN = {
  proposed: null,
  reason: null,
  cost: null,
  taxFactor: null,
  depositShown: null,
  uplift: null,
  changePercent: null,
  marginBefore: null,
  marginAfter: null,
  flag: null,
  bit: [] as string[],
  wouldFallTo: null,
};

/** What was computed for a state that is still kept: it goes when the state goes. */
const computed = new WeakMap<Loaded, Map<string, Promise<ListPrices>>>();

/** Every price of a list on a day: posted beside computed. Computed once for a state of the workspace. */
export async function listPrices(loaded: Loaded, listId: string, showCost: boolean): Promise<ListPrices> {
  const known = computed.get(loaded) ?? new Map<string, Promise<ListPrices>>();
  computed.set(loaded, known);
  const key = `${listId}/${showCost}`;
  const kept = known.get(key);
  if (kept) return kept;
  const made = computeList(loaded, listId, showCost);
  known.set(key, made);
  made.catch(() => known.delete(key));
  return made;
}

/** Gives way to other requests while it computes. */
async function computeList(loaded: Loaded, listId: string, showCost: boolean): Promise<ListPrices> {
  const { ws, day, revision } = loaded;
  const list = findList(ws, listId);
  const decimals = ws.decimalsOf(list);
  const rows: ListPriceRow[] = [];
  const summary = { priced: 0, up: 0, down: 0, unchanged: 0, without: 0, held: 0, weightedNote: null };
  const computation = showCost ? new ListComputation(loaded, list) : null;
  let done = 0;
  let slow = 0;
  for (const item of ws.workspace.items) {
    for (const pack of item.packs) {
      const posted = ws.postedFor(list.id, item, pack.id, day);
      const price = posted ? money(dec(posted.price!), decimals) : null;
      const q = { item: item.id, pack: pack.id, list: list.id, day };
      const part = computation ? computedPart(ws, q, price, await computation.row(item.id, pack.id)) : HIDDEN;
      const { asked, explained } = askedPrice(ws, list, item, pack, day, price);
      if (explained && ++slow % 100 === 0) await setImmediate();
      rows.push({
        item: item.id,
        pack: pack.id,
        sku: item.sku,
        name: item.name,
        category: ws.categories.get(item.category)?.name ?? '',
        packName: pack.name,
        posted: price,
        postedFrom: posted?.from ?? null,
        handSet: posted?.handSet?.reason ?? null,
        handSetLastDay: posted?.handSet?.lastDay ?? null,
        ...asked,
        ...part,
      });
      if (part.flag === 'floor_above_ceiling') summary.held++;
      if (part.proposed === null) summary.without++;
      else {
        summary.priced++;
        if (price === null || dec(part.proposed).gt(price)) summary.up++;
        else if (dec(part.proposed).lt(price)) summary.down++;
        else summary.unchanged++;
      }
      if (++done % 100 === 0) await setImmediate();
    }
  }
  return {
    list: {
      id: list.id,
      version: list.version,
      name: list.name,
      currency: list.currency,
      taxIn: list.taxIn,
      decimals,
      recipe: showCost ? list.recipe : null,
      recipeName: showCost && list.recipe ? (ws.recipes.get(list.recipe)?.name ?? null) : null,
    },
    day,
    revision,
    rows,
    summary,
  };
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
      lastDay: postingLines.handSetLastDay,
    })
    .from(postingLines)
    .innerJoin(postings, eq(postings.id, postingLines.postingId))
    .innerJoin(people, eq(people.id, postings.postedBy))
    .where(eq(postingLines.id, posted?.entry ?? 0));
  const found = showCost ? computePrice(ws, { item: itemId, pack: packId, list: listId, day }) : null;
  return {
    item: { id: item.id, sku: item.sku, name: item.name },
    pack: { id: pack.id, name: pack.name, units: pack.units },
    list: { id: list.id, name: list.name, currency: list.currency, taxIn: list.taxIn },
    day,
    posted: line?.after
      ? {
          price: money(dec(line.after), decimals),
          from: line.effective,
          posting: String(line.posting),
          by: line.by,
          at: line.at.toISOString(),
          reason: line.reason,
          handSet: line.handSet === null ? null : { reason: line.handSet, lastDay: line.lastDay },
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
