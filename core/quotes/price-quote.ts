import { buyerOf } from '../lists/buyer.ts';
import type { Buyer } from '../lists/choose-list.ts';
import { depositPartShown, toNet, withoutDeposit } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, plain, roundHalfUp, settle } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal } from '../reasons.ts';
import { marginOf } from '../recipes/markup.ts';
import type { QuotesView } from './view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { type LineOnQuote, chargeLines } from './charge-lines.ts';
import { type FoundLine, countTogether } from './counting.ts';
import { type QuoteLists, linePrice, listsFor } from './line-list.ts';
import { type OwnPrice, priceLine } from './line-pricing.ts';
import { allowedQuantity, limitsFor } from './order-quantity.ts';
import type { PricedLine, PricedQuote, QuoteLineQuestion, QuoteQuestion } from './questions.ts';
import { type SharedReduction, shareReduction } from './quote-reduction.ts';
import { TaxSums } from './tax-sums.ts';

/**
 * Prices a quote as a whole: breaks may count over several lines, a reduction on the whole is shared within the floors,
 * proportional charges come last. docs/arithmetic.md, "Quotes".
 */
export function priceQuote(ws: QuotesView, q: QuoteQuestion): Outcome<PricedQuote> {
  const buyer = buyerOf(ws, q.buyer);
  if (!buyer.ok) return buyer;
  const lists = listsFor(ws, buyer.value, q.list, q.day);
  if (!lists.ok) return lists;
  return new QuotePricing(ws, q, buyer.value, lists.value).run();
}

class QuotePricing {
  private readonly home: PriceList;
  private readonly digits: number;
  private readonly taxes: TaxSums;

  constructor(
    private readonly ws: QuotesView,
    private readonly q: QuoteQuestion,
    private readonly buyer: Buyer,
    private readonly lists: QuoteLists,
  ) {
    this.home = lists.candidates[0]!.list;
    this.digits = minorUnits(this.home.currency);
    this.taxes = new TaxSums(this.home);
  }

  run(): Outcome<PricedQuote> {
    const { ws, q, home, buyer } = this;
    const found = q.lines.map((line) => this.resolve(line));
    const counting = countTogether(ws, buyer, found);
    const own = found.map((f, i) => {
      const breaks = counting[i]!;
      return !f.ok ? f : !breaks.ok ? breaks : priceLine(ws, q, buyer, { breaks: breaks.value, ...f.value });
    });
    const priced = own.flatMap((o) => (o.ok ? [o.value] : []));
    const reduction = q.reduction ? shareReduction(q.reduction, priced, this.digits) : null;
    const place = new Map(priced.map((p, i) => [p, i]));
    const lines = own.map((o, i) => ({
      id: q.lines[i]!.id,
      priced: o.ok ? this.finish(o.value, reduction, place.get(o.value)!) : o,
    }));
    const onQuote = lines.flatMap(({ priced: line }, i): LineOnQuote[] => {
      const o = own[i]!;
      if (!o.ok || !line.ok) return [];
      return [{ own: o.value, line: line.value, taxRegion: this.taxRegion(o.value.resolved.price.listPrice.list) }];
    });
    const { taxes } = this;
    const charges = chargeLines({ ws, q, home, taxes, lines: onQuote, taxRegion: this.taxRegion(home) });
    if (!charges.ok) return charges;
    const taxLines = taxes.lines();
    const tax = taxLines.reduce((sum, t) => sum.plus(t.tax), ZERO);
    let [linesTotal, costKnown, netKnown] = [ZERO, ZERO, ZERO];
    for (const { line } of onQuote) {
      linesTotal = linesTotal.plus(line.total);
      if (!line.costTotal) continue;
      costKnown = costKnown.plus(line.costTotal);
      netKnown = netKnown.plus(line.netTotal);
    }
    for (const c of charges.value) linesTotal = linesTotal.plus(c.total);
    const toPay = home.taxIn ? linesTotal : linesTotal.plus(tax);
    return figure({
      currency: home.currency,
      taxIn: home.taxIn,
      list: home.id,
      lines,
      charges: charges.value,
      reduction: reduction && {
        asked: reduction.asked,
        given: reduction.given,
        possible: reduction.possible,
        goods: reduction.goods,
        refused: reduction.refused,
      },
      linesTotal,
      taxes: taxLines,
      net: toPay.minus(tax),
      toPay,
      margin: netKnown.isZero() ? null : marginOf(costKnown, netKnown),
      profit: onQuote.some(({ line }) => line.costTotal) ? netKnown.minus(costKnown) : null,
      outcome: outcomeOf(lines, reduction, own),
    });
  }

  /** Whose taxes count for what a list prices: its region's, else on a list with tax out the buyer's. */
  private taxRegion(list: PriceList): string | null {
    return this.ws.taxRegion(list) ?? (list.taxIn ? null : this.buyer.region);
  }

