import type { Step } from '../buildup/steps.ts';
import { landedCost } from '../costs/landed-cost.ts';
import { minorUnits } from '../numbers/currency.ts';
import { dec, divide, plain, settle } from '../numbers/decimal.ts';
import { type Outcome, figure, refusal } from '../reasons.ts';
import { buyerOf } from '../lists/buyer.ts';
import { leastQuantity, limitsFor } from '../quotes/order-quantity.ts';
import { priceQuote } from '../quotes/price-quote.ts';
import type { PricedCharge, PricedLine, PricedQuote, StruckPrice } from '../quotes/questions.ts';
import { applyLadder } from '../rounding/ladder.ts';
import { wasPrice } from '../ledger/was-price.ts';
import { markupOf } from '../recipes/markup.ts';
import type { Prepared } from '../workspace/prepared.ts';
import { proposePrice } from '../worksheets/propose-price.ts';
import type { CostAsked, LadderAsked, PriceAsked, QuoteAsked, RecipeAsked, WasAsked } from './questions.ts';
import { exactText, percentText, priceText, reasonAnswer, totalText } from './wording.ts';

/** A figure of an answer, ready to be written: plain data, amounts as text. */
export type Figures = Readonly<Record<string, unknown>>;

export interface Found {
  readonly figures: Figures;
  /** What a proof holds against its expectation. */
  readonly price: string;
  readonly floor: 'lift' | 'ask' | 'refuse' | 'none';
  readonly steps: readonly Step[];
}

/** A pack by its id, by its name, or (none given) the base pack: the one of 1 unit, else the first. */
export function packId(ws: Prepared, item: string, pack: string | null | undefined): Outcome<string> {
  const known = ws.items.get(item);
  if (!known) return refusal('unknown_item', 'item', { item });
  const packs = [...known.packs, ...ws.followed(known).packs];
  const found = pack
    ? (packs.find((p) => p.id === pack) ?? packs.find((p) => p.name === pack))
    : (packs.find((p) => dec(p.units).eq(1)) ?? packs[0]);
  return found ? figure(found.id) : refusal('unknown_pack', 'pack', { item: known.sku, pack: pack ?? '' });
}

export function answerPrice(ws: Prepared, q: PriceAsked, build: Build = () => ({})): Outcome<Found> {
  const pack = packId(ws, q.item, q.pack);
  if (!pack.ok) return pack;
  const item = ws.items.get(q.item)!;
  const buyer = buyerOf(ws, q);
  if (!buyer.ok) return buyer;
  const quantity = q.quantity ?? plain(leastQuantity(item, limitsFor(ws, item, buyer.value)));
  const priced = priceQuote(ws, {
    buyer: q,
    list: q.list ?? null,
    day: q.day,
    unposted: q.unposted ?? 'compute',
    lines: [{ id: '1', item: q.item, pack: pack.value, quantity }],
  });
  if (!priced.ok) return priced;
  const quote = priced.value;
  const line = quote.lines[0]!.priced;
  if (!line.ok) return line;
  const figures = {
    ...lineFigures(ws, quote, line.value),
    quantity,
    currency: quote.currency,
    taxIn: quote.taxIn,
    net: totalText(quote.net, quote.currency),
    tax: totalText(quote.toPay.minus(quote.net), quote.currency),
    toPay: totalText(quote.toPay, quote.currency),
    ...(quote.charges.length > 0 ? { charges: quote.charges.map((c) => chargeFigures(quote, c, build)) } : {}),
    outcome: quote.outcome,
  };
  const floor = line.value.brokenFloor?.outcome ?? 'none';
  return figure({ figures, price: String(figures.unitPrice), floor, steps: line.value.steps });
}

