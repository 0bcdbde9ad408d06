import { Derivation } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { toNet, untaxing } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, plain, roundHalfUp } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { QuotesView } from './view.ts';
import type { PriceList } from '../lists/price-list.ts';
import { taxFactor } from '../regions/tax.ts';
import { type ProportionalCharge, chargeOn, covers, inOrder } from './charges.ts';
import type { OwnPrice } from './line-pricing.ts';
import type { PricedCharge, PricedLine, QuoteCharge, QuoteQuestion } from './questions.ts';
import type { TaxSums } from './tax-sums.ts';

/** A line that is priced, and what it came from. */
export interface LineOnQuote {
  readonly own: OwnPrice;
  readonly line: PricedLine;
  readonly taxRegion: string | null;
}

interface Context {
  readonly ws: QuotesView;
  readonly q: QuoteQuestion;
  readonly home: PriceList;
  readonly taxes: TaxSums;
  readonly lines: readonly LineOnQuote[];
  /** Whose taxes count for a charge that covers no line. */
  readonly taxRegion: string | null;
}

/** Charge lines that rules added, then proportional charges, each after those it covers. */
export function chargeLines(c: Context): Outcome<PricedCharge[]> {
  return new ChargeLines(c).run();
}

class ChargeLines {
  private readonly out: PricedCharge[] = [];
  private readonly digits: number;

  constructor(private readonly c: Context) {
    this.digits = minorUnits(c.home.currency);
  }

  run(): Outcome<PricedCharge[]> {
    const byRules = this.byRules();
    if (!byRules.ok) return byRules;
    const asked: (ProportionalCharge & { asked: QuoteCharge })[] = [];
    for (const a of this.c.q.charges ?? []) {
      const terms = this.c.ws.charges.get(a.charge);
      if (!terms) return refusal('unknown_charge', `charges/${a.charge}`, { charge: a.charge });
      asked.push({ ...terms, asked: a });
    }
    const ordered = inOrder(asked);
    if (!ordered.ok) return ordered;
    for (const terms of ordered.value) {
      const added = this.proportional(terms, terms.asked);
      if (!added.ok) return added;
    }
    return figure(this.out);
  }

  private byRules(): Outcome<void> {
    for (const { own, taxRegion } of this.c.lines) {
      for (const charge of own.rules.charges) {
        const id = `${own.resolved.line.id}/${charge.rule}`;
        const percent = this.tax(charge.taxClass, `charges/${id}`, taxRegion);
        if (!percent.ok) return percent;
        const total = roundHalfUp(charge.amount, this.digits);
        const d = this.step(new Derivation(), total, 'start', { 'added by': charge.name });
        this.add({ id, name: charge.name, kind: 'rule', total, taxPercent: percent.value }, d, null);
      }
    }
    return figure(undefined);
  }

