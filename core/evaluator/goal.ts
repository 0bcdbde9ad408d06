import { achievedAt } from '../lists/achieved.ts';
import { computePrice } from '../lists/list-price.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, divide, percent, plain, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Cost } from '../costs/cost.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import { type Figures, packId } from './answer-price.ts';
import type { GoalAsked } from './questions.ts';
import { exactText, percentText, priceText } from './wording.ts';

/** Steps of the search: hundredths of a per cent up to a markup of a million per cent. */
const MOST_STEPS = 100_000_000;
const MARKUP_STEP = dec('0.01');
/** A cost is sought up to this many of its smallest units. */
const MOST_COST = 2 ** 46;

interface Sold {
  readonly item: string;
  readonly pack: string;
  readonly quantity: Dec;
}

/**
 * Goal seek with exact figures: which markup reaches a margin over some items as they are sold (rounding and guards
 * included), or which cost is the most that a price can bear.
 */
export function answerGoal(ws: Prepared, q: GoalAsked): Outcome<Figures> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const sold: Sold[] = [];
  for (const s of q.items) {
    const pack = packId(ws, s.item, s.pack);
    if (!pack.ok) return pack;
    sold.push({ item: s.item, pack: pack.value, quantity: dec(s.quantity ?? '1') });
  }
  return q.seek === 'markup' ? seekMarkup(ws, list, sold, q) : seekCost(ws, list, sold[0]!, q);
}

/** The smallest whole number of steps from `from` on that reaches a goal, where more reaches it too; null: none up to `most`. */
function smallest(from: number, most: number, reaches: (steps: number) => boolean): number | null {
  if (!reaches(most)) return null;
  let [low, high] = [from, most];
  while (low < high) {
    const middle = low + Math.floor((high - low) / 2);
    if (reaches(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}

function seekMarkup(ws: Prepared, list: PriceList, sold: readonly Sold[], q: GoalAsked): Outcome<Figures> {
  const goal = dec(q.margin!);
  const recipes = new Set(sold.map((s) => ws.recipeFor(list, ws.followed(ws.items.get(s.item)!))?.id));
  const overall = (steps: number): Outcome<{ net: Dec; cost: Dec; prices: Dec[] }> => {
    const value = plain(MARKUP_STEP.times(steps));
    const tried = ws.withRecipes((r) =>
      recipes.has(r.id) ? { ...r, uplift: [{ id: 'goal', scope: {}, method: 'markup', value }] } : r,
    );
    let [net, cost] = [ZERO, ZERO];
    const prices: Dec[] = [];
    for (const s of sold) {
      const question = { item: s.item, pack: s.pack, list: list.id, day: q.day };
      const found = computePrice(tried, question);
      if (!found.ok) return found;
      const achieved = achievedAt(ws, question, found.value.price);
      if (!achieved.ok) return achieved;
      net = net.plus(achieved.value.net.times(s.quantity));
      cost = cost.plus(achieved.value.cost.times(s.quantity));
      prices.push(found.value.price);
    }
    return figure({ net, cost, prices });
  };
  const margin = (of: { net: Dec; cost: Dec }) => settle(percent(divide(of.net.minus(of.cost), of.net)));
  const first = overall(MOST_STEPS);
  if (!first.ok) return first;
  // a markup so low that there is no price does not reach the margin
  const steps = smallest(-9_999, MOST_STEPS, (n) => {
    const found = overall(n);
    return found.ok && margin(found.value).gte(goal);
  });
  if (steps === null) {
    return refusal('goal_out_of_reach', 'margin', {
      goal: `a margin of ${q.margin} %`,
      best: `${percentText(margin(first.value))} % is the most that the guards of the recipe leave`,
    });
  }
  const reached = overall(steps) as { value: { net: Dec; cost: Dec; prices: Dec[] } };
  const { net, cost, prices } = reached.value;
  const decimals = ws.decimalsOf(list);
  return figure({
    markup: plain(MARKUP_STEP.times(steps)),
    margin: percentText(margin({ net, cost })),
    net: exactText(net),
    cost: exactText(cost),
    profit: exactText(net.minus(cost)),
    currency: list.currency,
    prices: sold.map((s, i) => ({ item: s.item, pack: s.pack, price: priceText(prices[i]!, decimals) })),
  });
}

function seekCost(ws: Prepared, list: PriceList, sold: Sold, q: GoalAsked): Outcome<Figures> {
  const goal = dec(q.price!);
  const item = ws.followed(ws.items.get(sold.item)!);
  const now = landedCost(ws, item, q.day);
  if (!now.ok) return now;
  const { cost } = now.value;
  const { currency } = cost.cost;
  const unit = dec(`1e-${minorUnits(currency)}`);
  const at = (units: number) => {
    const amount = { amount: plain(unit.times(units)), currency };
    const tried = ws.withCost({ ...cost, cost: amount, reduced: null, quantityPrices: null, to: null } satisfies Cost);
    return { tried, found: computePrice(tried, { item: sold.item, pack: sold.pack, list: list.id, day: q.day }) };
  };
  const least = at(1).found;
  if (!least.ok) return least;
  // "raise only" and a typed price hide what a cost makes
  const beyond = smallest(1, MOST_COST, (units) => {
    const { found } = at(units);
    return !found.ok || found.value.recipePrice.gt(goal);
  });
  if (beyond === null || beyond === 1) {
    const cheapest = priceText(least.value.recipePrice, ws.decimalsOf(list));
    return refusal('goal_out_of_reach', 'price', {
      goal: `a price of ${q.price} ${list.currency}`,
      best: beyond === 1 ? `even the smallest cost makes ${cheapest}` : 'no cost makes more',
    });
  }
  const { tried, found } = at(beyond - 1);
  if (!found.ok) return found;
  const next = at(beyond).found;
  const landed = landedCost(tried, item, q.day);
  const decimals = ws.decimalsOf(list);
  return figure({
    cost: plain(unit.times(beyond - 1)),
    costCurrency: currency,
    packUnits: cost.packUnits,
    landed: landed.ok ? exactText(landed.value.landed) : null,
    price: priceText(found.value.recipePrice, decimals),
    currency: list.currency,
    margin: percentText(found.value.margin),
    next: next.ok ? priceText(next.value.recipePrice, decimals) : null,
  });
}
