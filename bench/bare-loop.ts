import { Dec, ONE, ZERO, dec, divide, max, min, percent, roundHalfUp, settle, share } from '#core/numbers/decimal.ts';
import { type Ladder, applyLadder, prepareLadder } from '#core/rounding/ladder.ts';
import type { Workspace } from '#core/workspace/workspace.ts';

/** Everything of one item as decimals, read beforehand. */
export interface BareItem {
  readonly cost: Dec;
  readonly packUnits: Dec;
  readonly weight: Dec;
  readonly rate: Dec | null;
  readonly duty: Dec | null;
  readonly taxFactor: Dec;
}

export interface BareList {
  readonly rate: Dec | null;
  readonly taxIn: boolean;
  readonly bands: readonly { from: Dec; to: Dec | null; margin: boolean; by: Dec }[];
  readonly addOn: Dec;
  readonly ladder: Ladder;
  readonly leastMargin: Dec;
  readonly mostMarkup: Dec;
}

const FREIGHT = dec('0.85');
const HANDLING = dec('0.01');
const OVERHEAD = dec('0.015');

export function bareItems(w: Workspace): BareItem[] {
  const rates = new Map(w.rates.map((r) => [r.to, divide(ONE, dec(r.rate))]));
  return w.items.map((item, i) => {
    const { cost, packUnits } = w.costs[i]!;
    const foreign = cost.currency !== w.currency;
    const tax = w.taxes.find((t) => t.taxClass === item.taxClass)!;
    return {
      cost: dec(cost.amount),
      packUnits: dec(packUnits),
      weight: dec(item.weightKg!),
      rate: foreign ? rates.get(cost.currency)! : null,
      duty: foreign ? dec('0.027') : null,
      taxFactor: ONE.plus(share(dec(tax.percent))),
    };
  });
}

export function bareList(w: Workspace, id: string): BareList {
  const list = w.lists.find((l) => l.id === id)!;
  const recipe = w.recipes.find((r) => r.id === list.recipe)!;
  const rate = w.rates.find((r) => r.to === list.currency);
  return {
    rate: rate ? dec(rate.rate) : null,
    taxIn: list.taxIn,
    bands: recipe.uplift.map((u) => ({
      from: dec(u.scope.band!.from),
      to: u.scope.band!.to === null ? null : dec(u.scope.band!.to),
      margin: u.method === 'margin',
      by: u.method === 'margin' ? ONE.minus(share(dec(u.value))) : ONE.plus(share(dec(u.value))),
    })),
    addOn: share(dec(recipe.addOns![0]!.value!)),
    ladder: prepareLadder(w.ladders.find((l) => l.id === recipe.ladder)!.rungs, 2),
    leastMargin: ONE.minus('0.12'),
    mostMarkup: ONE.plus('1.8'),
  };
}

/** The same steps as the recipe of the large workspace, written out by hand over decimals: nothing is looked up, named or kept. */
export function barePrice(i: BareItem, l: BareList): { price: Dec; markup: Dec; margin: Dec } {
  const inCost = divide(i.cost, i.packUnits);
  const unit = i.rate ? inCost.times(i.rate) : inCost;
  let landed = unit.plus(i.weight.times(FREIGHT));
  if (i.duty) landed = landed.plus(unit.times(i.duty));
  landed = landed.plus(HANDLING).plus(unit.times(OVERHEAD));
  const cost = l.rate ? landed.times(l.rate) : landed;
  const at = settle(cost);
  const band = l.bands.find((b) => at.gte(b.from) && (b.to === null || at.lt(b.to)))!;
  const uplifted = band.margin ? divide(cost, band.by) : cost.times(band.by);
  const net = uplifted.plus(cost.times(l.addOn));
  const shown = l.taxIn ? net.times(i.taxFactor) : net;
  let price = applyLadder(l.ladder, shown);
  const floor = max(
    settle(l.taxIn ? cost.times(i.taxFactor) : cost),
    settle(l.taxIn ? divide(cost, l.leastMargin).times(i.taxFactor) : divide(cost, l.leastMargin)),
  );
  const ceiling = settle(l.taxIn ? cost.times(l.mostMarkup).times(i.taxFactor) : cost.times(l.mostMarkup));
  // guards that bite are rare and cost the same in both; they are left to the explained way
  if (price.lt(floor) || price.gt(ceiling)) price = max(min(price, ceiling), floor);
  const back = l.taxIn ? divide(price, i.taxFactor) : price;
  if (l.taxIn) roundHalfUp(price.minus(back).minus(ZERO), 2);
  return { price, markup: percent(divide(back.minus(cost), cost)), margin: percent(divide(back.minus(cost), back)) };
}
