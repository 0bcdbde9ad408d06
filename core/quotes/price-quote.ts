import { Derivation, type RuleRef, type Step } from '../buildup/steps.ts';
import { exchangeOn } from '../costs/exchange.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { type ShownTerms, shownTerms, toNet, toShown } from '../lists/terms.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Dec, ZERO, dec, divide, plain, roundHalfUp, roundUp, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { marginOf } from '../recipes/markup.ts';
import { type Day, type Item, type Pack, type Prepared, type PriceList, taxFactor } from '../workspace/index.ts';
import {
  type BreakRow,
  type BreakTable,
  breakTableFor,
  cheaperByBuyingMore,
  priceAtBreak,
  reachedBreak,
  slicesOf,
} from './breaks.ts';
import { type FloorOutcome, floorsFor } from './floors.ts';
import { type TaxLine, TaxSums } from './tax-sums.ts';
import { allowedQuantity } from './order-quantity.ts';

export interface QuoteLineQuestion {
  readonly id: string;
  readonly item: string;
  readonly pack: string;
  readonly quantity: string;
  /** A reduction the seller gives by hand, on the goods, never on the deposit. */
  readonly reduction?: { readonly kind: 'percent_off' | 'amount_off' | 'price'; readonly value: string } | null;
}

export interface QuoteQuestion {
  readonly list: string;
  /** The customer's group, for floors. */
  readonly group: string | null;
  readonly day: Day;
  readonly lines: readonly QuoteLineQuestion[];
}

export interface BrokenFloor {
  readonly floor: string;
  readonly name: string;
  readonly outcome: FloorOutcome;
  /** The least unit price, as the list shows it, rounded up to the list's decimals. */
  readonly least: Dec;
  /** How far the price was under it, as the list shows it. */
  readonly short: Dec;
}

export interface PricedLine {
  readonly id: string;
  /** Per pack, as the list shows it; an average over the slices where breaks are sliced (only for showing). */
  readonly unitPrice: Dec;
  readonly listPrice: Dec;
  /** As the list shows it: unit price × quantity, to the currency's minor unit. */
  readonly total: Dec;
  /** Net of tax and deposit. */
  readonly netTotal: Dec;
  /** Landed cost of the line in the quote's currency; null: unknown. */
  readonly costTotal: Dec | null;
  readonly margin: Dec | null;
  readonly brokenFloor: BrokenFloor | null;
  readonly slices: readonly { readonly from: Dec; readonly quantity: Dec; readonly price: Dec }[];
  /** "Buy 3 more and pay less in all." */
  readonly buyMore: { readonly buy: Dec; readonly saves: Dec } | null;
  readonly steps: readonly Step[];
}

export interface PricedQuote {
  readonly currency: string;
  readonly taxIn: boolean;
  readonly lines: readonly { readonly id: string; readonly priced: Outcome<PricedLine> }[];
  /** Sum of the line totals, as the list shows them. */
  readonly linesTotal: Dec;
  readonly taxes: readonly TaxLine[];
  readonly net: Dec;
  readonly toPay: Dec;
  /** Profit ÷ net sales over the lines whose cost is known; null where none is. */
  readonly margin: Dec | null;
  readonly outcome: 'fine' | 'asks_approval' | 'refused' | 'incomplete';
}

interface Resolved {
  readonly line: QuoteLineQuestion;
  readonly item: Item;
  readonly pack: Pack;
  readonly quantity: Dec;
}

