import type { QuoteFigures, QuoteLineFigures, ShownCharge } from '#contract/quotes.ts';
import type { Step } from '#core/buildup/steps.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { type Dec, dec, money, plain, roundDown, roundHalfUp, roundUp } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { bandsOf, breakTableFor } from '#core/quotes/breaks.ts';
import { priceQuote } from '#core/quotes/price-quote.ts';
import type { PricedCharge, PricedLine, PricedQuote, QuoteQuestion } from '#core/quotes/questions.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import { refusedFor } from '../platform/refused.ts';

const twoPlaces = (d: Dec | null): string | null => (d ? roundHalfUp(d, 2).toFixed(2) : null);

/** Prices a quote and puts the figures into the form that travels and is frozen when the quote is issued. */
export function quoteFigures(ws: Prepared, q: QuoteQuestion): QuoteFigures {
  const priced = priceQuote(ws, q);
  if (!priced.ok) throw refusedFor(priced.reason);
  return figuresOf(ws, q, priced.value);
}

/** The figures of a quote that was priced, in the form that travels. `q`: what was asked. */
export function figuresOf(ws: Prepared, q: Pick<QuoteQuestion, 'list' | 'lines'>, p: PricedQuote): QuoteFigures {
  const list = ws.lists.get(p.list)!;
  const decimals = ws.decimalsOf(list);
  const digits = minorUnits(list.currency);
  const unit = (d: Dec) => money(d, decimals);
  const total = (d: Dec) => money(d, digits);
  const lines = p.lines.map(({ priced: line }, n): QuoteLineFigures => {
    const asked = q.lines[n]!;
    const item = ws.items.get(asked.item);
    const pack = item?.packs.find((p) => p.id === asked.pack);
    const head = {
      sku: item?.sku ?? asked.item,
      name: item?.name ?? '',
      packName: pack?.name ?? '',
      quantity: asked.quantity,
      breakWords: item ? breakWords(ws, q.list ?? '', item.id, pack?.name ?? '', unit) : null,
    };
    if (!line.ok) {
      return {
        listPrice: null,
        unitPrice: null,
        total: null,
        reason: wording(line.reason),
        broken: null,
        slices: [],
        buyMore: null,
        margin: null,
        steps: [],
        ...head,
        ...NOTHING_MORE,
      };
    }
    const v = line.value;
    return {
      otherList: v.list === list.id ? null : (ws.lists.get(v.list)?.name ?? v.list),
      freeUnits: v.freeUnits.isZero() ? null : plain(v.freeUnits),
      dearerThanUsual: v.dearerThanUsual && unit(v.dearerThanUsual),
      struck: v.struck?.shown && v.struck.price ? unit(v.struck.price) : null,
      asks: [...v.asks],
      notStruck: v.struck && !v.struck.shown ? v.struck.why : null,
      floorsNotApplied: v.floorsNotApplied.map(({ name, why }) => ({ name, why })),
      shareOfReduction: v.shareOfReduction.isZero() ? null : total(v.shareOfReduction),
      netTotal: total(roundHalfUp(v.netTotal, digits)),
      profit: v.profit && total(roundHalfUp(v.profit, digits)),
      refused: v.refused.filter((r) => r.code !== 'floor_refuses').map(wording),
      listPrice: unit(v.listPrice),
      total: total(v.total),
      reason: null,
      margin: twoPlaces(v.margin),
      steps: v.steps,
      // an average over slices is shown on two decimals more, never as if it were a price
      unitPrice: v.slices.length > 1 ? roundHalfUp(v.unitPrice, decimals + 2).toFixed(decimals + 2) : unit(v.unitPrice),
      broken: v.brokenFloor && {
        name: v.brokenFloor.name,
        outcome: v.brokenFloor.outcome,
        least: unit(v.brokenFloor.least),
        // a part of a price is shown on the list's decimals, a hair under it as one unit of them
        short: roundUp(v.brokenFloor.short, decimals).toFixed(decimals),
        fromCost: v.brokenFloor.fromCost,
      },
      slices: v.slices.map((s) => ({ from: plain(s.from), quantity: plain(s.quantity), price: unit(s.price) })),
      buyMore: v.buyMore && { buy: plain(v.buyMore.buy), saves: total(roundHalfUp(v.buyMore.saves, digits)) },
      ...head,
    };
  });
  return {
    currency: p.currency,
    taxIn: p.taxIn,
    decimals,
    lines,
    charges: p.charges.map((c) => ({
      id: c.id,
      name: c.name,
      kind: c.kind,
      total: total(c.total),
      net: total(roundHalfUp(c.net, digits)),
      taxPercent: c.taxPercent,
      covered: c.covered && total(roundHalfUp(c.covered, digits)),
      terms: c.terms && { ...c.terms, sections: [...(c.terms.sections ?? [])] },
      period: c.period,
      steps: c.steps,
    })),
    reduction: p.reduction && {
      asked: total(roundHalfUp(p.reduction.asked, digits)),
      given: total(roundHalfUp(p.reduction.given, digits)),
      possible: total(roundDown(p.reduction.possible, digits)),
      goods: total(roundHalfUp(p.reduction.goods, digits)),
      refused: p.reduction.refused && wording(p.reduction.refused),
    },
    profit: p.profit && total(roundHalfUp(p.profit, digits)),
    linesTotal: total(p.linesTotal),
    net: total(p.net),
    toPay: total(p.toPay),
    outcome: p.outcome,
    margin: twoPlaces(p.margin),
    taxes: p.taxes.map((t) => ({ percent: t.percent, net: total(roundHalfUp(t.net, digits)), tax: total(t.tax) })),
  };
}

