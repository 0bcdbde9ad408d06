import { Derivation, type RuleRef, type Step } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { type LandedCost, landedCost } from '../costs/landed-cost.ts';
import { GUARD_NAMES, type Guarded, applyGuards } from '../guards/guards.ts';
import { priceLimits } from '../guards/price-limits.ts';
import type { PriceQuestion } from '../lists/achieved.ts';
import { type ShownTerms, shownTerms, toNet } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, dec, plain, roundHalfUp, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { rungFor } from '../rounding/ladder.ts';
import {
  type Day,
  type Item,
  type Pack,
  type Prepared,
  type PriceList,
  type Recommended,
  taxFactor,
} from '../workspace/index.ts';
import { marginOf, markupOf } from './markup.ts';
import type { RecipeTerms } from './recipe.ts';
import { chooseRow, describeScope, describeUplift, upliftOperation } from './uplift.ts';

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
  /** The uplift row that won, in words. */
  readonly uplift: string;
  readonly flag: Guarded['flag'];
  /** The guards that bit, in words, the binding one first. */
  readonly bit: readonly string[];
  readonly wouldFallTo: Dec | null;
  /** The hand-set price that stands instead of the recipe's, if one is in force. */
  readonly handSet: { readonly reason: string; readonly by: string; readonly recipePrice: Dec } | null;
  readonly steps: readonly Step[];
  /** Where the price is not made from cost: the landed cost it is held against. */
  readonly costSteps: readonly Step[];
}

/** Computes the price of one pack of one item on one list for one day, with its full build-up. docs/arithmetic.md, "Recipe". */
export function computePrice(ws: Prepared, q: PriceQuestion, above: readonly string[] = []): Outcome<ComputedPrice> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const item = ws.items.get(q.item);
  if (!item) return refusal('unknown_item', 'item', { item: q.item });
  const pack = item.packs.find((p) => p.id === q.pack);
  if (!pack) return refusal('unknown_pack', 'pack', { item: item.sku, pack: q.pack });
  const recipe = list.recipe === null ? undefined : ws.recipes.get(list.recipe);
  if (!recipe) return refusal('no_recipe', `lists/${list.id}/recipe`, { list: list.name, item: item.sku });
  if (above.includes(list.id)) {
    return refusal('lists_in_a_circle', `lists/${list.id}/recipe`, {
      lists: [...above, list.id].map((id) => ws.lists.get(id)?.name ?? id).join(' → '),
    });
  }
  return new Computation(ws, list, item, pack, recipe, q.day, above).run();
}

class Computation {
  private readonly d = new Derivation();
  private readonly byRecipe: RuleRef;

  constructor(
    private readonly ws: Prepared,
    private readonly list: PriceList,
    private readonly item: Item,
    private readonly pack: Pack,
    private readonly recipe: RecipeTerms,
    private readonly day: Day,
    private readonly above: readonly string[],
  ) {
    this.byRecipe = { kind: 'recipe', id: recipe.id, version: recipe.version, name: recipe.name };
  }

  run(): Outcome<ComputedPrice> {
    const { ws, list, item, pack, day } = this;
    const terms = shownTerms(ws, list, item, pack, day);
    if (!terms.ok) return terms;
    const landed = landedCost(ws, item, day);
    const based = this.basis(landed);
    if (!based.ok) return based;
    const uplifted = this.uplift();
    if (!uplifted.ok) return uplifted;
    this.depositAndTax(terms.value);
    const limits = priceLimits(this.ws, { recipe: this.recipe, list, item, pack, day }, landed, terms.value);
    if (!limits.ok) return limits;
    const rounded = this.round();
    if (!rounded.ok) return rounded;
    const guarded = applyGuards(rounded.value, this.d.figure, limits.value.limits);
    const bit = guarded.bit.map((l) => GUARD_NAMES[l.kind]);
    if (guarded.flag !== null) {
      this.d.add({
        kind: 'guard',
        operation: { op: 'set', value: plain(guarded.price) },
        currency: list.currency,
        per: 'pack',
        flag: guarded.flag,
        rule: { ...this.byRecipe, part: bit[0]! },
        facts: Object.fromEntries(guarded.bit.map((l) => [GUARD_NAMES[l.kind], plain(l.at)])),
      });
    }
    if (this.d.figure.lte(0))
      return refusal('price_not_positive', `recipes/${this.recipe.id}`, { price: plain(this.d.figure) });
    return figure(this.achieved(terms.value, limits.value.cost, uplifted.value, guarded, bit, landed));
  }

