import type { CostProposal, TypedCostBody } from '#contract/typed-costs.ts';
import { costMoves, itemsAlone, reachedBy } from '#core/bulk/price-moves.ts';
import { achievedAt } from '#core/lists/achieved.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { proposeGroupCost } from '#core/lockstep/lockstep.ts';
import { type Dec, dec, plain, roundHalfUp } from '#core/numbers/decimal.ts';
import type { Cost } from '#core/costs/cost.ts';
import { Prepared } from '#core/workspace/prepared.ts';
import { type MoveTally, movesByList, tallyOf } from '../lists/move-tally.ts';
import type { Db } from '../platform/database.ts';
import { refused } from '../platform/refused.ts';
import { workspaceOn } from '../workspace/state.ts';

const twoPlaces = (d: Dec | null) => (d ? plain(roundHalfUp(d, 2)) : null);

/** What a cost would change before it is kept: of a lockstep group every member, each typed price in its way, each list. */
export async function proposeCost(db: Db, body: TypedCostBody, today: string): Promise<CostProposal> {
  const day = body.validFrom > today ? body.validFrom : today;
  const { ws } = await workspaceOn(db, day);
  const item = ws.items.get(body.item);
  if (!item) throw refused('not_found', { what: 'The item', id: body.item });
  const lead = ws.followed(item);
  const cost = { amount: body.amount, currency: body.currency };
  const arriving: Cost = {
    id: 'typed',
    item: lead.id,
    supplier: body.supplier,
    cost,
    reduced: body.reduced ? { amount: body.reduced, currency: body.currency } : null,
    quantityPrices: body.quantityPrices,
    packUnits: body.packUnits,
    from: body.validFrom,
    to: body.validTo ?? null,
    origin: 'typed',
    // known after everything that is
    entry: Number.MAX_SAFE_INTEGER,
  };
  const changes = proposeGroupCost(ws, item.id, { cost, packUnits: body.packUnits, supplier: body.supplier }, day);
  const alone = itemsAlone(ws, reachedBy(ws, [lead.id]));
  const then = new Prepared({ ...alone.workspace, costs: [...alone.workspace.costs, arriving] });
  const byList = new Map<string, MoveTally>();
  for (const move of costMoves(ws, [arriving], day)) tallyOf(byList, move.list).take(move);
  const named = (id: string) => ({ item: id, sku: ws.items.get(id)?.sku ?? id, name: ws.items.get(id)?.name ?? '' });
  return {
    day,
    group: ws.lockstepOf(item.id)?.name ?? null,
    lead: named(lead.id),
    members: changes.map((c) => ({
      ...named(c.item),
      before: c.before && { ...c.before, packUnits: c.packUnitsBefore ?? '1' },
    })),
    handSet: (changes[0]?.handSet ?? []).map((h) => {
      const q = { list: h.list, item: lead.id, pack: h.pack, day };
      const left = (of: Prepared) => {
        const found = achievedAt(of, q, dec(h.price));
        return found.ok ? found.value.margin : null;
      };
      const recipe = computePrice(then, q);
      const wanted = recipe.ok ? achievedAt(then, q, recipe.value.recipePrice) : null;
      const [before, after] = [left(alone), left(then)];
      const target = wanted?.ok ? wanted.value.margin : null;
      return {
        list: h.list,
        listName: ws.lists.get(h.list)?.name ?? h.list,
        pack: lead.packs.find((p) => p.id === h.pack)?.name ?? h.pack,
        price: h.price,
        reason: h.reason,
        marginBefore: twoPlaces(before),
        marginAfter: twoPlaces(after),
        marginOfRecipe: twoPlaces(target),
        squeezed: after !== null && target !== null && after.lt(target),
      };
    }),
    lists: movesByList(ws, byList),
  };
}