/** What a line without a price has nothing of. */
const NOTHING_MORE = {
  otherList: null,
  freeUnits: null,
  dearerThanUsual: null,
  struck: null,
  asks: [],
  refused: [],
  notStruck: null,
  floorsNotApplied: [],
  shareOfReduction: null,
  netTotal: null,
  profit: null,
} satisfies Partial<QuoteLineFigures>;

const A_CHARGE = { kind: 'proportional', covered: null, terms: null, period: null, steps: [] } as const;

/** Figures that were kept by an earlier release, with what they could not say yet. */
export const asNow = (kept: QuoteFigures): QuoteFigures => ({
  ...NOT_SAID_YET,
  ...kept,
  charges: ((kept.charges as QuoteFigures['charges'] | undefined) ?? []).map((c, n) =>
    Object.assign({ ...A_CHARGE, id: String(n), net: c.total }, c),
  ),
  lines: kept.lines.map((l) => ({ ...NOTHING_MORE, ...l })),
});
const NOT_SAID_YET: Partial<QuoteFigures> = { reduction: null, profit: null };

/** The breaks of a line in words: "from 50: 3.90, from 200: 3.45 (one price for all units)". */
function breakWords(ws: Prepared, list: string, itemId: string, pack: string, unit: (d: Dec) => string): string | null {
  const table = breakTableFor(ws, list, ws.items.get(itemId)!, pack);
  if (!table) return null;
  const rows = new Map(table.rows.map((r) => [r.from, r]));
  const words = bandsOf(table.rows).map((band) => {
    const row = rows.get(band.from)!;
    const value = {
      price: () => unit(dec(row.value)),
      percent_off: () => `${row.value} % off`,
      amount_off: () => `${unit(dec(row.value))} off`,
    }[row.kind]();
    return table.way === 'sliced'
      ? `beyond ${band.from}: ${value}`
      : `${band.to === null ? `${band.from} and more` : `${band.from} to ${band.to}`}: ${value}`;
  });
  return `${words.join(' · ')} (${table.way === 'whole' ? 'one price for all units' : 'each slice at its own price'}, counted by ${table.count === 'line' ? 'line' : 'item over the whole quote'})`;
}

const COST_STEPS: ReadonlySet<Step['kind']> = new Set([
  'cost',
  'unit_cost',
  'exchange',
  'freight',
  'duty',
  'handling',
  'overhead',
  'order_fee',
  'basis',
  'uplift',
  'add_on',
]);

/**
 * The figures for those who may not see costs. They learn what a floor does (lifted, needs approval, refused); how high a
 * floor that is made from cost lies, only where the workspace says so (`showsCostFloors`).
 */
export function withoutCost(figures: QuoteFigures, showsCostFloors: boolean): QuoteFigures {
  return {
    ...figures,
    margin: null,
    profit: null,
    // how much could be given shows how far away the floors are
    reduction:
      figures.reduction && !showsCostFloors
        ? {
            ...figures.reduction,
            possible: null,
            refused: figures.reduction.refused && 'it is more than the floors leave',
          }
        : figures.reduction,
    lines: figures.lines.map((l) => {
      const hidden = !showsCostFloors && (l.broken?.fromCost ?? false);
      const steps = l.steps.filter((s) => !COST_STEPS.has(s.kind));
      return {
        ...l,
        margin: null,
        profit: null,
        broken: l.broken && hidden ? { ...l.broken, least: null, short: null } : l.broken,
        steps: showsCostFloors ? steps : steps.map((s) => (s.kind === 'floor' ? withoutFloors(s, hidden) : s)),
      };
    }),
  };
}

/** Other floors among the losers may be made from cost too: their names stay, their figures go. */
function withoutFloors(step: Step, hidden: boolean): Step {
  const { facts, lost, ...rest } = step;
  return {
    ...rest,
    ...(facts && !hidden ? { facts } : {}),
    ...(lost ? { lost: lost.map(({ name, why }) => ({ name, why })) } : {}),
  };
}

/** What the core answers and is shown under another name, or not at all; a field that is named nowhere does not compile. */
type Elsewhere =
  // the answer's line stands for it
  | 'id'
  | 'list'
  // is shown as net, tax and margin
  | 'taxed'
  | 'costTotal'
  // is shown as `broken`
  | 'brokenFloor'
  | 'priced';
type Missing<Core, Shown> = Exclude<keyof Core, keyof Shown | Elsewhere>;
const nothingLeftOut: Record<
  Missing<PricedLine, QuoteLineFigures> | Missing<PricedQuote, QuoteFigures> | Missing<PricedCharge, ShownCharge>,
  never
> = {};
void nothingLeftOut;