/** Prices a quote as a whole: breaks may count over several lines. docs/arithmetic.md, "Quantity breaks", "Floors". */
export function priceQuote(ws: Prepared, q: QuoteQuestion): Outcome<PricedQuote> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const resolved = q.lines.map((line) => resolve(ws, line));
  const counted = countedQuantities(resolved);
  const taxes = new TaxSums(list);
  let [linesTotal, costKnown, netKnown] = [ZERO, ZERO, ZERO];
  const lines = q.lines.map((line, i) => {
    const found = resolved[i]!;
    const priced: Outcome<PricedLine> = found.ok
      ? new LinePricing(ws, list, q, found.value, counted[i]!).run(taxes)
      : found;
    if (priced.ok) {
      linesTotal = linesTotal.plus(priced.value.total);
      if (priced.value.costTotal) {
        costKnown = costKnown.plus(priced.value.costTotal);
        netKnown = netKnown.plus(priced.value.netTotal);
      }
    }
    return { id: line.id, priced };
  });
  const taxLines = taxes.lines();
  const tax = taxLines.reduce((sum, t) => sum.plus(t.tax), ZERO);
  const toPay = list.taxIn ? linesTotal : linesTotal.plus(tax);
  return figure({
    currency: list.currency,
    taxIn: list.taxIn,
    lines,
    linesTotal,
    taxes: taxLines,
    net: toPay.minus(tax),
    toPay,
    margin: netKnown.isZero() ? null : marginOf(costKnown, netKnown),
    outcome: outcomeOf(lines.map((l) => l.priced)),
  });
}

function outcomeOf(lines: readonly Outcome<PricedLine>[]): PricedQuote['outcome'] {
  if (lines.some((l) => !l.ok)) return 'incomplete';
  const broken = lines.flatMap((l) => (l.ok && l.value.brokenFloor ? [l.value.brokenFloor.outcome] : []));
  if (broken.includes('refuse')) return 'refused';
  return broken.includes('ask') ? 'asks_approval' : 'fine';
}

function resolve(ws: Prepared, line: QuoteLineQuestion): Outcome<Resolved> {
  const item = ws.items.get(line.item);
  if (!item) return refusal('unknown_item', `lines/${line.id}`, { item: line.item });
  const pack = item.packs.find((p) => p.id === line.pack);
  if (!pack) return refusal('unknown_pack', `lines/${line.id}`, { item: item.sku, pack: line.pack });
  const quantity = allowedQuantity(item, dec(line.quantity));
  return quantity.ok ? figure({ line, item, pack, quantity: quantity.value }) : quantity;
}

/** Per line: the quantity that counts for breaks, by line and over the same item and pack, and what came before it on the quote. */
function countedQuantities(lines: readonly Outcome<Resolved>[]): { line: Dec; item: Dec; before: Dec }[] {
  const sums = new Map<string, Dec>();
  const key = (r: Resolved) => `${r.item.id}\u0000${r.pack.id}`;
  const before = lines.map((l) => {
    if (!l.ok) return ZERO;
    const so = sums.get(key(l.value)) ?? ZERO;
    sums.set(key(l.value), so.plus(l.value.quantity));
    return so;
  });
  return lines.map((l, i) =>
    l.ok
      ? { line: l.value.quantity, item: sums.get(key(l.value))!, before: before[i]! }
      : { line: ZERO, item: ZERO, before: ZERO },
  );
}

class LinePricing {
  private readonly d = new Derivation();
  private readonly decimals: number;
  private readonly path: string;

  constructor(
    private readonly ws: Prepared,
    private readonly list: PriceList,
    private readonly q: QuoteQuestion,
    private readonly r: Resolved,
    private readonly counted: { line: Dec; item: Dec; before: Dec },
  ) {
    this.decimals = ws.decimalsOf(list);
    this.path = `lines/${r.line.id}`;
  }

