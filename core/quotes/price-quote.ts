import { Derivation, type Lost } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { buyerOf } from '../lists/buyer.ts';
import { type Buyer, listsLeftOut } from '../lists/choose-list.ts';
import { toNet } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, plain, roundHalfUp, settle } from '../numbers/decimal.ts';
import { type Outcome, type Reason, figure, refusal } from '../reasons.ts';
import { marginOf } from '../recipes/markup.ts';
import { type Prepared, type PriceList, taxFactor } from '../workspace/index.ts';
import { breakTableFor, inPool } from './breaks.ts';
import { chargeOn, covers, inOrder } from './charges.ts';
import { linePrice, listsFor } from './line-list.ts';
import { type OwnPrice, type ResolvedLine, priceLine } from './line-pricing.ts';
import type { BreakCounting } from './lowest-price.ts';
import { allowedQuantity } from './order-quantity.ts';
import type { PricedCharge, PricedLine, PricedQuote, QuoteLineQuestion, QuoteQuestion } from './questions.ts';
import { type SharedReduction, shareReduction } from './quote-reduction.ts';
import { TaxSums } from './tax-sums.ts';

/**
 * Prices a quote as a whole: breaks may count over several lines, a reduction on the whole is shared within the floors,
 * proportional charges come last. docs/arithmetic.md, "Quotes".
 */
export function priceQuote(ws: Prepared, q: QuoteQuestion): Outcome<PricedQuote> {
  const buyer = buyerOf(ws, q.buyer);
  if (!buyer.ok) return buyer;
  const lists = listsFor(ws, buyer.value, q.list, q.day);
  if (!lists.ok) return lists;
  return new QuotePricing(ws, q, buyer.value, lists.value).run();
}

type Found = Omit<ResolvedLine, 'breaks'>;

class QuotePricing {
  private readonly home: PriceList;
  private readonly digits: number;
  private readonly taxes: TaxSums;
  private readonly taxRegion: string | null;
  /** The lists that are not meant for the buyer at all. */
  private readonly leftOut: readonly Lost[];

  constructor(
    private readonly ws: Prepared,
    private readonly q: QuoteQuestion,
    private readonly buyer: Buyer,
    private readonly lists: readonly { list: PriceList; why: string }[],
  ) {
    this.home = lists[0]!.list;
    this.digits = minorUnits(this.home.currency);
    this.leftOut = q.list ? [] : listsLeftOut(ws, buyer, q.day);
    this.taxes = new TaxSums(this.home);
    this.taxRegion = ws.taxRegion(this.home) ?? (this.home.taxIn ? null : buyer.region);
  }

