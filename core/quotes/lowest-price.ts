import { Derivation, type Lost, type Operation, type RuleRef, type Step, calculate } from '../buildup/steps.ts';
import { type ListEntry, type Reduction, changeOperation, describeChange, reductionsFor } from '../lists/entries.ts';
import type { Buyer } from '../lists/choose-list.ts';
import type { ListPrice } from '../lists/list-price.ts';
import { type Dec, plain } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import type { Day } from '../numbers/day.ts';
import type { Item, Pack } from '../items/item.ts';
import type { QuotesView } from './view.ts';
import { describeScope } from '../items/scope.ts';
import type { BreakCount, BreakRow, BreakTable } from './breaks.ts';
import type { FoundBreaks } from './list-breaks.ts';

export interface BreakCounting extends FoundBreaks {
  /** What counts together for this line: an item outside of the pool, or a line in no section, counts as an item. */
  readonly counts: BreakCount;
  /** What counts, in what the table measures: of the line, the item, the pool or the section. */
  readonly counted: Dec;
  /** What came before the line on the quote and counts with it. */
  readonly before: Dec;
  /** What one pack of the line measures. */
  readonly per: Dec;
}

/** One way to a lower price than the list asks, or something that comes on top of the lowest. */
interface Way {
  readonly kind: 'entry' | 'reduction' | 'break';
  readonly name: string;
  readonly rule: RuleRef;
  readonly facts: Readonly<Record<string, string>>;
  readonly operation: Operation;
  readonly zeroConfirmed: boolean;
}

/** The price of a line before rules and reductions by hand, per pack as the list shows it; not yet rounded. */
export interface Lowest {
  readonly d: Derivation;
  /** Whether what the list asks on the day counts, and no reduction or break. */
  readonly byList: boolean;
}

/**
 * What the list asks on the day, the buyer's reduction and a quantity break do not add up: the lowest counts, then what is
 * on top, from the general to the special. docs/arithmetic.md, "What counts together".
 */
export class PriceWays {
  private readonly deposit: Dec;
  private readonly competing: readonly Way[];
  private readonly onTop: readonly Way[];
  private readonly replaced: readonly Lost[];
  private readonly listTops: readonly Way[];

  constructor(
    ws: QuotesView,
    private readonly p: {
      readonly listPrice: ListPrice;
      readonly item: Item;
      readonly buyer: Buyer;
      readonly day: Day;
      readonly breaks: BreakCounting | null;
      readonly path: string;
    },
  ) {
    const { listPrice, item, buyer, day } = p;
    this.deposit = listPrice.terms.depositShown;
    const found = reductionsFor(ws, buyer, listPrice.list.id, item, listPrice.pack, day);
    const way = (r: Reduction): Way => reductionWay(ws, r, this.deposit, listPrice.pack);
    this.competing = found.standing.map(way);
    this.onTop = found.onTop.map(way);
    this.replaced = found.replaced.map((r) => ({ name: r.name, why: 'a more specific reduction replaces it' }));
    this.listTops = listPrice.onTop.map((e) => entryWay(ws, listPrice, e, this.deposit));
  }

  /** The names of the reductions that reach the buyer. */
  get reductions(): readonly string[] {
    return [...this.competing, ...this.onTop].map((w) => w.name);
  }

  /** The price where a break is reached; null: none is, or there is no table. */
  at(row: BreakRow | null): Outcome<Lowest> {
    const { listPrice } = this.p;
    const { base, ask } = listPrice;
    const { onTop = false } = this.p.breaks?.table ?? {};
    const byBreak = row ? this.breakWay(row) : null;
    const ways = [...this.competing, ...(byBreak && !onTop ? [byBreak] : [])];
    const figures = ways.map((way) => ({ way, price: calculate(way.operation, base.price) }));
    const best = figures.reduce<(typeof figures)[number] | null>(
      (low, f) => (f.price.lt(low?.price ?? ask.price) ? f : low),
      null,
    );
    const losers = figures
      .filter((f) => f !== best)
      .map((f) => ({ name: f.way.name, why: 'they do not add up, and another is lower', figure: plain(f.price) }));
    const lost = [...losers, ...this.replaced];
    const d = new Derivation();
    if (best) {
      d.continueFrom(base.steps, base.price);
      const asked = { name: 'what the list asks', why: 'another is lower', figure: plain(ask.price) };
      const added = this.add(d, best.way, ask.price.eq(base.price) ? lost : [asked, ...lost]);
      if (!added.ok) return added;
    } else d.continueFrom(withLost(listPrice.pricedSteps, lost), listPrice.price);
    const tops = [...(best ? this.listTops : []), ...(byBreak && onTop ? [byBreak] : []), ...this.onTop];
    for (const way of tops) {
      const added = this.add(d, way, []);
      if (!added.ok) return added;
    }
    return figure({ d, byList: best === null });
  }