  private resolve(line: QuoteLineQuestion): Outcome<FoundLine> {
    const { ws, q } = this;
    const path = `lines/${line.id}`;
    const item = ws.items.get(line.item);
    if (!item) return refusal('unknown_item', path, { item: line.item });
    const pack = ws.packOf(item, line.pack);
    if (!pack) return refusal('unknown_pack', path, { item: item.sku, pack: line.pack });
    // a quantity that nobody may order finds no price worth telling
    const positive = allowedQuantity(item, dec(line.quantity), {});
    if (!positive.ok) return positive;
    const price = linePrice(ws, this.lists, {
      item: item.id,
      pack: line.pack,
      day: q.day,
      quantity: line.quantity,
      channel: this.buyer.channel,
      unposted: q.unposted ?? 'refuse',
    });
    const entry = price.ok ? price.value.listPrice.entry : null;
    const quantity = allowedQuantity(item, dec(line.quantity), limitsFor(ws, item, this.buyer, entry));
    if (!quantity.ok) return quantity;
    return price.ok ? figure({ line, item, pack, quantity: quantity.value, price: price.value }) : price;
  }

  private tax(taxClass: string, path: string, region: string | null): Outcome<string> {
    const tax = this.ws.taxOn(taxClass, this.q.day, region);
    return tax ? figure(tax.percent) : refusal('no_tax_rate', path, { taxClass, day: this.q.day });
  }

  /** Takes the line's share of the whole reduction, its taxes, and what it leaves. */
  private finish(own: OwnPrice, reduction: SharedReduction | null, at: number): Outcome<PricedLine> {
    const { resolved, d, depositTotal } = own;
    const { listPrice } = resolved.price;
    const path = `lines/${resolved.line.id}`;
    const share = reduction ? reduction.shares[at]! : ZERO;
    if (!share.isZero()) {
      d.add({
        kind: 'quote_reduction',
        operation: { op: 'plus', value: plain(share.negated()) },
        currency: this.home.currency,
        per: 'line',
        rule: { kind: 'quote', id: resolved.line.id, name: 'reduction on the whole quote' },
        facts: {
          'whole reduction': plain(reduction!.asked),
          'this line can give': plain(reduction!.capacities[at]!),
        },
        ...(reduction!.asks ? { flag: 'asks_approval' as const } : {}),
      });
    }
    const total = own.total.minus(share);
    const goods = total.minus(depositTotal);
    const { item, terms } = listPrice;
    const netTotal = toNet(withoutDeposit(terms), goods);
    const region = this.taxRegion(listPrice.list);
    const taxed: { percent: string; shown: Dec }[] = [];
    // what is taxed sums to the total in whole minor units, also where an exchanged deposit has more digits
    const parts = terms.deposits.map((p) => ({
      taxClass: p.taxClass,
      shown: roundHalfUp(depositPartShown(p).times(resolved.quantity), this.digits),
    }));
    const rest = parts.reduce((left, p) => left.minus(p.shown), total);
    for (const { taxClass, shown } of [{ taxClass: item.taxClass, shown: rest }, ...parts]) {
      const percent = this.tax(taxClass, path, region);
      if (!percent.ok) return percent;
      this.taxes.add(percent.value, shown);
      taxed.push({ percent: percent.value, shown });
    }
    const costTotal = own.packCost ? own.packCost.times(resolved.quantity) : null;
    return figure({
      id: resolved.line.id,
      list: listPrice.list.id,
      unitPrice: own.unitPrice,
      listPrice: listPrice.regular,
      total,
      shareOfReduction: share,
      freeUnits: own.freeUnits,
      netTotal,
      taxed,
      costTotal,
      margin: costTotal ? marginOf(costTotal, netTotal) : null,
      profit: costTotal && netTotal.minus(costTotal),
      dearerThanUsual: own.usual,
      struck: own.struck,
      brokenFloor: own.broken,
      floorsNotApplied: own.floorsNotApplied,
      asks: own.rules.asks,
      refused: this.refusals(own),
      slices: own.slices ?? [],
      breaks: resolved.breaks,
      buyMore: own.buyMore,
      steps: d.steps,
    });
  }

  private refusals({ resolved, rules, broken, unitPrice }: OwnPrice): Reason[] {
    const path = `lines/${resolved.line.id}`;
    const byRules = rules.refuses.map((rule) => refusal('rule_refuses', path, { rule }).reason);
    if (broken?.outcome !== 'refuse') return byRules;
    const params = { floor: broken.name, price: plain(settle(unitPrice)), least: plain(broken.least) };
    return [refusal('floor_refuses', path, params).reason, ...byRules];
  }
}

function outcomeOf(
  lines: readonly { priced: Outcome<PricedLine> }[],
  reduction: SharedReduction | null,
  own: readonly Outcome<OwnPrice>[],
): PricedQuote['outcome'] {
  if (lines.some((l) => !l.priced.ok)) return 'incomplete';
  const values = own.flatMap((o) => (o.ok ? [o.value] : []));
  const broken = values.flatMap((o) => (o.broken ? [o.broken.outcome] : []));
  if (broken.includes('refuse') || reduction?.refused || values.some((o) => o.rules.refuses.length > 0))
    return 'refused';
  const asks = broken.includes('ask') || reduction?.asks || values.some((o) => o.rules.asks.length > 0);
  return asks ? 'asks_approval' : 'fine';
}
