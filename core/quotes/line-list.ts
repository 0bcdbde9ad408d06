import type { Lost } from '../buildup/steps.ts';
import { type Buyer, type ListsMeant, listsMeantFor } from '../lists/choose-list.ts';
import { type ListPrice, type Unposted, priceOnList } from '../lists/list-price.ts';
import { plain } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal, wording } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { QuotesView } from './view.ts';

/** The list that gives an item's price, and those that lost. */
export interface LinePrice {
  readonly listPrice: ListPrice;
  readonly why: string;
  readonly lost: readonly Lost[];
}

interface Asked {
  readonly item: string;
  readonly pack: string;
  readonly day: Day;
  readonly quantity: string;
  readonly channel: string | null;
  readonly unposted: Unposted;
}

/** The lists a quote's lines may be priced from, the best first, and whether the workspace's choice among them counts. */
export interface QuoteLists extends ListsMeant {
  /** The first was chosen by hand: the others answer only where it has no price. */
  readonly byHand: boolean;
}

/**
 * The lists meant for the buyer; one chosen by hand goes before those that come after it, which answer for what it has no
 * price for unless it says that such items are not sold from it.
 */
export function listsFor(
  ws: QuotesView,
  buyer: Buyer,
  chosen: string | null | undefined,
  day: Day,
): Outcome<QuoteLists> {
  const meant = listsMeantFor(ws, buyer, day);
  if (chosen) {
    const list = ws.lists.get(chosen);
    if (!list) return refusal('unknown_list', 'list', { list: chosen });
    const at = meant.candidates.findIndex((c) => c.list === list);
    const behind = meant.candidates.slice(at + 1);
    const passed = meant.candidates.slice(0, Math.max(at, 0));
    const leftOut = passed.map((c) => ({ name: c.list.name, why: 'another list was chosen by hand' }));
    return figure({ candidates: [{ list, why: 'chosen by hand' }, ...behind], leftOut, byHand: true });
  }
  return meant.candidates.length > 0
    ? figure({ ...meant, byHand: false })
    : refusal('no_list', `customers/${buyer.customer ?? ''}`, { customer: buyer.name, day });
}

/**
 * The price of an item's pack for a buyer: from the first of the lists that has one, or from the one that asks least,
 * as the workspace says. All in the currency and tax display of the first. A list that says "not sold here" ends the search
 * for everything behind it. docs/arithmetic.md, "Which list".
 */
export function linePrice(
  ws: QuotesView,
  { candidates: lists, leftOut, byHand }: QuoteLists,
  asked: Asked,
): Outcome<LinePrice> {
  const home = lists[0]!.list;
  const lost: Lost[] = [...leftOut];
  const lowest = !byHand && ws.workspace.listChoice === 'lowest';
  let best: { listPrice: ListPrice; why: string } | null = null;
  let firstReason: Reason | null = null;
  let ended: string | null = null;
  for (const { list, why } of lists) {
    if (ended) {
      lost.push({ name: list.name, why: `comes after ${ended}, where the item is not sold` });
      continue;
    }
    if (best && !lowest) {
      lost.push({ name: list.name, why: `comes later: ${why}` });
      continue;
    }
    if (list.currency !== home.currency || list.taxIn !== home.taxIn) {
      lost.push({ name: list.name, why: 'in another currency, or with tax in where the first list has it out' });
      continue;
    }
    const { unposted, ...question } = asked;
    const found = priceOnList(ws, { list: list.id, ...question }, unposted);
    if (!found.ok) {
      if (['zero_not_confirmed', 'unknown_item', 'unknown_pack'].includes(found.reason.code)) return found;
      firstReason ??= found.reason;
      lost.push({ name: list.name, why: wording(found.reason) });
      if (list.unnamed === 'not_sold') {
        ended = list.name;
        if (best) continue;
        return refusal('not_sold_to', `lists/${list.id}`, { item: ws.items.get(asked.item)!.sku, list: list.name });
      }
    } else if (!best || found.value.price.lt(best.listPrice.price)) {
      if (best) lost.push({ name: best.listPrice.list.name, why: 'asks more', figure: plain(best.listPrice.price) });
      best = { listPrice: found.value, why: lowest ? 'asks least' : why };
    } else lost.push({ name: list.name, why: 'does not ask less', figure: plain(found.value.price) });
  }
  return best ? figure({ lost, ...best }) : { ok: false, reason: firstReason! };
}