  private add(d: Derivation, w: Way, lost: readonly Lost[]): Outcome<void> {
    d.add({
      kind: w.kind,
      operation: w.operation,
      currency: this.p.listPrice.list.currency,
      per: 'pack',
      rule: w.rule,
      facts: w.facts,
      ...(lost.length > 0 ? { lost } : {}),
    });
    const goods = d.figure.minus(this.deposit);
    if (goods.lt(0)) return refusal('price_not_positive', this.p.path, { price: plain(goods) });
    return goods.isZero() && !w.zeroConfirmed
      ? refusal('zero_not_confirmed', this.p.path, { item: this.p.item.sku })
      : figure(undefined);
  }

  private breakWay(row: BreakRow): Way {
    const breaks = this.p.breaks!;
    return {
      kind: 'break',
      name: breaks.table.name,
      rule: ruleOf(breaks.table, `from ${row.from}`),
      facts: { ...countFacts(breaks), break: describeChange(row) },
      operation: changeOperation(row, this.deposit, this.p.listPrice.pack),
      zeroConfirmed: row.zeroConfirmed ?? false,
    };
  }
}

function withLost(steps: readonly Step[], lost: readonly Lost[]): readonly Step[] {
  if (lost.length === 0) return steps;
  return steps.map((s, i) => (i === steps.length - 1 ? { ...s, lost: [...(s.lost ?? []), ...lost] } : s));
}

export const ruleOf = (t: BreakTable, part?: string): RuleRef => ({
  kind: 'break',
  id: t.id,
  version: t.version,
  name: t.name,
  ...(part ? { part } : {}),
});

const MEASURED = { units: '', weight: ' in kg', value: ' in money, net, before breaks' } as const;

export function countFacts({ table, of, counted }: BreakCounting): Record<string, string> {
  return {
    way: 'whole: one price for all units',
    ...(of ? { 'breaks of the list': of.list.name } : {}),
    [`counted by ${table.count}${MEASURED[table.measure ?? 'units']}`]: plain(counted),
  };
}

function entryWay(ws: QuotesView, { list, pack }: ListPrice, e: ListEntry, deposit: Dec): Way {
  return {
    kind: 'entry',
    name: `on top: ${describeScope(ws, e.scope)}`,
    rule: { kind: 'list', id: list.id, version: list.version, name: list.name, part: e.id },
    facts: {
      entry: describeScope(ws, e.scope),
      change: describeChange(e),
      'on top': 'of what counts',
      ...(e.from ? { from: e.from } : {}),
      ...(e.to ? { to: e.to } : {}),
    },
    operation: changeOperation(e, deposit, pack),
    zeroConfirmed: e.zeroConfirmed ?? false,
  };
}

function reductionWay(ws: QuotesView, r: Reduction, deposit: Dec, pack: Pack): Way {
  return {
    kind: 'reduction',
    name: r.name,
    rule: { kind: 'reduction', id: r.id, version: r.version, name: r.name },
    facts: {
      for: describeScope(ws, r.scope),
      change: describeChange(r),
      ...(r.onTop ? { 'on top': 'of what counts' } : {}),
      ...(r.from ? { from: r.from } : {}),
      ...(r.to ? { to: r.to } : {}),
    },
    operation: changeOperation(r, deposit, pack),
    zeroConfirmed: r.zeroConfirmed ?? false,
  };
}