function lineFigures(ws: Prepared, quote: PricedQuote, line: PricedLine) {
  const list = ws.lists.get(line.list)!;
  const decimals = ws.decimalsOf(list);
  const { brokenFloor: broken, costTotal } = line;
  const markup = costTotal && markupOf(costTotal, line.netTotal);
  return {
    list: line.list,
    listPrice: priceText(line.listPrice, decimals),
    unitPrice: priceText(settle(line.unitPrice), decimals),
    total: totalText(line.total, quote.currency),
    netTotal: exactText(line.netTotal),
    ...(line.shareOfReduction.isZero() ? {} : { shareOfReduction: totalText(line.shareOfReduction, quote.currency) }),
    ...(line.freeUnits.isZero() ? {} : { freeUnits: plain(line.freeUnits) }),
    costTotal: exactText(costTotal),
    markup: percentText(markup),
    margin: percentText(line.margin),
    profit: exactText(line.profit),
    ...(line.dearerThanUsual ? { dearerThanUsual: priceText(line.dearerThanUsual, decimals) } : {}),
    ...(line.struck ? { struck: struckFigures(line.struck, decimals) } : {}),
    ...(line.slices.length > 0
      ? {
          slices: line.slices.map((s) => ({
            from: plain(s.from),
            quantity: exactText(s.quantity),
            price: priceText(s.price, decimals),
          })),
        }
      : {}),
    ...(line.breaks?.of ? { breaksOf: line.breaks.of.list.id } : {}),
    ...(line.buyMore
      ? { buyMore: { buy: exactText(line.buyMore.buy), saves: totalText(line.buyMore.saves, quote.currency) } }
      : {}),
    floor: broken && {
      id: broken.floor,
      name: broken.name,
      outcome: broken.outcome,
      least: priceText(broken.least, decimals),
      short: exactText(broken.short),
    },
    ...(line.floorsNotApplied.length > 0 ? { floorsNotApplied: line.floorsNotApplied } : {}),
    ...(line.asks.length > 0 ? { asks: line.asks } : {}),
    ...(line.refused.length > 0 ? { refused: line.refused.map(reasonAnswer) } : {}),
  };
}

function struckFigures(s: StruckPrice, decimals: number) {
  return {
    rule: s.rule,
    price: s.price && priceText(s.price, decimals),
    lowest: s.lowest && priceText(s.lowest, decimals),
    on: s.on,
    shown: s.shown,
    why: s.why,
  };
}

function chargeFigures(quote: PricedQuote, c: PricedCharge, build: Build) {
  return {
    id: c.id,
    name: c.name,
    kind: c.kind,
    total: totalText(c.total, quote.currency),
    net: exactText(c.net),
    covered: exactText(c.covered),
    taxPercent: c.taxPercent,
    ...(c.period ? { period: c.period, periods: c.terms?.periods ?? '1' } : {}),
    ...build(c.steps),
  };
}

/** Adds the build-up where it is asked for. */
export type Build = (steps: readonly Step[]) => { buildUp?: readonly Step[] };

export function quoteFigures(ws: Prepared, quote: PricedQuote, build: Build): Figures {
  const { currency, reduction } = quote;
  return {
    currency,
    taxIn: quote.taxIn,
    list: quote.list,
    lines: quote.lines.map(({ id, priced }) =>
      priced.ok
        ? { id, ok: true, ...lineFigures(ws, quote, priced.value), ...build(priced.value.steps) }
        : { id, ok: false, reason: reasonAnswer(priced.reason) },
    ),
    charges: quote.charges.map((c) => chargeFigures(quote, c, build)),
    reduction: reduction && {
      asked: totalText(reduction.asked, currency),
      given: totalText(reduction.given, currency),
      possible: totalText(reduction.possible, currency),
      refused: reduction.refused && reasonAnswer(reduction.refused),
    },
    linesTotal: totalText(quote.linesTotal, currency),
    taxes: quote.taxes.map((t) => ({
      percent: t.percent,
      net: totalText(t.net, currency),
      tax: totalText(t.tax, currency),
    })),
    net: totalText(quote.net, currency),
    toPay: totalText(quote.toPay, currency),
    margin: percentText(quote.margin),
    profit: exactText(quote.profit),
    outcome: quote.outcome,
  };
}

/** The strictest outcome of a floor broken by any line. */
export function quoteFloor(quote: PricedQuote): Found['floor'] {
  const outcomes = quote.lines.flatMap((l) =>
    l.priced.ok && l.priced.value.brokenFloor ? [l.priced.value.brokenFloor.outcome] : [],
  );
  return (['refuse', 'ask', 'lift'] as const).find((o) => outcomes.includes(o)) ?? 'none';
}

export const quoteSteps = (quote: PricedQuote): readonly Step[] => [
  ...quote.lines.flatMap((l) => (l.priced.ok ? l.priced.value.steps : [])),
  ...quote.charges.flatMap((c) => c.steps),
];

export function answerQuote(ws: Prepared, q: QuoteAsked, build: Build): Outcome<Found> {
  const lines = [];
  for (const line of q.lines) {
    const pack = packId(ws, line.item, line.pack);
    lines.push(pack.ok ? { ...line, pack: pack.value } : line);
  }
  const priced = priceQuote(ws, { unposted: 'compute', ...q, lines });
  if (!priced.ok) return priced;
  const quote = priced.value;
  return figure({
    figures: quoteFigures(ws, quote, build),
    price: totalText(quote.toPay, quote.currency),
    floor: quoteFloor(quote),
    steps: quoteSteps(quote),
  });
}

