import { Derivation, type RuleRef, type Step } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { type LandedCost, landedCost } from '../costs/landed-cost.ts';
import { GUARD_NAMES, type Guarded, type NotApplied, applyGuards } from '../guards/guards.ts';
import { priceLimits } from '../guards/price-limits.ts';
import type { PriceQuestion } from '../lists/achieved.ts';
import { exchangeTo, putOn, roundByLadder, takeOut, toPack } from '../lists/shown-steps.ts';
import { type ShownTerms, shownTerms, toNet } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, dec, plain, roundHalfUp, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack, Recommended } from '../items/item.ts';
import type { ListsView } from '../lists/view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { taxFactor } from '../regions/tax.ts';
import { channelsOf } from '../items/scope.ts';
import { marginOf, markupOf } from './markup.ts';
import type { RecipeTerms, UpliftRow } from './recipe.ts';
import { addAddOns } from './add-ons.ts';
import { chooseRow, describeRow, describeUplift, operandOf, upliftOperation } from './uplift.ts';

/** A price as the list's recipe computes it, per pack, in the list's currency, as the list shows it. */
export interface ComputedPrice {
  readonly price: Dec;
  /** Net of tax and deposit. */
  readonly net: Dec;
  /** Tax on goods and deposit contained in the price, to the currency's minor unit; 0 on a list with tax out. */
  readonly taxInPrice: Dec;
  /** Landed, per pack, in the list's currency; null where no cost is known and none was needed. */
  readonly cost: Dec | null;
  /** Per cent, computed back from the final price. */
  readonly markup: Dec | null;
  readonly margin: Dec | null;
  readonly recipe: { readonly id: string; readonly name: string };
  /** The uplift row that won, in words, and what it is tied to. */
  readonly uplift: string;
  readonly row: string;
  readonly rowName: string;
  /** Of the pack, net, in the list's currency, before add-ons and uplift. */
  readonly basis: Dec;
  readonly flag: Guarded['flag'];
  /** The guards that bit, in words, the binding one first. */
  readonly bit: readonly string[];
  /** The same with their ids and figures as the buyer sees them. */
  readonly guards: readonly { readonly id: string; readonly name: string; readonly at: Dec }[];
  /** Guards of the recipe that cannot be applied to the item. */
  readonly notApplied: readonly NotApplied[];
  /** Profit per pack in the list's currency: net less landed cost. */
  readonly profit: Dec | null;
  readonly wouldFallTo: Dec | null;
  /** The typed price that stands instead of the recipe's, if one is in force. */
  readonly handSet: {
    readonly reason: string;
    readonly by: string;
    readonly recipePrice: Dec;
    /** It leaves less than the recipe aims at. */
    readonly squeezed: boolean;
  } | null;
  /** What the recipe aims at: net of tax and deposit, before rounding and guards. */
  readonly targetNet: Dec;
  /** As the recipe makes it, whether or not a typed price stands instead. */
  readonly recipePrice: Dec;
  readonly steps: readonly Step[];
  /** Where the price is not made from cost: the landed cost it is held against. */
  readonly costSteps: readonly Step[];
}

/** What another list asks, as a basis; `above` are the lists that already wait for it. */
export type OtherList = (
  ws: ListsView,
  q: PriceQuestion,
  above: readonly string[],
) => Outcome<{ readonly price: Dec; readonly facts: Readonly<Record<string, string>> }>;

/** Whether a fall that "raise only" holds back is kept back, or allowed: then the guard is as if it were not there. */
export type Falls = 'keep' | 'allow_fall';

/** Runs a list's recipe for one pack of one item on one day, with its full build-up. docs/arithmetic.md, "A recipe, in its order". */
export function runRecipe(
  ws: ListsView,
  q: PriceQuestion,
  above: readonly string[],
  otherList: OtherList,
  falls: Falls = 'keep',
): Outcome<ComputedPrice> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const asked = ws.items.get(q.item);
  if (!asked) return refusal('unknown_item', 'item', { item: q.item });
  const item = ws.followed(asked);
  const pack = ws.packOf(asked, q.pack);
  if (!pack) return refusal('unknown_pack', 'pack', { item: asked.sku, pack: q.pack });
  const recipe = ws.recipeFor(list, item);
  if (!recipe) return refusal('no_recipe', `lists/${list.id}/recipe`, { list: list.name, item: item.sku });
  if (above.includes(list.id)) {
    return refusal('lists_in_a_circle', `lists/${list.id}/recipe`, {
      lists: [...above, list.id].map((id) => ws.lists.get(id)?.name ?? id).join(' → '),
    });
  }
  return new Computation(ws, list, asked, item, pack, recipe, q, above, otherList, falls).run();
}

class Computation {
  private readonly d = new Derivation();
  private readonly byRecipe: RuleRef;
  private readonly day: Day;
  private readonly channels: readonly string[];