  private proportional(terms: ProportionalCharge, asked: QuoteCharge): Outcome<void> {
    const { ws, q, home, lines } = this.c;
    const least = this.limit(terms, asked.least, terms.least);
    const most = this.limit(terms, asked.most, terms.most);
    if (!least.ok) return least;
    if (!most.ok) return most;
    const channels = q.buyer.channel ? [q.buyer.channel] : [];
    const covered = lines.filter(({ own }) => {
      const { line, item, pack } = own.resolved;
      return inSections(asked.sections, line.section) && covers(ws, terms, item, pack.name, channels);
    });
    const region = covered[0] ?? lines[0];
    const percent = this.tax(terms.taxClass, `charges/${terms.id}`, region ? region.taxRegion : this.c.taxRegion);
    if (!percent.ok) return percent;
    let base = covered.reduce((sum, { line }) => sum.plus(line.netTotal), ZERO);
    for (const other of this.out) if (terms.coversCharges?.includes(other.id)) base = base.plus(other.net);
    const rate = asked.percent ?? terms.percent;
    const others = this.out.some((o) => terms.coversCharges?.includes(o.id) && !o.net.isZero());
    // without anything it covers there is nothing to charge, not even the least
    const net = covered.length > 0 || others ? chargeOn(rate, base, least.value, most.value) : ZERO;
    const d = this.step(
      new Derivation(),
      base,
      'start',
      covered.length > 0 || others ? { covered: plain(base) } : { covered: 'no line of the quote' },
      terms,
    );
    this.step(d, dec(rate).times('0.01'), 'times', { 'per cent': rate, ...per(terms) }, terms);
    if (!net.eq(d.figure)) {
      const limits = {
        ...(least.value ? { least: plain(least.value) } : {}),
        ...(most.value ? { most: plain(most.value) } : {}),
        ...per(terms),
      };
      this.step(d, net, 'set', limits, terms, 'bit');
    }
    const periods = terms.period ? (asked.periods ?? '1') : null;
    if (periods && !dec(periods).eq(1)) this.step(d, dec(periods), 'times', { [`${terms.period}s`]: periods }, terms);
    if (home.taxIn) this.step(d, taxFactor(percent.value), 'times', { 'tax per cent': percent.value }, terms);
    const total = roundHalfUp(d.figure, this.digits);
    if (!total.eq(d.figure)) {
      d.add({
        kind: 'charge',
        operation: { op: 'round', decimals: this.digits, way: 'half_up' },
        currency: home.currency,
        per: 'line',
        rule: ruleOf(terms),
      });
    }
    const { id, name } = terms;
    this.add({ id, name, kind: 'proportional', total, taxPercent: percent.value }, d, {
      covered: base,
      period: terms.period ?? null,
      terms: {
        percent: rate,
        least: least.value && plain(least.value),
        most: most.value && plain(most.value),
        sections: asked.sections ?? null,
        periods: asked.periods ?? null,
      },
    });
    return figure(undefined);
  }

  /** A limit in the quote's currency: typed on the quote, else the charge's own at the day's rate. */
  private limit(
    terms: ProportionalCharge,
    typed: string | null | undefined,
    own: { readonly amount: string; readonly currency: string } | null | undefined,
  ): Outcome<Dec | null> {
    if (typed !== undefined && typed !== null) return figure(dec(typed));
    if (!own) return figure(null);
    const { ws, q, home } = this.c;
    const day = ws.rateDay(home, q.day);
    const x = exchangeOn(ws, own.currency, home.currency, day);
    return x
      ? figure(dec(own.amount).times(x.factor))
      : refusal('no_exchange_rate', `charges/${terms.id}`, { from: own.currency, to: home.currency, day });
  }

  private tax(taxClass: string, path: string, region: string | null): Outcome<string> {
    const { ws, q } = this.c;
    const tax = ws.taxOn(taxClass, q.day, region);
    return tax ? figure(tax.percent) : refusal('no_tax_rate', path, { taxClass, day: q.day });
  }

  private step(
    d: Derivation,
    value: Dec,
    op: 'start' | 'times' | 'set',
    facts: Record<string, string>,
    terms: ProportionalCharge | null = null,
    flag?: 'bit',
  ): Derivation {
    d.add({
      kind: 'charge',
      operation: { op, value: plain(value) },
      currency: this.c.home.currency,
      per: 'line',
      facts,
      ...(terms ? { rule: ruleOf(terms) } : {}),
      ...(flag ? { flag } : {}),
    });
    return d;
  }

  private add(
    charge: Pick<PricedCharge, 'id' | 'name' | 'kind' | 'total' | 'taxPercent'>,
    d: Derivation,
    proportional: Pick<PricedCharge, 'covered' | 'terms' | 'period'> | null,
  ): void {
    const { home, taxes } = this.c;
    taxes.add(charge.taxPercent, charge.total);
    const net = home.taxIn ? toNet(untaxing(charge.taxPercent), charge.total) : charge.total;
    this.out.push({
      net,
      steps: d.steps,
      ...charge,
      ...(proportional ?? { covered: null, terms: null, period: null }),
    });
  }
}

const per = (terms: ProportionalCharge): Record<string, string> =>
  terms.period ? { 'amounts per': terms.period } : {};

const ruleOf = ({ id, version, name }: ProportionalCharge) => ({ kind: 'charge' as const, id, version, name });

/** Whether a line of a section is reached by what names sections; none named: every line is. */
export function inSections(
  sections: readonly string[] | null | undefined,
  section: string | null | undefined,
): boolean {
  return !sections?.length || (section !== null && section !== undefined && sections.includes(section));
}
