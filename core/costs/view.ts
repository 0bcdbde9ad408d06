import type { ItemsView } from '../items/view.ts';
import type { Lookup } from '../lookup/lookup.ts';
import type { Day } from '../numbers/day.ts';
import type { Cost, DatedLandedTerms, Rate, Supplier, SupplierChoice } from './cost.ts';

/** What is looked up where currencies meet. */
export interface RatesView extends Pick<ItemsView, 'remember'> {
  readonly workspace: { readonly currency: string };
  /** The rate of a pair in force on a day: the latest that has begun. */
  rateOn(from: string, to: string, day: Day): Rate | null;
}

/** What is looked up to know what goods cost. */
export interface CostsView extends ItemsView, RatesView {
  readonly workspace: ItemsView['workspace'] & RatesView['workspace'] & { readonly supplierChoice: SupplierChoice };
  readonly suppliers: ReadonlyMap<string, Supplier>;
  /** By supplier. */
  readonly landedTerms: ReadonlyMap<string, readonly DatedLandedTerms[]>;
  readonly costsByItem: Lookup<readonly Cost[]>;
}