  constructor(
    private readonly ws: ListsView,
    private readonly list: PriceList,
    /** As asked for: entries of another list see a member of a lockstep group, not its lead. */
    private readonly asked: Item,
    private readonly item: Item,
    private readonly pack: Pack,
    private readonly recipe: RecipeTerms,
    private readonly q: PriceQuestion,
    private readonly above: readonly string[],
    private readonly otherList: OtherList,
    private readonly falls: Falls,
  ) {
    this.day = q.day;
    this.channels = channelsOf(list, q.channel);
    this.byRecipe = { kind: 'recipe', id: recipe.id, version: recipe.version, name: recipe.name };
  }

  run(): Outcome<ComputedPrice> {
    const { ws, list, item, pack, day, channels } = this;
    const terms = shownTerms(ws, list, item, pack, day);
    if (!terms.ok) return terms;
    const landed = landedCost(ws, item, day);
    const based = this.basis(landed);
    if (!based.ok) return based;
    const basis = this.d.figure;
    const around = { ws, list, item, pack, channels, recipe: this.recipe, day, basis };
    const before = addAddOns(this.d, around, 'before');
    if (!before.ok) return before;
    const uplifted = this.uplift(basis);
    if (!uplifted.ok) return uplifted;
    const after = addAddOns(this.d, around, 'after');
    if (!after.ok) return after;
    const targetNet = this.d.figure;
    if (settle(targetNet).lte(0)) return this.nothing(targetNet);
    putOn(this.d, terms.value, list, item, pack);
    const limits = priceLimits(this.ws, { recipe: this.recipe, list, item, pack, day }, landed, terms.value);
    if (!limits.ok) return limits;
    const rounded = roundByLadder(ws, this.d, list, this.recipe, { item, pack });
    if (!rounded.ok) return rounded;
    const counting = limits.value.limits.filter((l) => l.kind !== 'raise_only' || this.falls === 'keep');
    const guarded = applyGuards(rounded.value, this.d.figure, counting);
    const bit = guarded.bit.map((l) => GUARD_NAMES[l.kind]);
    if (guarded.flag !== null) {
      this.d.add({
        kind: 'guard',
        operation: { op: 'set', value: plain(guarded.price) },
        currency: list.currency,
        per: 'pack',
        flag: guarded.flag,
        rule: { ...this.byRecipe, part: guarded.bit[0]!.id, partName: bit[0]! },
        facts: Object.fromEntries(guarded.bit.map((l) => [GUARD_NAMES[l.kind], plain(l.at)])),
      });
    }
    const net = toNet(terms.value, this.d.figure);
    if (settle(net).lte(0)) return this.nothing(net);
    return figure(this.achieved(terms.value, limits.value, uplifted.value, guarded, bit, landed, basis, targetNet));
  }

  /** Goods at nothing or less are no price, whatever deposit, tax or ladder make of them. */
  private nothing(net: Dec): Outcome<never> {
    return refusal('price_not_positive', `recipes/${this.recipe.id}`, { price: plain(settle(net)) });
  }

  /** Starts the derivation: the basis of the pack, net, in the list's currency. */
  private basis(landed: Outcome<LandedCost>): Outcome<void> {
    const { d, item } = this;
    const kind = this.recipe.basis.kind;
    switch (kind) {
      case 'landed':
      case 'cost': {
        const side = this.recipe.basis.cost ?? 'paid';
        const from = side === 'paid' ? landed : landedCost(this.ws, item, this.day, side);
        if (!from.ok) return from;
        if (kind === 'landed') d.continueFrom(from.value.steps, from.value.landed);
        else {
          const bare = from.value.steps.filter((s) => ['cost', 'unit_cost', 'exchange'].includes(s.kind));
          d.continueFrom(bare, from.value.unit);
        }
        return this.packAndCurrency(this.ws.workspace.currency);
      }
      case 'rrp': {
        if (!item.rrp) return refusal('no_rrp', `items/${item.id}/rrp`, { item: item.sku });
        d.add({
          kind: 'basis',
          operation: { op: 'start', value: item.rrp.amount },
          currency: item.rrp.currency,
          per: 'unit',
          rule: { kind: 'item', id: item.id, name: 'RRP' },
        });
        const untaxed = this.takeTaxOut(item.rrp);
        return untaxed.ok ? this.packAndCurrency(item.rrp.currency) : untaxed;
      }
      case 'current':
        return this.current();
      case 'list':
        return this.fromList(this.recipe.basis.list ?? '');
    }
  }

  private takeTaxOut(recommended: Recommended): Outcome<void> {
    if (!recommended.taxIn) return figure(undefined);
    const tax = this.ws.taxOn(this.item.taxClass, this.day, this.ws.taxRegion(this.list));
    if (!tax) return refusal('no_tax_rate', `items/${this.item.id}`, { taxClass: this.item.taxClass, day: this.day });
    this.d.add({
      kind: 'tax',
      operation: { op: 'divide', value: plain(taxFactor(tax.percent)) },
      currency: recommended.currency,
      per: 'unit',
      rule: { kind: 'tax', id: tax.taxClass, name: tax.taxClass },
      facts: { 'per cent': tax.percent },
    });
    return figure(undefined);
  }

