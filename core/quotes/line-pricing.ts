import type { Operation, Step } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { wasPrice } from '../ledger/was-price.ts';
import type { Buyer } from '../lists/choose-list.ts';
import { type ShownTerms, toNet, toShown } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, divide, min, plain, roundHalfUp, roundUp, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { QuotesView } from './view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { taxFactor } from '../regions/tax.ts';
import { type BreakRow, ascending, reachedBreak, slicesOf } from './breaks.ts';
import { buyMore } from './buy-more.ts';
import { type FloorFigure, floorsFor } from './floors.ts';
import { LineFigure, type PricedSlice, sliceTexts } from './line-figure.ts';
import { lineFacts } from './line-facts.ts';
import { type BreakCounting, PriceWays, countFacts, ruleOf } from './lowest-price.ts';
import type { BrokenFloor, QuoteQuestion, StruckPrice } from './questions.ts';
import { type RuleResult, applyRules } from './rules/apply-rules.ts';
import type { ResolvedLine } from './resolved-line.ts';

/** A line priced by itself: before its share of a reduction on the whole quote. Figures as the list shows prices. */
export interface OwnPrice {
  readonly resolved: ResolvedLine;
  readonly d: LineFigure['d'];
  readonly unitPrice: Dec;
  /** To the minor unit, deposit included. */
  readonly total: Dec;
  readonly depositTotal: Dec;
  readonly freeUnits: Dec;
  /** Per pack, in the list's currency, net; null: unknown. */
  readonly packCost: Dec | null;
  readonly slices: readonly PricedSlice[] | null;
  readonly rules: RuleResult;
  readonly floors: readonly FloorFigure[];
  /** Floors that reach the line and cannot be worked out, with why. */
  readonly floorsNotApplied: readonly { readonly id: string; readonly name: string; readonly why: string }[];
  readonly broken: BrokenFloor | null;
  readonly buyMore: { readonly buy: Dec; readonly saves: Dec } | null;
  /** The usual price, where a dated one that is dearer stands. */
  readonly usual: Dec | null;
  readonly struck: StruckPrice | null;
}

export function priceLine(ws: QuotesView, q: QuoteQuestion, buyer: Buyer, resolved: ResolvedLine): Outcome<OwnPrice> {
  return new LinePricing(ws, q, buyer, resolved).run();
}

class LinePricing {
  private readonly list: PriceList;
  private readonly terms: ShownTerms;
  private readonly deposit: Dec;
  private readonly decimals: number;
  private readonly digits: number;
  private readonly path: string;
  private readonly packCost: Outcome<Dec>;
  private readonly ways: PriceWays;

  constructor(
    private readonly ws: QuotesView,
    private readonly q: QuoteQuestion,
    private readonly buyer: Buyer,
    private readonly r: ResolvedLine,
  ) {
    const { listPrice } = r.price;
    this.list = listPrice.list;
    this.terms = listPrice.terms;
    this.deposit = this.terms.depositShown;
    this.decimals = ws.decimalsOf(this.list);
    this.digits = minorUnits(this.list.currency);
    this.path = `lines/${r.line.id}`;
    const landed = landedCost(ws, listPrice.item, q.day);
    const [own, day] = [ws.workspace.currency, ws.rateDay(this.list, q.day)];
    const x = exchangeOn(ws, own, this.list.currency, day);
    this.packCost = !landed.ok
      ? landed
      : x
        ? figure(landed.value.landed.times(x.factor).times(listPrice.pack.units))
        : refusal('no_exchange_rate', this.path, { from: own, to: this.list.currency, day });
    this.ways = new PriceWays(ws, { listPrice, item: r.item, buyer, day: q.day, breaks: r.breaks, path: this.path });
  }