export function answerRecipe(ws: Prepared, q: RecipeAsked): Outcome<Found> {
  const pack = packId(ws, q.item, q.pack);
  if (!pack.ok) return pack;
  const found = proposePrice(
    ws,
    { item: q.item, pack: pack.value, list: q.list, day: q.day, channel: q.channel ?? null },
    q.tolerance ?? {},
    q.falls ?? 'keep',
  );
  if (!found.ok) return found;
  const { computed: c, ...p } = found.value;
  const list = ws.lists.get(q.list)!;
  const decimals = ws.decimalsOf(list);
  const figures = {
    price: priceText(p.proposed, decimals),
    currency: list.currency,
    taxIn: list.taxIn,
    net: exactText(c.net),
    taxInPrice: totalText(c.taxInPrice, list.currency),
    cost: exactText(c.cost),
    markup: percentText(c.markup),
    margin: percentText(c.margin),
    profit: exactText(c.profit),
    exact: { markup: exactText(c.markup), margin: exactText(c.margin) },
    recipe: c.recipe,
    row: { id: c.row, name: c.rowName },
    uplift: c.uplift,
    flag: c.flag,
    guards: c.bit,
    limits: c.guards.map((g) => ({ id: g.id, name: g.name, at: exactText(g.at) })),
    notApplied: c.notApplied,
    wouldFallTo: p.wouldFallTo && priceText(p.wouldFallTo, decimals),
    handSet: c.handSet && {
      reason: c.handSet.reason,
      by: c.handSet.by,
      recipePrice: priceText(c.handSet.recipePrice, decimals),
      squeezed: c.handSet.squeezed,
    },
    posted: p.posted && priceText(p.posted, decimals),
    changePercent: percentText(p.changePercent),
    holds: p.holds,
  };
  return figure({ figures, price: figures.price, floor: 'none', steps: c.steps });
}

export function answerCost(ws: Prepared, q: CostAsked): Outcome<Found> {
  const item = ws.items.get(q.item);
  if (!item) return refusal('unknown_item', 'item', { item: q.item });
  const found = landedCost(ws, ws.followed(item), q.day);
  if (!found.ok) return found;
  const { landed, unit, supplier, cost, steps } = found.value;
  const figures = {
    landed: exactText(landed),
    unit: exactText(unit),
    currency: ws.workspace.currency,
    supplier: supplier.id,
    cost: cost.id,
  };
  return figure({ figures, price: exactText(landed)!, floor: 'none', steps });
}

export function answerLadder(ws: Prepared, q: LadderAsked): Outcome<Figures> {
  const terms = ws.ladders.get(q.ladder);
  const decimals = q.decimals ?? minorUnits(terms?.currency ?? '');
  const ladder = ws.ladder(q.ladder, decimals);
  if (!ladder) return refusal('no_ladder', 'ladder', { ladder: q.ladder });
  return figure({
    prices: q.prices.map((before) => {
      const after = applyLadder(ladder, dec(before));
      return { before, after: priceText(after, decimals), change: exactText(after.minus(before)) };
    }),
  });
}

export function answerWas(ws: Prepared, q: WasAsked): Outcome<Figures> {
  const list = ws.lists.get(q.list);
  if (!list) return refusal('unknown_list', 'list', { list: q.list });
  const pack = packId(ws, q.item, q.pack);
  if (!pack.ok) return pack;
  const item = ws.items.get(q.item)!;
  const found = wasPrice(ws, {
    list: q.list,
    item: ws.followed(item).id,
    pack: ws.packOf(item, pack.value)!.id,
    began: q.began,
  });
  if (!found) return refusal('no_was_price', 'began', { item: item.sku, list: list.name, day: q.began });
  const announced = q.announced ? dec(q.announced) : null;
  return figure({
    was: priceText(found.lowest, ws.decimalsOf(list)),
    currency: list.currency,
    on: found.on,
    posting: found.posting,
    announcedTooHigh: announced ? announced.gt(found.lowest) : null,
    ...(announced && announced.gt(found.lowest)
      ? { excessPercent: percentText(divide(announced.minus(found.lowest), found.lowest).times(100)) }
      : {}),
  });
}
