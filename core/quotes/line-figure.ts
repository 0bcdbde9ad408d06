import type { Derivation, Operation, SliceText, Step } from '../buildup/steps.ts';
import { calculate } from '../buildup/steps.ts';
import { type Dec, ZERO, plain, roundHalfUp } from '../numbers/decimal.ts';

/** Part of a line's quantity at a price of its own, per pack as the list shows it. `from`: in what the table measures. */
export interface PricedSlice {
  readonly from: Dec;
  readonly quantity: Dec;
  readonly price: Dec;
}

/** The price of a line on its way: one figure, or one for every slice, of which the derivation shows the average. */
export class LineFigure {
  constructor(
    readonly d: Derivation,
    readonly quantity: Dec,
    /** Null: one price for all units. */
    public slices: readonly PricedSlice[] | null,
  ) {}

  /** The price; of slices each. */
  get prices(): readonly Dec[] {
    return this.slices?.map((s) => s.price) ?? [this.d.figure];
  }

  /** Does an operation on the price, of slices on every one. A price that is set is one for all. */
  apply(step: Omit<Step, 'before' | 'after'>): void {
    this.d.add(step);
    const { operation } = step;
    if (operation.op === 'set') this.slices = null;
    else this.slices = this.slices?.map((s) => ({ ...s, price: calculate(operation, s.price) })) ?? null;
  }

  /** Rounds the price, of slices each, to the list's decimals. */
  round(decimals: number, step: Pick<Step, 'currency' | 'per' | 'rule'>): void {
    if (this.prices.every((p) => roundHalfUp(p, decimals).eq(p))) return;
    if (!this.slices) {
      this.d.add({ ...step, kind: 'decimals', operation: { op: 'round', decimals, way: 'half_up' } });
      return;
    }
    this.slices = this.slices.map((s) => ({ ...s, price: roundHalfUp(s.price, decimals) }));
    this.d.add({ ...step, kind: 'decimals', operation: { op: 'slices', slices: sliceTexts(this.slices) } });
  }

  /** Price times quantity, without rounding. */
  get exactTotal(): Dec {
    return this.slices
      ? this.slices.reduce((sum, s) => sum.plus(s.price.times(s.quantity)), ZERO)
      : this.d.figure.times(this.quantity);
  }

  /** How the line's total comes about: of slices each is rounded, so that those shown sum to it. */
  total(digits: number): Operation {
    return this.slices
      ? { op: 'total_of_slices', slices: sliceTexts(this.slices), decimals: digits }
      : { op: 'total', quantity: plain(this.quantity), decimals: digits };
  }
}

export const sliceTexts = (slices: readonly PricedSlice[]): SliceText[] =>
  slices.map((s) => ({ quantity: plain(s.quantity), price: plain(s.price) }));
