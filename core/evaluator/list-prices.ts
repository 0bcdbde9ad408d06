import { BulkWorkspace, type DecidedPrices, bulkPrices } from '../bulk/bulk-prices.ts';
import { FLAGS, PERCENT_PLACES } from '../bulk/price-rows.ts';
import { GUARD_NAMES } from '../guards/guards.ts';
import { computePrice } from '../lists/list-price.ts';
import { type Outcome, figure, refusal, wording } from '../reasons.ts';
import { GUARD_KINDS } from '../recipes/recipe.ts';
import type { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from '../lists/price-list.ts';
import type { Step } from '../buildup/steps.ts';
import type { PricesAsked } from './questions.ts';
import { percentText, priceText } from './wording.ts';

/** One price of a list as its recipe makes it; per pack, in the list's currency, as the list shows it. */
export interface PriceRow {
  readonly list: string;
  readonly item: string;
  readonly pack: string;
  readonly price: string | null;
  /** Achieved, per cent on two decimals. */
  readonly markup: string | null;
  readonly margin: string | null;
  readonly flag?: string;
  /** The guards that bit, in words; in no order. */
  readonly guards?: readonly string[];
  readonly wouldFallTo?: string;
  /** Why there is no price. */
  readonly reason?: { readonly code: string; readonly message: string };
  readonly buildUp?: readonly Step[];
}

/** The lists a question is about: those named, else every active one with a recipe. */
export function pricedLists(ws: Prepared, q: PricesAsked): Outcome<readonly PriceList[]> {
  if (!q.lists) {
    return figure(ws.workspace.lists.filter((l) => l.active && (l.recipe !== null || l.recipes?.length)));
  }
  const out: PriceList[] = [];
  for (const id of q.lists) {
    const list = ws.lists.get(id);
    if (!list) return refusal('unknown_list', 'lists', { list: id });
    out.push(list);
  }
  return figure(out);
}

/** Every price of some lists, one after the other, by the bulk way: figures without build-up. */
export function* listPrices(ws: Prepared, lists: readonly PriceList[], q: PricesAsked): Generator<PriceRow> {
  const only = q.items ? new Set(q.items) : null;
  const bulk = ws.remember('bulk', q.day, () => new BulkWorkspace(ws, q.day));
  for (const list of lists) {
    const prices = bulkPrices(bulk, list);
    const decimals = ws.decimalsOf(list);
    for (const [i, { item, pack }] of bulk.columns.rows.entries()) {
      if (only && !only.has(item)) continue;
      yield { list: list.id, item, pack, ...figuresOf(prices, i, decimals) };
    }
  }
}

/** The same with the build-up of every price, by the explained way. */
export function* explainedPrices(ws: Prepared, lists: readonly PriceList[], q: PricesAsked): Generator<PriceRow> {
  const only = q.items ? new Set(q.items) : null;
  for (const list of lists) {
    const decimals = ws.decimalsOf(list);
    for (const item of ws.workspace.items) {
      if (only && !only.has(item.id)) continue;
      for (const pack of ws.followed(item).packs) {
        const found = computePrice(ws, { item: item.id, pack: pack.id, list: list.id, day: q.day });
        const place = { list: list.id, item: item.id, pack: pack.id };
        if (!found.ok) {
          const { code } = found.reason;
          yield { ...place, price: null, markup: null, margin: null, reason: { code, message: wording(found.reason) } };
          continue;
        }
        const { price, markup, margin, flag, bit, wouldFallTo, steps } = found.value;
        yield {
          ...place,
          price: priceText(price, decimals),
          markup: percentText(markup),
          margin: percentText(margin),
          ...(flag ? { flag } : {}),
          ...(bit.length > 0 ? { guards: bit } : {}),
          ...(wouldFallTo ? { wouldFallTo: priceText(wouldFallTo, decimals) } : {}),
          buildUp: steps,
        };
      }
    }
  }
}

const BITS = GUARD_KINDS.map((kind) => GUARD_NAMES[kind]);

function figuresOf(p: DecidedPrices, i: number, decimals: number): Omit<PriceRow, 'list' | 'item' | 'pack'> {
  const reason = p.reasons.get(i);
  if (reason) {
    const { code } = reason;
    return { price: null, markup: null, margin: null, reason: { code, message: wording(reason) } };
  }
  const [flag, bits, fall] = [FLAGS[p.flag[i]!]!, p.guards[i]!, p.wouldFallTo[i]!];
  return {
    price: unitsText(p.price[i]!, p.scale, decimals),
    markup: unitsText(p.markup[i]!, 10 ** PERCENT_PLACES, PERCENT_PLACES),
    margin: unitsText(p.margin[i]!, 10 ** PERCENT_PLACES, PERCENT_PLACES),
    ...(flag === 'none' ? {} : { flag }),
    ...(bits === 0 ? {} : { guards: BITS.filter((_, g) => bits & (1 << g)) }),
    ...(Number.isNaN(fall) ? {} : { wouldFallTo: unitsText(fall, p.scale, decimals)! }),
  };
}

/** Whole units of 1 ÷ scale (a power of ten) as text with at least so many decimals. */
export function unitsText(units: number, scale: number, decimals: number): string | null {
  if (!Number.isFinite(units)) return null;
  const places = String(scale).length - 1;
  const digits = String(Math.abs(units)).padStart(places + 1, '0');
  const point = digits.length - places;
  let fraction = digits.slice(point);
  while (fraction.length > decimals && fraction.endsWith('0')) fraction = fraction.slice(0, -1);
  fraction = fraction.padEnd(decimals, '0');
  return `${units < 0 ? '-' : ''}${digits.slice(0, point)}${fraction ? `.${fraction}` : ''}`;
}