  /** Starts the derivation: the basis of the pack, net, in the list's currency. */
  private basis(landed: Outcome<LandedCost>): Outcome<void> {
    const { d, item, list } = this;
    const kind = this.recipe.basis.kind;
    switch (kind) {
      case 'landed':
      case 'cost': {
        if (!landed.ok) return landed;
        if (kind === 'landed') d.continueFrom(landed.value.steps, landed.value.landed);
        else {
          const bare = landed.value.steps.filter((s) => ['cost', 'unit_cost', 'exchange'].includes(s.kind));
          d.continueFrom(bare, landed.value.unit);
        }
        return this.packAndCurrency(this.ws.workspace.currency, 'unit');
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
        return untaxed.ok ? this.packAndCurrency(item.rrp.currency, 'unit') : untaxed;
      }
      case 'current':
        return this.fromList(list, 'no_current_price');
      case 'list': {
        const other = this.ws.lists.get(this.recipe.basis.list ?? '');
        return other
          ? this.fromList(other, 'no_price_on_list')
          : refusal('unknown_list', `recipes/${this.recipe.id}/basis`, { list: this.recipe.basis.list ?? '' });
      }
    }
  }

  private takeTaxOut(recommended: Recommended): Outcome<void> {
    if (!recommended.taxIn) return figure(undefined);
    const tax = this.ws.taxOn(this.item.taxClass, this.day);
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

  private packAndCurrency(currency: string, per: 'unit' | 'pack'): Outcome<void> {
    const { d, pack, list, item } = this;
    if (currency !== list.currency) {
      const x = exchangeOn(this.ws, currency, list.currency, this.day);
      if (!x)
        return refusal('no_exchange_rate', `lists/${list.id}`, { from: currency, to: list.currency, day: this.day });
      d.add({
        kind: 'exchange',
        operation: { op: 'times', value: plain(x.factor) },
        currency: list.currency,
        per,
        rule: { kind: 'rate', id: `${currency}/${list.currency}`, name: `${currency} → ${list.currency}` },
        facts: x.facts,
      });
    }
    if (per === 'unit' && !dec(pack.units).eq(1)) {
      d.add({
        kind: 'pack',
        operation: { op: 'times', value: pack.units },
        currency: list.currency,
        per: 'pack',
        rule: { kind: 'item', id: item.id, name: pack.name },
        facts: { [`${item.unit} in the pack`]: pack.units },
      });
    }
    return figure(undefined);
  }

  /** The price on a list as the basis: the posted one of the day, else the one its own recipe computes. */
  private fromList(other: PriceList, missing: 'no_current_price' | 'no_price_on_list'): Outcome<void> {
    const { ws, d, item, pack, day } = this;
    const posted = ws.postedOn(other.id, item.id, pack.id, day);
    const rule: RuleRef = { kind: 'list', id: other.id, version: other.version, name: other.name };
    if (posted) {
      d.add({
        kind: 'basis',
        operation: { op: 'start', value: posted.price! },
        currency: other.currency,
        per: 'pack',
        rule,
        facts: { posted: posted.from, posting: posted.posting },
      });
    } else if (missing === 'no_current_price') {
      return refusal(missing, `items/${item.id}`, { item: item.sku, list: other.name });
    } else {
      const computed = computePrice(ws, { item: item.id, pack: pack.id, list: other.id, day }, [
        ...this.above,
        this.list.id,
      ]);
      if (!computed.ok) return computed;
      d.add({
        kind: 'basis',
        operation: { op: 'start', value: plain(computed.value.price) },
        currency: other.currency,
        per: 'pack',
        rule,
        facts: { computed: 'not posted yet: by the recipe of that list' },
      });
    }
    const terms = shownTerms(ws, other, item, pack, day);
    if (!terms.ok) return terms;
    const deposit = terms.value.deposit.times(terms.value.depositTaxFactor);
    if (!deposit.isZero()) {
      d.add({
        kind: 'deposit',
        operation: { op: 'plus', value: plain(deposit.negated()) },
        currency: other.currency,
        per: 'pack',
        rule,
        facts: { deposit: plain(terms.value.deposit), 'tax per cent': terms.value.depositTaxPercent },
      });
    }
    if (!terms.value.taxFactor.eq(1)) {
      d.add({
        kind: 'tax',
        operation: { op: 'divide', value: plain(terms.value.taxFactor) },
        currency: other.currency,
        per: 'pack',
        rule,
        facts: { 'per cent': terms.value.taxPercent },
      });
    }
    return this.packAndCurrency(other.currency, 'pack');
  }

  private uplift(): Outcome<string> {
    const { ws, d, item, pack, recipe, list } = this;
    const chosen = chooseRow(ws, recipe, item, pack.name, settle(d.figure));
    if (!chosen.ok) return chosen;
    const { row, lost } = chosen.value;
    const path = `recipes/${recipe.id}/uplift/${row.id}`;
    const currency = row.currency ?? list.currency;
    const x = exchangeOn(ws, currency, list.currency, this.day);
    if (!x) return refusal('no_exchange_rate', path, { from: currency, to: list.currency, day: this.day });
    const operation = upliftOperation(row, d.figure, x.factor, item, path);
    if (!operation.ok) return operation;
    d.add({
      kind: 'uplift',
      operation: operation.value,
      currency: list.currency,
      per: 'pack',
      lost,
      rule: { ...this.byRecipe, part: row.id },
      facts: { row: describeScope(ws, row.scope), uplift: describeUplift(row) },
    });
    return figure(describeUplift(row));
  }

  private depositAndTax(terms: ShownTerms): void {
    const { d, list, item, pack } = this;
    const net = d.figure;
    if (!terms.deposit.isZero()) {
      d.add({
        kind: 'deposit',
        operation: { op: 'plus', value: plain(terms.deposit) },
        currency: list.currency,
        per: 'pack',
        rule: { kind: 'item', id: item.id, name: pack.name },
      });
    }
    if (!list.taxIn) return;
    const sameRate = terms.deposit.isZero() || terms.depositTaxFactor.eq(terms.taxFactor);
    const taxes = net.times(terms.taxFactor.minus(1)).plus(terms.deposit.times(terms.depositTaxFactor.minus(1)));
    d.add({
      kind: 'tax',
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'tax', id: item.taxClass, name: item.taxClass },
      operation: sameRate ? { op: 'times', value: plain(terms.taxFactor) } : { op: 'plus', value: plain(taxes) },
      facts: {
        'per cent': terms.taxPercent,
        ...(sameRate ? {} : { 'per cent on the deposit': terms.depositTaxPercent }),
      },
    });
  }

