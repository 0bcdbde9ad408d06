import type { QuoteFigures, QuoteLineFigures, ShownCharge } from '#contract/quotes.ts';
import type { Step } from '#core/buildup/steps.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { type Dec, ZERO, dec, money, plain, roundDown, roundHalfUp, roundUp } from '#core/numbers/decimal.ts';
import { type Reason, wording } from '#core/reasons.ts';
import { type BreakCount, bandsOf } from '#core/quotes/breaks.ts';
import type { BreakCounting } from '#core/quotes/lowest-price.ts';
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
export function figuresOf(ws: Prepared, q: Pick<QuoteQuestion, 'lines'>, p: PricedQuote): QuoteFigures {
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
      breakWords: line.ok && line.value.breaks ? breakWords(ws, line.value.breaks, decimals) : null,
    };
    if (!line.ok) {
      return { ...NO_PRICE, ...head, reason: wording(line.reason) };
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

/** The figures of one line that no list is meant for, with the reason. */
export function figuresOfNoList(ws: Prepared, asked: QuoteQuestion['lines'][number], reason: Reason): QuoteFigures {
  const { currency } = ws.workspace;
  const item = ws.items.get(asked.item);
  const nothing = money(ZERO, minorUnits(currency));
  return {
    currency,
    taxIn: false,
    decimals: minorUnits(currency),
    lines: [
      {
        ...NO_PRICE,
        sku: item?.sku ?? asked.item,
        name: item?.name ?? '',
        packName: item?.packs.find((p) => p.id === asked.pack)?.name ?? '',
        quantity: asked.quantity,
        breakWords: null,
        reason: wording(reason),
      },
    ],
    charges: [],
    reduction: null,
    profit: null,
    linesTotal: nothing,
    taxes: [],
    net: nothing,
    toPay: nothing,
    margin: null,
    outcome: 'incomplete',
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

const NO_PRICE = {
  ...NOTHING_MORE,
  listPrice: null,
  unitPrice: null,
  total: null,
  broken: null,
  slices: [],
  buyMore: null,
  margin: null,
  steps: [],
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

const COUNTED_TOGETHER: Record<BreakCount, string> = {
  line: 'on this line',
  item: 'of this item on the quote',
  pool: 'of this pool on the quote',
  section: 'in this section',
};

/**
 * The breaks of a line in words: "50 to 199: 3.90 · 200 and more: 3.45 (one price for all units; 75 of this item on the
 * quote)". They name whose they are where that is not the list itself.
 */
function breakWords(ws: Prepared, { table, of, counts, counted }: BreakCounting, decimals: number): string {
  const amount = (value: string) => money(roundHalfUp(dec(value), decimals), decimals);
  const rows = new Map(table.rows.map((r) => [r.from, r]));
  const words = bandsOf(table.rows).map((band) => {
    const row = rows.get(band.from)!;
    const value = {
      price: () => amount(row.value),
      percent_off: () => `${row.value} % off`,
      amount_off: () => `${amount(row.value)} off`,
    }[row.kind]();
    return table.way === 'sliced'
      ? `beyond ${band.from}: ${value}`
      : `${band.to === null ? `${band.from} and more` : `${band.from} to ${band.to}`}: ${value}`;
  });
  const measured = { units: '', weight: ' kg', value: ` ${(of?.list ?? ws.lists.get(table.list))?.currency ?? ''}` };
  const whose = [
    ...(table.customer ? [`for ${ws.customers.get(table.customer)?.name ?? 'this customer'}`] : []),
    ...(table.group ? [`for ${ws.groups.get(table.group)?.name ?? 'this group'}`] : []),
    ...(of ? [`from ${of.list.name}`] : []),
  ];
  const way = table.way === 'whole' ? 'one price for all units' : 'each slice at its own price';
  const count = `${plain(roundHalfUp(counted, 3))}${measured[table.measure ?? 'units']} ${COUNTED_TOGETHER[counts]}`;
  return `${words.join(' · ')} (${[...whose, way, count].join('; ')})`;
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
 * The figures for those who may not see costs. They learn what a floor does (lifted, needs approval, refused), never the name
 * of one that is made from cost; how high it lies, only where the workspace says so (`showsCostFloors`).
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
      const fromCost = l.broken?.fromCost ?? false;
      const hidden = !showsCostFloors && fromCost;
      const steps = l.steps.filter((s) => !COST_STEPS.has(s.kind));
      return {
        ...l,
        margin: null,
        profit: null,
        // its name may tell its percentage, and with the least price that would tell the cost
        broken: l.broken && {
          ...l.broken,
          ...(fromCost ? { name: null } : {}),
          ...(hidden ? { least: null, short: null } : {}),
        },
        floorsNotApplied: l.floorsNotApplied.map(() => ({ name: NAMELESS, why: 'it cannot be worked out' })),
        steps: steps.map((s) => (s.kind === 'floor' ? withoutFloors(s, fromCost, showsCostFloors) : s)),
      };
    }),
  };
}

/** What a floor is called for those who may not see what it is made from. */
const NAMELESS = 'a floor';

/** Other floors among the losers may be made from cost too: neither names nor figures of theirs stay. */
function withoutFloors(step: Step, fromCost: boolean, showsLeast: boolean): Step {
  const { facts, lost, rule, ...rest } = step;
  return {
    ...rest,
    ...(rule ? { rule: fromCost ? { kind: rule.kind, id: rule.id, name: NAMELESS } : rule } : {}),
    ...(facts && (showsLeast || !fromCost) ? { facts } : {}),
    ...(lost ? { lost: lost.map(({ why }) => ({ name: NAMELESS, why })) } : {}),
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
  // is shown as `breakWords`
  | 'breaks'
  // is shown as `broken`
  | 'brokenFloor'
  | 'priced';
type Missing<Core, Shown> = Exclude<keyof Core, keyof Shown | Elsewhere>;
const nothingLeftOut: Record<
  Missing<PricedLine, QuoteLineFigures> | Missing<PricedQuote, QuoteFigures> | Missing<PricedCharge, ShownCharge>,
  never
> = {};
void nothingLeftOut;