  run(): Outcome<OwnPrice> {
    const { ws, r } = this;
    const { listPrice } = r.price;
    const started = this.start();
    if (!started.ok) return started;
    const { line, byList } = started.value;
    const rules = applyRules(ws.workspace.rules, {
      line,
      item: r.item,
      pack: listPrice.pack,
      packs: listPrice.item,
      currency: this.list.currency,
      deposit: this.deposit,
      day: this.q.day,
      fact: lineFacts(ws, this.q, this.buyer, r, line.d, this.cost),
      inListCurrency: (value, currency) => this.inListCurrency(value, currency),
      path: this.path,
    });
    if (!rules.ok) return rules;
    const reduced = this.reduce(line);
    if (!reduced.ok) return reduced;
    const { id, version, name } = this.list;
    line.round(this.decimals, { currency: this.list.currency, per: 'pack', rule: { kind: 'list', id, version, name } });
    if (line.prices.some((p) => p.lt(this.deposit))) return this.notPositive(line, this.path);
    const untouched = !rules.value.touched && !r.line.reduction;
    const capped = untouched ? this.atMostNext(line) : null;
    let freeUnits = this.free(rules.value);
    const exact = capped?.exact ?? line.exactTotal;
    const saved = freeUnits.isZero() ? ZERO : divide(exact, r.quantity).minus(this.deposit).times(freeUnits);
    const floors = this.floorsOf(rules.value, r.quantity);
    const broken = this.check(line, floors.figures, divide(exact.minus(saved), r.quantity));
    const lifted = broken?.outcome === 'lift';
    if (lifted) freeUnits = ZERO;
    const unitPrice = line.d.figure;
    const total = this.total(
      line,
      capped && !lifted ? capped.total : null,
      freeUnits.isZero() ? ZERO : saved,
      rules.value,
    );
    return figure({
      resolved: r,
      d: line.d,
      unitPrice,
      total,
      depositTotal: this.deposit.times(r.quantity),
      freeUnits,
      packCost: this.cost,
      slices: line.slices,
      rules: rules.value,
      floors: floors.figures,
      floorsNotApplied: floors.notApplied,
      broken,
      buyMore:
        r.breaks?.table.way === 'whole' && untouched
          ? buyMore(ws, r, this.buyer, this.ways, capped?.most ?? null, this.decimals, (price, quantity) =>
              this.floored(price, this.floorsOf(rules.value, quantity).figures),
            )
          : null,
      usual: byList && listPrice.dated?.aboveRegular ? listPrice.regular : null,
      struck: this.struck(rules.value, unitPrice),
    });
  }

  private get cost(): Dec | null {
    return this.packCost.ok ? this.packCost.value : null;
  }

  /** The lowest of what does not add up, then what is on top; with sliced breaks for every slice by itself. */
  private start(): Outcome<{ line: LineFigure; byList: boolean }> {
    const { r, ways } = this;
    const { breaks, quantity } = r;
    if (breaks?.table.way === 'sliced') return this.sliced(breaks);
    const row = breaks ? reachedBreak(breaks.table.rows, breaks.counted) : null;
    const found = ways.at(row);
    if (!found.ok) return found;
    const { d, byList } = found.value;
    if (breaks && !row) {
      d.add({
        kind: 'break',
        operation: { op: 'plus', value: '0' },
        currency: this.list.currency,
        per: 'pack',
        rule: ruleOf(breaks.table),
        facts: { ...countFacts(breaks), reached: 'no break' },
      });
    }
    this.nameOtherLists(d.steps);
    return figure({ line: new LineFigure(d, quantity, null), byList });
  }

  private sliced(breaks: BreakCounting): Outcome<{ line: LineFigure; byList: boolean }> {
    const { r, ways } = this;
    const { table, before, per } = breaks;
    const parts = slicesOf(table.rows, before, r.quantity.times(per));
    const slices: PricedSlice[] = [];
    let rest = r.quantity;
    for (const [i, part] of parts.entries()) {
      const found = ways.at(part.row);
      if (!found.ok) return found;
      // what was measured in weight or money is shared out so that the packs of the slices sum to the line's
      const quantity = i === parts.length - 1 ? rest : per.eq(1) ? part.quantity : divide(part.quantity, per);
      rest = rest.minus(quantity);
      slices.push({ from: part.from, quantity, price: found.value.d.figure });
    }
    // what the line has before any break is what the average is shown beside: without it there is no price
    const unbroken = ways.at(null);
    if (!unbroken.ok) return unbroken;
    const { d, byList } = unbroken.value;
    d.add({
      kind: 'break',
      operation: { op: 'slices', slices: sliceTexts(slices) },
      currency: this.list.currency,
      per: 'pack',
      rule: ruleOf(table),
      facts: {
        way: 'sliced: each slice at its own price; shown is the average',
        ...(breaks.of ? { 'breaks of the list': breaks.of.list.name } : {}),
        ...Object.fromEntries(
          slices.map((s) => [`from ${plain(s.from)}: ${plain(settle(s.quantity))} at`, plain(settle(s.price))]),
        ),
      },
      ...(ways.reductions.length > 0
        ? { lost: ways.reductions.map((name) => ({ name, why: 'held against every slice' })) }
        : {}),
    });
    this.nameOtherLists(d.steps);
    return figure({ line: new LineFigure(d, r.quantity, slices), byList });
  }