  run(taxes: TaxSums): Outcome<PricedLine> {
    const { ws, list, q, d } = this;
    const { item, pack, quantity, line } = this.r;
    const posted = ws.postedOn(list.id, item.id, pack.id, q.day);
    if (!posted) return refusal('no_price_on_list', this.path, { item: item.sku, list: list.name, day: q.day });
    const found = shownTerms(ws, list, item, pack, q.day);
    if (!found.ok) return found;
    const terms = found.value;
    const listPrice = d.add({
      kind: 'list_price',
      operation: { op: 'start', value: posted.price! },
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'list', id: list.id, version: list.version, name: list.name },
      facts: { posted: posted.from, posting: posted.posting },
    });
    const table = breakTableFor(ws, list.id, item);
    const cost = this.packCost();
    const sliced = table?.way === 'sliced' ? this.slices(table, listPrice, terms) : null;
    if (sliced) this.toAverage(table!, sliced);
    else this.wholeBreak(table, listPrice, terms);
    const reduced = this.reduce(line.reduction ?? null, terms);
    if (!reduced.ok) return reduced;
    // an average over slices is not a price to multiply: unless something changed it, the slices make the total
    const untouched = sliced && !line.reduction;
    if (!untouched) this.roundToDecimals();
    const broken = this.floors(terms, cost, listPrice);
    const lifted = broken?.outcome === 'lift';
    const unitPrice = d.figure;
    const total =
      untouched && !lifted
        ? sliced.reduce((sum, s) => sum.plus(roundHalfUp(s.price.times(s.quantity), minorUnits(list.currency))), ZERO)
        : roundHalfUp(unitPrice.times(quantity), minorUnits(list.currency));
    const depositTotal = terms.deposit.times(terms.depositTaxFactor).times(quantity);
    const netTotal = toNet({ ...terms, deposit: ZERO }, total.minus(depositTotal));
    for (const [taxClass, shown] of [
      [item.taxClass, total.minus(depositTotal)],
      [pack.depositTaxClass ?? item.taxClass, depositTotal],
    ] as const) {
      const tax = ws.taxOn(taxClass, q.day);
      if (!tax) return refusal('no_tax_rate', this.path, { taxClass, day: q.day });
      taxes.add(tax.percent, shown);
    }
    d.add({
      kind: 'line_total',
      currency: list.currency,
      per: 'line',
      operation: { op: 'set', value: plain(total) },
      facts: { quantity: plain(quantity) },
    });
    const costTotal = cost ? cost.times(quantity) : null;
    return figure({
      id: line.id,
      unitPrice,
      listPrice,
      total,
      netTotal,
      costTotal,
      margin: costTotal ? marginOf(costTotal, netTotal) : null,
      brokenFloor: broken,
      slices: sliced ?? [],
      steps: d.steps,
      buyMore:
        table?.way === 'whole' && !line.reduction
          ? cheaperByBuyingMore(table.rows, listPrice, this.countFor(table))
          : null,
    });
  }

  private countFor(table: BreakTable): Dec {
    return table.count === 'line' ? this.counted.line : this.counted.item;
  }

  private packCost(): Dec | null {
    const { ws, list, q } = this;
    const landed = landedCost(ws, this.r.item, q.day);
    const x = exchangeOn(ws, ws.workspace.currency, list.currency, q.day);
    return landed.ok && x ? landed.value.landed.times(x.factor).times(this.r.pack.units) : null;
  }

  /** A break's price as the list shows it: a reduction takes from the goods, the deposit stays whole. */
  private breakPrice(row: BreakRow, listPrice: Dec, terms: ShownTerms): Dec {
    if (row.kind === 'price') return dec(row.value);
    const deposit = terms.deposit.times(terms.depositTaxFactor);
    return roundHalfUp(priceAtBreak(row, listPrice.minus(deposit)).plus(deposit), this.decimals);
  }

  private wholeBreak(table: BreakTable | null, listPrice: Dec, terms: ShownTerms): void {
    if (!table) return;
    const counted = this.countFor(table);
    const row = reachedBreak(table.rows, counted);
    const rule: RuleRef = {
      kind: 'break',
      id: table.id,
      version: table.version,
      name: table.name,
      ...(row ? { part: `from ${row.from}` } : {}),
    };
    this.d.add({
      kind: 'break',
      operation: { op: 'set', value: plain(row ? this.breakPrice(row, listPrice, terms) : listPrice) },
      currency: this.list.currency,
      per: 'pack',
      rule,
      facts: {
        way: 'whole: one price for all units',
        [`counted by ${table.count}`]: plain(counted),
        ...(row ? {} : { reached: 'no break' }),
      },
    });
  }

  private slices(table: BreakTable, listPrice: Dec, terms: ShownTerms): PricedLine['slices'] {
    const before = table.count === 'line' ? ZERO : this.counted.before;
    return slicesOf(table.rows, before, this.r.quantity).map((s) => ({
      from: s.from,
      quantity: s.quantity,
      price: s.row ? this.breakPrice(s.row, listPrice, terms) : listPrice,
    }));
  }

  private toAverage(table: BreakTable, slices: PricedLine['slices']): void {
    const total = slices.reduce((sum, s) => sum.plus(s.price.times(s.quantity)), ZERO);
    this.d.add({
      kind: 'break',
      operation: { op: 'set', value: plain(divide(total, this.r.quantity)) },
      currency: this.list.currency,
      per: 'pack',
      rule: { kind: 'break', id: table.id, version: table.version, name: table.name },
      facts: {
        way: 'sliced: each slice at its own price; shown is the average',
        ...Object.fromEntries(slices.map((s) => [`from ${plain(s.from)}: ${plain(s.quantity)} at`, plain(s.price)])),
      },
    });
  }

  private reduce(reduction: QuoteLineQuestion['reduction'], terms: ShownTerms): Outcome<void> {
    if (!reduction) return figure(undefined);
    const { d, list } = this;
    const value = dec(reduction.value);
    const deposit = terms.deposit.times(terms.depositTaxFactor);
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
      rule: { kind: 'quote', id: this.r.line.id, name: 'by hand' },
      facts: {
        [{ percent_off: '% off', amount_off: 'amount off', price: 'price' }[reduction.kind]]: reduction.value,
        ...(deposit.isZero() ? {} : { 'deposit, never reduced': plain(deposit) }),
      },
    });
    return figure(undefined);
  }

  private roundToDecimals(): void {
    const { d, list, decimals } = this;
    if (roundHalfUp(d.figure, decimals).eq(d.figure)) return;
    d.add({
      kind: 'decimals',
      operation: { op: 'round', decimals, way: 'half_up' },
      currency: list.currency,
      per: 'pack',
      rule: { kind: 'list', id: list.id, name: list.name },
    });
  }

  /** The highest floor counts; but a broken floor that refuses is never hidden behind a higher one that only asks. */
  private floors(terms: ShownTerms, cost: Dec | null, listPrice: Dec): BrokenFloor | null {
    const { ws, d, q, list } = this;
    const inQuoteCurrency = (value: string, currency: string): Dec | null => {
      const x = exchangeOn(ws, currency === '' ? list.currency : currency, list.currency, q.day);
      return x ? dec(value).times(x.factor) : null;
    };
    const { item, pack } = this.r;
    const map = item.map ? inQuoteCurrency(item.map.amount, item.map.currency)?.times(pack.units) : null;
    const tax = item.map?.taxIn ? ws.taxOn(item.taxClass, q.day) : null;
    const mapNet = map ? divide(map, taxFactor(tax?.percent ?? '0')) : null;
    const net = settle(toNet(terms, d.figure));
    const broken = floorsFor(ws, ws.workspace.floors, {
      item,
      group: q.group,
      cost,
      listNet: toNet(terms, listPrice),
      mapNet,
      inQuoteCurrency,
    }).filter((f) => net.lt(f.at));
    const highest = broken[0];
    if (!highest) return null;
    const counts =
      highest.floor.outcome === 'lift' ? highest : (broken.find((f) => f.floor.outcome === 'refuse') ?? highest);
    const least = roundUp(toShown(terms, counts.at), this.decimals);
    const short = least.minus(d.figure);
    const { floor } = counts;
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
          figure: plain(roundUp(toShown(terms, f.at), this.decimals)),
        })),
    });
    return { floor: floor.id, name: floor.name, outcome: floor.outcome, least, short };
  }
}