  private packAndCurrency(currency: string): Outcome<void> {
    const { d, pack, list, item } = this;
    const exchanged = exchangeTo(this.ws, d, currency, list, this.day, 'unit');
    if (exchanged.ok) toPack(d, pack, item, list.currency);
    return exchanged;
  }

  private current(): Outcome<void> {
    const { ws, item, pack, list, day } = this;
    const posted = ws.postedOn(list.id, item.id, pack.id, day);
    if (!posted) return refusal('no_current_price', `items/${item.id}`, { item: item.sku, list: list.name });
    return this.startFrom(list, dec(posted.price!), { posted: posted.from, posting: posted.posting });
  }

  private fromList(id: string): Outcome<void> {
    const other = this.ws.lists.get(id);
    if (!other) return refusal('unknown_list', `recipes/${this.recipe.id}/basis`, { list: id });
    const q = { ...this.q, item: this.asked.id, list: id };
    const found = this.otherList(this.ws, q, [...this.above, this.list.id]);
    return found.ok ? this.startFrom(other, found.value.price, found.value.facts) : found;
  }

  private startFrom(other: PriceList, price: Dec, facts: Readonly<Record<string, string>>): Outcome<void> {
    const { ws, d, item, pack, day, list } = this;
    d.add({
      kind: 'basis',
      operation: { op: 'start', value: plain(price) },
      currency: other.currency,
      per: 'pack',
      rule: { kind: 'list', id: other.id, version: other.version, name: other.name },
      facts,
    });
    const terms = shownTerms(ws, other, item, pack, day);
    if (!terms.ok) return terms;
    takeOut(d, terms.value, other);
    return exchangeTo(ws, d, other.currency, list, day, 'pack');
  }

  private uplift(basis: Dec): Outcome<UpliftRow> {
    const { ws, d, item, pack, recipe, list } = this;
    const chosen = chooseRow(ws, recipe, item, pack.name, this.channels, settle(basis));
    if (!chosen.ok) return chosen;
    const { row, lost } = chosen.value;
    const path = `recipes/${recipe.id}/uplift/${row.id}`;
    const currency = row.currency ?? list.currency;
    const rateDay = ws.rateDay(list, this.day);
    const x = exchangeOn(ws, currency, list.currency, rateDay);
    if (!x) return refusal('no_exchange_rate', path, { from: currency, to: list.currency, day: rateDay });
    const operation = upliftOperation(row, d.figure, x.factor, item, path);
    if (!operation.ok) return operation;
    d.add(
      {
        kind: 'uplift',
        operation: operation.value,
        currency: list.currency,
        per: 'pack',
        lost,
        rule: { ...this.byRecipe, part: row.id, partName: describeRow(ws, row.scope) },
        facts: ws.remember(`row ${recipe.id}`, row.id, () => ({
          row: describeRow(ws, row.scope),
          uplift: describeUplift(row),
        })),
      },
      operandOf(row),
    );
    return figure(row);
  }

  private achieved(
    terms: ShownTerms,
    { cost, notApplied }: { readonly cost: Dec | null; readonly notApplied: readonly NotApplied[] },
    row: UpliftRow,
    guarded: Guarded,
    bit: readonly string[],
    landed: Outcome<LandedCost>,
    basis: Dec,
    targetNet: Dec,
  ): ComputedPrice {
    const { ws, d, list, item, pack, day } = this;
    const recipePrice = d.figure;
    const posted = ws.postedOn(list.id, item.id, pack.id, day);
    const hand = posted?.handSet;
    if (hand) {
      d.add({
        kind: 'hand_set',
        operation: { op: 'set', value: posted!.price! },
        currency: list.currency,
        per: 'pack',
        flag: 'hand_set',
        rule: { kind: 'posting', id: posted!.posting, name: hand.by },
        facts: { reason: hand.reason, ...(hand.lastDay ? { 'last day': hand.lastDay } : {}) },
        lost: [{ name: this.recipe.name, why: 'a typed price stands', figure: plain(recipePrice) }],
      });
    }
    const price = d.figure;
    const net = toNet(terms, price);
    return {
      price,
      net,
      cost,
      profit: cost && net.minus(cost),
      recipe: { id: this.recipe.id, name: this.recipe.name },
      uplift: describeUplift(row),
      row: row.id,
      rowName: describeRow(ws, row.scope),
      basis,
      bit,
      guards: guarded.bit.map((l) => ({ id: l.id, name: GUARD_NAMES[l.kind], at: l.at })),
      notApplied,
      flag: guarded.flag,
      wouldFallTo: guarded.wouldFallTo,
      taxInPrice: roundHalfUp(price.minus(net).minus(terms.deposit), minorUnits(list.currency)),
      markup: cost ? markupOf(cost, net) : null,
      margin: cost ? marginOf(cost, net) : null,
      targetNet,
      recipePrice,
      handSet: hand
        ? { reason: hand.reason, by: hand.by, recipePrice, squeezed: settle(net).lt(settle(targetNet)) }
        : null,
      steps: d.steps,
      costSteps: ['landed', 'cost'].includes(this.recipe.basis.kind) || !landed.ok ? [] : landed.value.steps,
    };
  }
}