  /** The lists that lost stand beside the first figure that is a list's. */
  private nameOtherLists(steps: Step[]): void {
    const { lost, listPrice } = this.r.price;
    if (lost.length === 0) return;
    const own = steps.findLastIndex((s) => s.rule?.kind === 'list' && s.rule.id === listPrice.list.id);
    const at = Math.max(own, 0);
    steps[at] = { ...steps[at]!, lost: [...(steps[at]!.lost ?? []), ...lost] };
  }

  private inListCurrency(value: string, currency: string | null | undefined): Outcome<Dec> {
    const from = currency ?? this.list.currency;
    const day = this.ws.rateDay(this.list, this.q.day);
    const x = exchangeOn(this.ws, from, this.list.currency, day);
    return x
      ? figure(dec(value).times(x.factor))
      : refusal('no_exchange_rate', this.path, { from, to: this.list.currency, day });
  }

  /** Names the goods that fall to nothing or less: of slices the lowest. */
  private notPositive(line: LineFigure, path: string): Outcome<never> {
    const goods = line.prices.reduce(min).minus(this.deposit);
    return refusal('price_not_positive', path, { price: plain(settle(goods)) });
  }

  /** What the seller gives by hand; of slices on every one. */
  private reduce(line: LineFigure): Outcome<void> {
    const { reduction, id } = this.r.line;
    if (!reduction) return figure(undefined);
    const { list, deposit } = this;
    // an amount off does not stop at nothing: a seller who takes off more than there is has mistyped
    const operation: Operation =
      reduction.kind === 'price'
        ? { op: 'set', value: reduction.value }
        : reduction.kind === 'percent_off'
          ? { op: 'goods', change: 'percent_off', value: reduction.value, deposit: plain(deposit) }
          : { op: 'plus', value: plain(dec(reduction.value).negated()) };
    line.apply({
      kind: 'manual_reduction',
      operation,
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'quote', id, name: 'by hand' },
      facts: {
        [{ percent_off: '% off', amount_off: 'amount off', price: 'price' }[reduction.kind]]: reduction.value,
        ...(deposit.isZero() ? {} : { 'deposit, never reduced': plain(deposit) }),
      },
    });
    const path = `${this.path}/reduction`;
    if (line.prices.some((p) => p.lt(deposit))) return this.notPositive(line, path);
    const nothing = line.prices.some((p) => p.eq(deposit)) && !reduction.zeroConfirmed;
    return nothing ? refusal('zero_not_confirmed', path, { item: this.r.item.sku }) : figure(undefined);
  }

  /** "Never more than the next break": what counts together costs at most the next break's least total; shared by quantity. */
  private atMostNext(line: LineFigure): { total: Dec; exact: Dec; most: Dec } | null {
    const { breaks, quantity } = this.r;
    if (!breaks || breaks.table.way !== 'whole' || !breaks.table.neverMoreThanNext) return null;
    const next = ascending(breaks.table.rows).find((row) => breaks.counted.lt(row.from));
    const price = next && this.priceAt(next);
    if (!price) return null;
    const most = roundHalfUp(price.times(next.from), this.digits);
    if (line.d.figure.times(breaks.counted).lte(most)) return null;
    // the lines before this one have had the share of their quantity of it; so no cent is lost
    const upTo = (units: Dec) => roundHalfUp(divide(most.times(units), breaks.counted), this.digits);
    const total = upTo(breaks.before.plus(quantity)).minus(upTo(breaks.before));
    line.d.add({
      kind: 'break',
      operation: { op: 'set', value: plain(divide(total, quantity)) },
      currency: this.list.currency,
      per: 'pack',
      rule: ruleOf(breaks.table),
      facts: { 'never more than the next break': `${next.from} at ${plain(price)} make ${plain(most)}` },
    });
    return { total, exact: divide(most.times(quantity), breaks.counted), most };
  }

  private priceAt(row: BreakRow): Dec | null {
    const found = this.ways.at(row);
    return found.ok ? roundHalfUp(found.value.d.figure, this.decimals) : null;
  }

  private free(rules: RuleResult): Dec {
    if (!rules.free) return ZERO;
    const { buy, free } = rules.free;
    const round = buy.plus(free);
    return round.lte(0) ? ZERO : this.r.quantity.divToInt(round).times(free);
  }

  private total(line: LineFigure, capped: Dec | null, saved: Dec, rules: RuleResult): Dec {
    const { list, digits, r } = this;
    line.d.add({
      kind: 'line_total',
      currency: list.currency,
      per: 'line',
      operation: capped ? { op: 'set', value: plain(capped) } : line.total(digits),
      facts: { quantity: plain(r.quantity) },
    });
    if (!saved.isZero()) {
      line.d.add({
        kind: 'free_units',
        currency: list.currency,
        per: 'line',
        operation: { op: 'plus', value: plain(roundHalfUp(saved, digits).negated()) },
        rule: rules.free!.rule,
        facts: { 'free units': plain(this.free(rules)) },
      });
    }
    return line.d.figure;
  }

  private floorsOf(rules: RuleResult, quantity: Dec): ReturnType<typeof floorsFor> {
    const { ws, r, terms, buyer } = this;
    const { item, pack } = r.price.listPrice;
    const map = item.map ? this.inListCurrency(item.map.amount, item.map.currency) : null;
    const tax = item.map?.taxIn ? ws.taxOn(item.taxClass, this.q.day, ws.taxRegion(this.list)) : null;
    const own = ws.floors.candidates(r.item.id);
    return floorsFor(ws, rules.floors.length > 0 ? [...own, ...rules.floors] : own, {
      item: r.item,
      buyer,
      quantity,
      cost: this.packCost,
      listNet: toNet(terms, r.price.listPrice.regular),
      mapNet: map?.ok ? divide(map.value.times(pack.units), taxFactor(tax?.percent ?? '0')) : null,
      inQuoteCurrency: (value, currency) => {
        const found = this.inListCurrency(value, currency === '' ? null : currency);
        return found.ok ? found.value : null;
      },
    });
  }

  /**
   * Holds the net price of a unit, before any total is rounded, against the floors.
   */
  private check(line: LineFigure, floors: readonly FloorFigure[], unitPrice: Dec): BrokenFloor | null {
    const { list } = this;
    const broken = this.broken(floors, unitPrice);
    const counts = decisive(broken);
    if (!counts) return null;
    const { floor } = counts;
    const least = this.leastOf(counts);
    const short = least.minus(unitPrice);
    line.apply({
      kind: 'floor',
      currency: list.currency,
      per: 'pack',
      flag: floor.outcome === 'lift' ? 'bit' : floor.outcome === 'ask' ? 'asks_approval' : 'refused',
      operation: floor.outcome === 'lift' ? { op: 'set', value: plain(least) } : { op: 'plus', value: '0' },
      rule: { kind: 'floor', id: floor.id, version: floor.version, name: floor.name },
      facts: { least: plain(least), short: plain(settle(short)) },
      lost: broken
        .filter((f) => f !== counts)
        .map((f) => ({
          name: f.floor.name,
          why: 'another floor counts',
          figure: plain(this.leastOf(f)),
        })),
    });
    return { floor: floor.id, name: floor.name, outcome: floor.outcome, fromCost: counts.fromCost, least, short };
  }

  /** The floors that a unit price is under, the highest first. */
  private broken(floors: readonly FloorFigure[], unitPrice: Dec): readonly FloorFigure[] {
    const net = settle(toNet(this.terms, unitPrice));
    return floors.filter((f) => net.lt(settle(f.at)));
  }

  /** The least unit price of a floor, as the list shows it. */
  private leastOf(f: FloorFigure): Dec {
    return roundUp(toShown(this.terms, f.at), this.decimals);
  }

  /** A unit price as the floors leave it; null: they refuse it. */
  private floored(unitPrice: Dec, floors: readonly FloorFigure[]): Dec | null {
    const counts = decisive(this.broken(floors, unitPrice));
    if (counts?.floor.outcome === 'refuse') return null;
    return counts?.floor.outcome === 'lift' ? this.leastOf(counts) : unitPrice;
  }

  /** An earlier price that a rule proposes to be struck: the ledger decides. docs/arithmetic.md, "Was-price". */
  private struck(rules: RuleResult, paid: Dec): StruckPrice | null {
    const { ws, r, list, q } = this;
    const proposed = rules.struck;
    if (!proposed) return null;
    const { item, pack } = r.price.listPrice;
    const was = wasPrice(ws, { list: list.id, item: item.id, pack: pack.id, began: proposed.began ?? q.day });
    const price = proposed.price ?? was?.lowest ?? null;
    const why = !was
      ? 'no price was posted in the 30 days before'
      : price!.gt(was.lowest)
        ? 'it is higher than the lowest price of the 30 days before'
        : price!.lte(paid)
          ? 'it is not higher than the price asked'
          : null;
    return { rule: proposed.rule, price, lowest: was?.lowest ?? null, on: was?.on ?? null, shown: why === null, why };
  }
}

/** The broken floor that decides: the highest; but one that refuses is never hidden behind a higher one that only asks. */
function decisive(broken: readonly FloorFigure[]): FloorFigure | undefined {
  const [highest] = broken;
  if (!highest || highest.floor.outcome === 'lift') return highest;
  return broken.find((f) => f.floor.outcome === 'refuse') ?? highest;
}