  run(): Outcome<PricedQuote> {
    const { ws, q, home } = this;
    const found = q.lines.map((line) => this.resolve(line));
    const counting = this.counting(found);
    const own = found.map((f, i) => (f.ok ? priceLine(ws, q, this.buyer, { ...f.value, breaks: counting[i]! }) : f));
    const priced = own.flatMap((o) => (o.ok ? [o.value] : []));
    const reduction = q.reduction ? shareReduction(q.reduction, priced, this.digits) : null;
    const place = new Map(priced.map((p, i) => [p, i]));
    const lines = own.map((o, i) => ({
      id: q.lines[i]!.id,
      priced: o.ok ? this.finish(o.value, reduction, place.get(o.value)!) : o,
    }));
    const charges = this.charges(lines, own);
    if (!charges.ok) return charges;
    const taxLines = this.taxes.lines();
    const tax = taxLines.reduce((sum, t) => sum.plus(t.tax), ZERO);
    let [linesTotal, costKnown, netKnown] = [ZERO, ZERO, ZERO];
    for (const { priced: line } of lines) {
      if (!line.ok) continue;
      linesTotal = linesTotal.plus(line.value.total);
      if (!line.value.costTotal) continue;
      costKnown = costKnown.plus(line.value.costTotal);
      netKnown = netKnown.plus(line.value.netTotal);
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
        refused: reduction.refused,
      },
      linesTotal,
      taxes: taxLines,
      net: toPay.minus(tax),
      toPay,
      margin: netKnown.isZero() ? null : marginOf(costKnown, netKnown),
      outcome: outcomeOf(lines, reduction, own),
    });
  }

  private resolve(line: QuoteLineQuestion): Outcome<Found> {
    const { ws, q } = this;
    const path = `lines/${line.id}`;
    const item = ws.items.get(line.item);
    if (!item) return refusal('unknown_item', path, { item: line.item });
    const pack = ws.packOf(item, line.pack);
    if (!pack) return refusal('unknown_pack', path, { item: item.sku, pack: line.pack });
    const quantity = allowedQuantity(item, dec(line.quantity));
    if (!quantity.ok) return quantity;
    const price = linePrice(ws, this.lists, this.leftOut, {
      item: item.id,
      pack: line.pack,
      day: q.day,
      unposted: q.unposted ?? 'refuse',
    });
    return price.ok ? figure({ line, item, pack, quantity: quantity.value, price: price.value }) : price;
  }

  /** The break table of every line, with the quantity that counts for it and what came before on the quote. */
  private counting(found: readonly Outcome<Found>[]): (BreakCounting | null)[] {
    const { ws } = this;
    const sums = new Map<string, Dec>();
    const first = found.map((f) => {
      if (!f.ok) return null;
      const { item, pack, quantity, price } = f.value;
      const table = breakTableFor(ws, price.listPrice.list.id, price.listPrice.item, pack.name, this.buyer);
      const pools = ws.workspace.pools.filter((p) => inPool(ws, p, item, pack.name)).map((p) => `pool ${p.id}`);
      const keys = [`item ${item.id}\u0000${pack.id}`, ...pools];
      const before = new Map(keys.map((k) => [k, sums.get(k) ?? ZERO]));
      for (const k of keys) sums.set(k, before.get(k)!.plus(quantity));
      return table && { table, before, own: keys[0]!, quantity };
    });
    return first.map((t) => {
      if (!t) return null;
      const { table } = t;
      const key = table.count === 'item' ? t.own : table.count === 'pool' ? `pool ${table.pool}` : '';
      // an item outside of the pool counts by itself
      const together = key !== '' && t.before.has(key);
      return {
        table,
        counted: together ? sums.get(key)! : t.quantity,
        before: together ? t.before.get(key)! : ZERO,
      };
    });
  }

  private tax(taxClass: string, path: string): Outcome<string> {
    const tax = this.ws.taxOn(taxClass, this.q.day, this.taxRegion);
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
    const netTotal = toNet({ ...listPrice.terms, deposit: ZERO }, goods);
    const { item, pack } = listPrice;
    const taxed: { percent: string; shown: Dec }[] = [];
    for (const [taxClass, shown] of [
      [item.taxClass, goods],
      [pack.depositTaxClass ?? item.taxClass, depositTotal],
    ] as const) {
      const percent = this.tax(taxClass, path);
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
      brokenFloor: own.broken,
      asks: own.rules.asks,
      refused: this.refusals(own),
      slices: own.lowest.slices ?? [],
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

  /** Charge lines that rules added, then proportional charges, each after those it covers. */
  private charges(
    lines: readonly { priced: Outcome<PricedLine> }[],
    own: readonly Outcome<OwnPrice>[],
  ): Outcome<PricedCharge[]> {
    const { ws, q, home } = this;
    const out: PricedCharge[] = [];
    for (const o of own) {
      if (!o.ok) continue;
      for (const c of o.value.rules.charges) {
        const id = `${o.value.resolved.line.id}/${c.rule}`;
        const percent = this.tax(c.taxClass, `charges/${id}`);
        if (!percent.ok) return percent;
        const total = roundHalfUp(c.amount, this.digits);
        const d = this.charge(total, 'start', { 'added by': c.name });
        out.push(this.chargeLine(id, c.name, 'rule', total, percent.value, null, null, d));
      }
    }
    const asked = [];
    for (const a of q.charges ?? []) {
      const terms = ws.charges.get(a.charge);
      if (!terms) return refusal('unknown_charge', `charges/${a.charge}`, { charge: a.charge });
      asked.push({ ...terms, asked: a });
    }
    const ordered = inOrder(asked);
    if (!ordered.ok) return ordered;
    for (const terms of ordered.value) {
      const limit = (
        typed: string | null | undefined,
        own: { amount: string; currency: string } | null | undefined,
      ) => {
        if (typed !== undefined && typed !== null) return figure(dec(typed));
        if (!own) return figure(null);
        const day = ws.rateDay(home, q.day);
        const x = exchangeOn(ws, own.currency, home.currency, day);
        return x
          ? figure(dec(own.amount).times(x.factor))
          : refusal('no_exchange_rate', `charges/${terms.id}`, { from: own.currency, to: home.currency, day });
      };
      const least = limit(terms.asked.least, terms.least);
      const most = limit(terms.asked.most, terms.most);
      if (!least.ok) return least;
      if (!most.ok) return most;
      const percent = this.tax(terms.taxClass, `charges/${terms.id}`);
      if (!percent.ok) return percent;
      let covered = ZERO;
      own.forEach((o, i) => {
        const { priced } = lines[i]!;
        if (!o.ok || !priced.ok) return;
        const { item, pack } = o.value.resolved;
        if (covers(ws, terms, item, pack.name)) covered = covered.plus(priced.value.netTotal);
      });
      for (const c of out) if (terms.coversCharges?.includes(c.id)) covered = covered.plus(c.net);
      const rate = terms.asked.percent ?? terms.percent;
      const net = chargeOn(rate, covered, least.value, most.value);
      const d = this.charge(covered, 'start', { covered: plain(covered) }, terms);
      this.charge(dec(rate).times('0.01'), 'times', { 'per cent': rate }, terms, d);
      if (!net.eq(d.figure)) {
        const limits = {
          ...(least.value ? { least: plain(least.value) } : {}),
          ...(most.value ? { most: plain(most.value) } : {}),
        };
        this.charge(net, 'set', limits, terms, d, true);
      }
      if (home.taxIn) this.charge(taxFactor(percent.value), 'times', { 'tax per cent': percent.value }, terms, d);
      const total = roundHalfUp(d.figure, this.digits);
      if (!total.eq(d.figure)) this.charge(total, 'set', { 'rounded to': `${this.digits} decimals` }, terms, d);
      out.push(
        this.chargeLine(
          terms.id,
          terms.name,
          'proportional',
          total,
          percent.value,
          covered,
          {
            percent: rate,
            least: least.value && plain(least.value),
            most: most.value && plain(most.value),
          },
          d,
        ),
      );
    }
    return figure(out);
  }

  private charge(
    value: Dec,
    op: 'start' | 'times' | 'set',
    facts: Record<string, string>,
    terms: { id: string; version: number; name: string } | null = null,
    d = new Derivation(),
    bit = false,
  ): Derivation {
    d.add({
      kind: 'charge',
      operation: { op, value: plain(value) },
      currency: this.home.currency,
      per: 'line',
      facts,
      ...(terms ? { rule: { kind: 'charge', id: terms.id, version: terms.version, name: terms.name } } : {}),
      ...(bit ? { flag: 'bit' as const } : {}),
    });
    return d;
  }

  private chargeLine(
    id: string,
    name: string,
    kind: PricedCharge['kind'],
    total: Dec,
    taxPercent: string,
    covered: Dec | null,
    terms: PricedCharge['terms'],
    d: Derivation,
  ): PricedCharge {
    this.taxes.add(taxPercent, total);
    const net = this.home.taxIn ? toNet(untaxed(taxPercent), total) : total;
    return { id, name, kind, total, net, taxPercent, covered, terms, steps: d.steps };
  }
}

const untaxed = (percent: string) => ({
  taxFactor: taxFactor(percent),
  taxPercent: percent,
  deposit: ZERO,
  depositTaxFactor: taxFactor('0'),
  depositTaxPercent: '0',
});

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
