import { Derivation } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import type { Buyer } from '../lists/choose-list.ts';
import { roundToDecimals } from '../lists/shown-steps.ts';
import { type ShownTerms, toNet, toShown } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, divide, plain, roundHalfUp, roundUp, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { marginOf, markupOf } from '../recipes/markup.ts';
import { type Item, type Pack, type Prepared, type PriceList, taxFactor } from '../workspace/index.ts';
import { ascending, cheaperByBuyingMore, priceAtBreak } from './breaks.ts';
import { type FloorFigure, floorsFor } from './floors.ts';
import type { LinePrice } from './line-list.ts';
import { type BreakCounting, type LowestPrice, applyLowest } from './lowest-price.ts';
import type { BrokenFloor, QuoteLineQuestion, QuoteQuestion } from './questions.ts';
import { type RuleResult, applyRules } from './rules/apply-rules.ts';
import { type FactOf, asFact } from './rules/condition.ts';

/** A line whose item, pack, quantity and list price are found. */
export interface ResolvedLine {
  readonly line: QuoteLineQuestion;
  /** As asked for; in a lockstep group its lead gives the prices. */
  readonly item: Item;
  readonly pack: Pack;
  readonly quantity: Dec;
  readonly price: LinePrice;
  readonly breaks: BreakCounting | null;
}

/** A line priced by itself: before its share of a reduction on the whole quote. Figures as the list shows prices. */
export interface OwnPrice {
  readonly resolved: ResolvedLine;
  readonly d: Derivation;
  readonly unitPrice: Dec;
  /** To the minor unit, deposit included. */
  readonly total: Dec;
  readonly depositTotal: Dec;
  readonly freeUnits: Dec;
  /** Per pack, in the list's currency, net; null: unknown. */
  readonly packCost: Dec | null;
  readonly lowest: LowestPrice;
  readonly rules: RuleResult;
  readonly floors: readonly FloorFigure[];
  readonly broken: BrokenFloor | null;
  readonly buyMore: { readonly buy: Dec; readonly saves: Dec } | null;
}

export function priceLine(ws: Prepared, q: QuoteQuestion, buyer: Buyer, resolved: ResolvedLine): Outcome<OwnPrice> {
  return new LinePricing(ws, q, buyer, resolved).run();
}

class LinePricing {
  private readonly d = new Derivation();
  private readonly list: PriceList;
  private readonly terms: ShownTerms;
  private readonly deposit: Dec;
  private readonly decimals: number;
  private readonly digits: number;
  private readonly path: string;
  private readonly packCost: Dec | null;

  constructor(
    private readonly ws: Prepared,
    private readonly q: QuoteQuestion,
    private readonly buyer: Buyer,
    private readonly r: ResolvedLine,
  ) {
    const { listPrice } = r.price;
    this.list = listPrice.list;
    this.terms = listPrice.terms;
    this.deposit = this.terms.deposit.times(this.terms.depositTaxFactor);
    this.decimals = ws.decimalsOf(this.list);
    this.digits = minorUnits(this.list.currency);
    this.path = `lines/${r.line.id}`;
    const landed = landedCost(ws, listPrice.item, q.day);
    const x = exchangeOn(ws, ws.workspace.currency, this.list.currency, ws.rateDay(this.list, q.day));
    this.packCost = landed.ok && x ? landed.value.landed.times(x.factor).times(listPrice.pack.units) : null;
  }

