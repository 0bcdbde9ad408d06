import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import type { Dec } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { marginOf, markupOf } from '../recipes/markup.ts';
import type { Day } from '../numbers/day.ts';
import type { ListsView } from './view.ts';
import { type ShownTerms, shownTerms, toNet } from './terms.ts';

/** One price of one list: which item, which pack, on which day. */
export interface PriceQuestion {
  readonly item: string;
  readonly pack: string;
  readonly list: string;
  readonly day: Day;
  /** The sales channel it is asked through; absent: those of the list. */
  readonly channel?: string | null;
  /** In packs; absent: the least that can be ordered. Entries may count from a quantity on. */
  readonly quantity?: string | null;
}

/** Landed cost of a pack in a list's currency, with the list's terms for it. */
export function costOnList(ws: ListsView, q: PriceQuestion): Outcome<{ cost: Dec; terms: ShownTerms }> {
  const list = ws.lists.get(q.list);
  const asked = ws.items.get(q.item);
  const item = asked && ws.followed(asked);
  const pack = asked && ws.packOf(asked, q.pack);
  if (!list || !item || !pack) return refusal('unknown_item', 'item', { item: q.item });
  const terms = shownTerms(ws, list, item, pack, q.day);
  if (!terms.ok) return terms;
  const landed = landedCost(ws, item, q.day);
  if (!landed.ok) return landed;
  const own = ws.workspace.currency;
  const day = ws.rateDay(list, q.day);
  const x = exchangeOn(ws, own, list.currency, day);
  if (!x) return refusal('no_exchange_rate', `lists/${list.id}`, { from: own, to: list.currency, day });
  return figure({ cost: landed.value.landed.times(x.factor).times(pack.units), terms: terms.value });
}

/** Margin that a shown price achieves against today's landed cost; per cent, null for a price of nothing. */
export function marginAt({ cost, terms }: { cost: Dec; terms: ShownTerms }, shown: Dec): Dec | null {
  return marginOf(cost, toNet(terms, shown));
}

/** Markup and margin that a shown price achieves against today's landed cost; per cent. */
export function achievedAt(
  ws: ListsView,
  q: PriceQuestion,
  shown: Dec,
): Outcome<{ net: Dec; cost: Dec; markup: Dec | null; margin: Dec | null }> {
  const found = costOnList(ws, q);
  if (!found.ok) return found;
  const { cost, terms } = found.value;
  const net = toNet(terms, shown);
  return figure({ net, cost, markup: markupOf(cost, net), margin: marginOf(cost, net) });
}