  private round() {
    const { ws, d, list, recipe } = this;
    const decimals = ws.decimalsOf(list);
    if (recipe.ladder === null) {
      d.add({
        kind: 'decimals',
        operation: { op: 'round', decimals, way: 'half_up' },
        currency: list.currency,
        per: 'pack',
        rule: { kind: 'list', id: list.id, name: list.name },
      });
      return figure({ decimals, rungs: [] });
    }
    const ladder = ws.ladder(recipe.ladder, decimals);
    const terms = ws.ladders.get(recipe.ladder);
    if (!ladder || !terms) return refusal('no_ladder', `recipes/${recipe.id}/ladder`, { ladder: recipe.ladder });
    const rung = rungFor(ladder, d.figure);
    const rule: RuleRef = { kind: 'ladder', id: terms.id, version: terms.version, name: terms.name };
    if (rung) {
      const text = terms.rungs.find((r) => dec(r.from).eq(rung.from))!;
      d.add({
        kind: 'ladder',
        operation: { op: 'ladder', decimals, rung: text },
        currency: list.currency,
        per: 'pack',
        rule: { ...rule, part: `${text.from} to ${text.to ?? 'any'}` },
      });
    } else {
      d.add({
        kind: 'decimals',
        operation: { op: 'round', decimals, way: 'half_up' },
        currency: list.currency,
        per: 'pack',
        rule: { ...rule, part: 'no rung holds the price' },
      });
    }
    return figure(ladder);
  }

  private achieved(
    terms: ShownTerms,
    cost: Dec | null,
    uplift: string,
    guarded: Guarded,
    bit: readonly string[],
    landed: Outcome<LandedCost>,
  ): ComputedPrice {
    const { ws, d, list, item, pack, day } = this;
    const recipePrice = d.figure;
    const posted = ws.postedOn(list.id, item.id, pack.id, day);
    const hand = posted?.handSet && (!posted.handSet.lastDay || posted.handSet.lastDay >= day) ? posted.handSet : null;
    if (hand) {
      d.add({
        kind: 'hand_set',
        operation: { op: 'set', value: posted!.price! },
        currency: list.currency,
        per: 'pack',
        flag: 'hand_set',
        rule: { kind: 'posting', id: posted!.posting, name: hand.by },
        facts: { reason: hand.reason, ...(hand.lastDay ? { 'last day': hand.lastDay } : {}) },
        lost: [{ name: this.recipe.name, why: 'a hand-set price stands', figure: plain(recipePrice) }],
      });
    }
    const price = d.figure;
    const net = toNet(terms, price);
    return {
      price,
      net,
      cost,
      uplift,
      bit,
      flag: guarded.flag,
      wouldFallTo: guarded.wouldFallTo,
      taxInPrice: roundHalfUp(price.minus(net).minus(terms.deposit), minorUnits(list.currency)),
      markup: cost ? markupOf(cost, net) : null,
      margin: cost ? marginOf(cost, net) : null,
      handSet: hand ? { reason: hand.reason, by: hand.by, recipePrice } : null,
      steps: d.steps,
      costSteps: ['landed', 'cost'].includes(this.recipe.basis.kind) || !landed.ok ? [] : landed.value.steps,
    };
  }
}