  run(): Outcome<OwnPrice> {
    const { ws, d, r } = this;
    const { listPrice, lost } = r.price;
    d.continueFrom(
      listPrice.steps.map((s, i) =>
        i === listPrice.steps.length - 1 ? { ...s, lost: [...(s.lost ?? []), ...lost] } : s,
      ),
      listPrice.regular,
    );
    const lowest = applyLowest(ws, d, {
      listPrice,
      item: r.item,
      quantity: r.quantity,
      buyer: this.buyer,
      day: this.q.day,
      breaks: r.breaks,
    });
    const rules = applyRules(ws.workspace.rules, {
      d,
      currency: this.list.currency,
      deposit: this.deposit,
      day: this.q.day,
      fact: this.facts(),
      inListCurrency: (value, currency) => this.inListCurrency(value, currency),
      path: this.path,
    });
    if (!rules.ok) return rules;
    const reduced = this.reduce();
    if (!reduced.ok) return reduced;
    const asSlices = lowest.slices !== null && !rules.value.touched && !r.line.reduction;
    // an average over slices is not a price to multiply: unless something changed it, the slices make the total
    if (!asSlices && !roundHalfUp(d.figure, this.decimals).eq(d.figure)) roundToDecimals(ws, d, this.list);
    const price = d.figure;
    let total = asSlices
      ? lowest.slices.reduce((sum, s) => sum.plus(roundHalfUp(s.price.times(s.quantity), this.digits)), ZERO)
      : roundHalfUp(price.times(r.quantity), this.digits);
    if (lowest.byBreak && !rules.value.touched && !r.line.reduction) total = this.atMostNext(total, listPrice.regular);
    let freeUnits = this.free(rules.value);
    const saved = freeUnits.isZero()
      ? ZERO
      : roundHalfUp(divide(total, r.quantity).minus(this.deposit).times(freeUnits), this.digits);
    const floors = this.floorsOf(rules.value);
    const broken = this.check(floors, divide(total.minus(saved), r.quantity));
    if (broken?.outcome === 'lift') {
      total = roundHalfUp(broken.least.times(r.quantity), this.digits);
      freeUnits = ZERO;
    }
    const unitPrice = d.figure;
    d.add({
      kind: 'line_total',
      currency: this.list.currency,
      per: 'line',
      operation: { op: 'set', value: plain(total) },
      facts: { quantity: plain(r.quantity) },
    });
    if (!freeUnits.isZero()) {
      d.add({
        kind: 'free_units',
        currency: this.list.currency,
        per: 'line',
        operation: { op: 'plus', value: plain(saved.negated()) },
        rule: rules.value.free!.rule,
        facts: { 'free units': plain(freeUnits) },
      });
      total = total.minus(saved);
    }
    const more = r.breaks && r.breaks.table.way === 'whole' && !r.line.reduction && !rules.value.touched;
    return figure({
      resolved: r,
      d,
      unitPrice,
      total,
      depositTotal: this.deposit.times(r.quantity),
      freeUnits,
      packCost: this.packCost,
      lowest,
      rules: rules.value,
      floors,
      broken,
      buyMore: more ? cheaperByBuyingMore(r.breaks.table.rows, listPrice.regular, r.breaks.counted) : null,
    });
  }

  private inListCurrency(value: string, currency: string | null | undefined): Outcome<Dec> {
    const from = currency ?? this.list.currency;
    const day = this.ws.rateDay(this.list, this.q.day);
    const x = exchangeOn(this.ws, from, this.list.currency, day);
    return x
      ? figure(dec(value).times(x.factor))
      : refusal('no_exchange_rate', this.path, { from, to: this.list.currency, day });
  }

  private facts(): FactOf {
    const { ws, q, r, buyer, d } = this;
    const { item } = r;
    const customer = buyer.customer ? ws.customers.get(buyer.customer) : undefined;
    const net = () => settle(toNet(this.terms, d.figure));
    const known: Record<string, () => readonly string[]> = {
      'item.sku': () => [item.sku],
      'item.name': () => [item.name],
      'item.unit': () => [item.unit],
      'item.category': () => ws.lineage(item.category),
      'item.brand': () => asFact(item.brand),
      'item.model': () => asFact(item.model),
      'item.supplier': () => asFact(item.supplier),
      'item.weight': () => asFact(item.weightKg),
      'customer.id': () => asFact(buyer.customer),
      'customer.group': () => buyer.groups,
      'customer.country': () => asFact(customer?.country),
      'quote.day': () => [q.day],
      'quote.list': () => [this.list.id],
      'quote.region': () => asFact(buyer.region),
      'quote.country': () => asFact(buyer.country),
      'quote.channel': () => asFact(buyer.channel),
      'line.quantity': () => [plain(r.quantity)],
      'line.weight': () => (item.weightKg ? [plain(dec(item.weightKg).times(r.pack.units).times(r.quantity))] : []),
      'line.pack': () => [r.pack.name],
      'line.list_price': () => [plain(r.price.listPrice.regular)],
      'line.price': () => [plain(d.figure)],
      'line.margin': () => asFact(this.packCost && marginOf(this.packCost, net())),
      'line.markup': () => asFact(this.packCost && markupOf(this.packCost, net())),
    };
    const attributes: Record<string, Readonly<Record<string, string>> | null | undefined> = {
      item: item.attributes,
      customer: customer?.attributes,
      quote: q.attributes,
      line: r.line.attributes,
    };
    return (fact) => {
      const found = known[fact];
      if (found) return found();
      const [of, name] = fact.split('.attributes.');
      return name === undefined ? [] : asFact(attributes[of!]?.[name]);
    };
  }

