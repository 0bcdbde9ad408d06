import { unpack } from '#contract/packed.ts';
import type { TrialFigures } from '#contract/recipes.ts';
import { type Effect, type Move, effectOf } from '#core/bulk/effect.ts';
import { type BulkPrices, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { retune } from '#core/bulk/retune.ts';
import type { RecipeTerms } from '#core/recipes/recipe.ts';

/** What the new prices are held against. */
export type Against = 'posted' | 'kept';

export interface NamedMove {
  readonly sku: string;
  readonly name: string;
  /** As the list shows them, as text. */
  readonly before: string;
  readonly after: string;
}

export interface TrialEffect extends Omit<Effect, 'largestRises' | 'largestFalls'> {
  readonly largestRises: readonly NamedMove[];
  readonly largestFalls: readonly NamedMove[];
  readonly prices: number;
  readonly currency: string;
  /** Of the prices it is held against; null: not known. */
  readonly meanMarginBefore: number | null;
}

/** Prices of the kept recipe, in whole units of 1 ÷ scale. */
interface Kept {
  readonly price: Float64Array;
  readonly scale: number;
  readonly meanMargin: number | null;
}

/** A list that is tried: its figures, held in a worker, and its prices under one draft after another. */
export class TrialSession {
  private figures: TrialFigures | null = null;
  private out: BulkPrices | null = null;
  private kept: Kept | null = null;

  /** `first`: the figures are made ready with the kept recipe, whose prices are remembered. */
  load(bytes: ArrayBuffer, first: boolean): void {
    const figures = unpack<TrialFigures>(bytes);
    this.figures = figures;
    this.out = emptyPrices(figures.skus.length, figures.list.ladder.scale);
    if (!first) return;
    const prices = this.price(figures.recipe)!;
    const { meanMargin } = effectOf(prices, prices.price);
    this.kept = { price: prices.price.slice(), scale: prices.scale, meanMargin };
    // compiled before the first change is typed
    for (let n = 0; n < 3; n++) this.effect(figures.recipe, 'kept');
  }

  /** Null: the draft differs in more than figures; the server has to make the list ready for it. */
  effect(draft: RecipeTerms, against: Against): TrialEffect | null {
    const { figures } = this;
    if (!figures) return null;
    const prices = this.price(draft);
    if (!prices) return null;
    const before = against === 'kept' && this.kept ? this.kept : { price: figures.list.posted, scale: prices.scale };
    // powers of ten: the finer of the two counts both in whole numbers
    const scale = Math.max(before.scale, prices.scale);
    const found = effectOf(
      { ...prices, price: finer(prices.price, scale / prices.scale) },
      finer(before.price, scale / before.scale),
    );
    const named = ({ row, before: was, after }: Move): NamedMove => ({
      sku: figures.skus[row]!,
      name: figures.names[row]!,
      before: unitsText(was, scale, figures.decimals),
      after: unitsText(after, scale, figures.decimals),
    });
    return {
      ...found,
      largestRises: found.largestRises.map(named),
      largestFalls: found.largestFalls.map(named),
      prices: prices.price.length,
      currency: figures.currency,
      meanMarginBefore: against === 'kept' ? (this.kept?.meanMargin ?? null) : null,
    };
  }

  private price(draft: RecipeTerms): BulkPrices | null {
    const { figures, list, recipe } = this.figures as TrialFigures & { figures: TrialFigures['figures'] };
    const ready = retune(list, recipe, { ...draft, id: recipe.id, version: recipe.version });
    if (!ready) return null;
    const out = this.out!;
    priceRows(figures, ready, out, 0, out.price.length);
    return out;
  }
}

const finer = (units: Float64Array, times: number): Float64Array =>
  times === 1 ? units : units.map((value) => value * times);

/** Whole units as a figure with at least so many decimals: 1290 of a hundredth is "12.90". */
export function unitsText(units: number, scale: number, decimals: number): string {
  const places = Math.round(Math.log10(scale));
  const digits = String(units).padStart(places + 1, '0');
  const whole = digits.slice(0, digits.length - places);
  const fraction = digits
    .slice(digits.length - places)
    .replace(/0+$/, '')
    .padEnd(decimals, '0');
  return fraction === '' ? whole : `${whole}.${fraction}`;
}
