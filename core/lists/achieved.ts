import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import type { Dec } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { marginOf, markupOf } from '../recipes/markup.ts';
import type { Day, Prepared } from '../workspace/index.ts';
import { shownTerms, toNet } from './terms.ts';

/** One price of one list: which item, which pack, on which day. */
export interface PriceQuestion {
  readonly item: string;
  readonly pack: string;
  readonly list: string;
  readonly day: Day;
}

/** Markup and margin that a shown price achieves against today's landed cost; per cent. */
export function achievedAt(
  ws: Prepared,
  q: PriceQuestion,
  shown: Dec,
): Outcome<{ net: Dec; cost: Dec; markup: Dec | null; margin: Dec | null }> {
  const list = ws.lists.get(q.list);
  const asked = ws.items.get(q.item);
  const item = asked && ws.followed(asked);
  const pack = asked && ws.packOf(asked, q.pack);
  if (!list || !item || !pack) return refusal('unknown_item', 'item', { item: q.item });
  const terms = shownTerms(ws, list, item, pack, q.day);
  if (!terms.ok) return terms;
  const landed = landedCost(ws, item, q.day);
  if (!landed.ok) return landed;
  const x = exchangeOn(ws, ws.workspace.currency, list.currency, ws.rateDay(list, q.day));
  if (!x)
    return refusal('no_exchange_rate', `lists/${list.id}`, {
      from: ws.workspace.currency,
      to: list.currency,
      day: q.day,
    });
  const cost = landed.value.landed.times(x.factor).times(pack.units);
  const net = toNet(terms.value, shown);
  return figure({ net, cost, markup: markupOf(cost, net), margin: marginOf(cost, net) });
}