  private reduce(): Outcome<void> {
    const { reduction, id } = this.r.line;
    if (!reduction) return figure(undefined);
    const { d, list, deposit } = this;
    const value = dec(reduction.value);
    const goods = d.figure.minus(deposit);
    const reduced = {
      percent_off: () => goods.times(dec(100).minus(value)).times('0.01'),
      amount_off: () => goods.minus(value),
      price: () => value.minus(deposit),
    }[reduction.kind]();
    const price = reduced.plus(deposit);
    if (reduced.lt(0)) return refusal('price_not_positive', `${this.path}/reduction`, { price: plain(price) });
    d.add({
      kind: 'manual_reduction',
      operation: { op: 'set', value: plain(price) },
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'quote', id, name: 'by hand' },
      facts: {
        [{ percent_off: '% off', amount_off: 'amount off', price: 'price' }[reduction.kind]]: reduction.value,
        ...(deposit.isZero() ? {} : { 'deposit, never reduced': plain(deposit) }),
      },
    });
    return figure(undefined);
  }

  /** "Never more than the next break": what counts together costs at most the next break's least total; shared by quantity. */
  private atMostNext(total: Dec, listPrice: Dec): Dec {
    const { breaks, quantity } = this.r;
    if (!breaks || breaks.table.way !== 'whole' || !breaks.table.neverMoreThanNext) return total;
    const next = ascending(breaks.table.rows).find((row) => breaks.counted.lt(row.from));
    if (!next) return total;
    const goods = priceAtBreak(next, listPrice.minus(next.kind === 'price' ? ZERO : this.deposit));
    const price = roundHalfUp(next.kind === 'price' ? goods : goods.plus(this.deposit), this.decimals);
    const most = roundHalfUp(price.times(next.from), this.digits);
    if (this.d.figure.times(breaks.counted).lte(most)) return total;
    // the lines before this one have had the share of their quantity of it; so no cent is lost
    const upTo = (units: Dec) => roundHalfUp(divide(most.times(units), breaks.counted), this.digits);
    const capped = upTo(breaks.before.plus(quantity)).minus(upTo(breaks.before));
    this.d.add({
      kind: 'break',
      operation: { op: 'set', value: plain(divide(capped, quantity)) },
      currency: this.list.currency,
      per: 'pack',
      rule: { kind: 'break', id: breaks.table.id, version: breaks.table.version, name: breaks.table.name },
      facts: { 'never more than the next break': `${next.from} at ${plain(price)} make ${plain(most)}` },
    });
    return capped;
  }

  private free(rules: RuleResult): Dec {
    if (!rules.free) return ZERO;
    const { buy, free } = rules.free;
    const round = buy.plus(free);
    return round.lte(0) ? ZERO : this.r.quantity.divToInt(round).times(free);
  }

  private floorsOf(rules: RuleResult): readonly FloorFigure[] {
    const { ws, r, terms } = this;
    const { item, pack } = r.price.listPrice;
    const map = item.map ? this.inListCurrency(item.map.amount, item.map.currency) : null;
    const tax = item.map?.taxIn ? ws.taxOn(item.taxClass, this.q.day, ws.taxRegion(this.list)) : null;
    const own = ws.floors.candidates(r.item.id);
    return floorsFor(ws, rules.floors.length > 0 ? [...own, ...rules.floors] : own, {
      item: r.item,
      groups: this.buyer.groups,
      quantity: r.quantity,
      cost: this.packCost,
      listNet: toNet(terms, r.price.listPrice.regular),
      mapNet: map?.ok ? divide(map.value.times(pack.units), taxFactor(tax?.percent ?? '0')) : null,
      inQuoteCurrency: (value, currency) => {
        const found = this.inListCurrency(value, currency === '' ? null : currency);
        return found.ok ? found.value : null;
      },
    });
  }

  /** The highest floor counts; but a broken floor that refuses is never hidden behind a higher one that only asks. */
  private check(floors: readonly FloorFigure[], unitPrice: Dec): BrokenFloor | null {
    const { d, terms, list, decimals } = this;
    const net = settle(toNet(terms, unitPrice));
    const broken = floors.filter((f) => net.lt(f.at));
    const highest = broken[0];
    if (!highest) return null;
    const counts =
      highest.floor.outcome === 'lift' ? highest : (broken.find((f) => f.floor.outcome === 'refuse') ?? highest);
    const { floor } = counts;
    const least = roundUp(toShown(terms, counts.at), decimals);
    const short = least.minus(unitPrice);
    d.add({
      kind: 'floor',
      currency: list.currency,
      per: 'pack',
      flag: floor.outcome === 'lift' ? 'bit' : floor.outcome === 'ask' ? 'asks_approval' : 'refused',
      operation: floor.outcome === 'lift' ? { op: 'set', value: plain(least) } : { op: 'plus', value: '0' },
      rule: { kind: 'floor', id: floor.id, version: floor.version, name: floor.name },
      facts: { least: plain(least), short: plain(short) },
      lost: broken
        .filter((f) => f !== counts)
        .map((f) => ({
          name: f.floor.name,
          why: 'another floor counts',
          figure: plain(roundUp(toShown(terms, f.at), decimals)),
        })),
    });
    return { floor: floor.id, name: floor.name, outcome: floor.outcome, least, short };
  }
}
