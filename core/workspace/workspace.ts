import type { Cost, DatedLandedTerms, Rate, Supplier, SupplierChoice } from '../costs/cost.ts';
import type { AttributeTerms, Named } from '../items/described.ts';
import type { Category, Item } from '../items/item.ts';
import type { Customer, CustomerGroup } from '../lists/customer.ts';
import type { Reduction } from '../lists/entries.ts';
import type { PostedPrice } from '../lists/posted-price.ts';
import type { ListChoice, PriceList } from '../lists/price-list.ts';
import type { LockstepGroup } from '../lockstep/group.ts';
import type { Proof } from '../proofs/proof.ts';
import type { BreakTable, Pool } from '../quotes/breaks.ts';
import type { ProportionalCharge } from '../quotes/charges.ts';
import type { FloorTerms } from '../quotes/floors.ts';
import type { RuleSet } from '../quotes/rules/rule.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { Region } from '../regions/region.ts';
import type { TaxRate } from '../regions/tax.ts';
import type { LadderTerms } from '../rounding/ladder.ts';

/** Everything a price is made of. Plain data; amounts are exact decimals as text. */
export interface Workspace {
  readonly currency: string;
  readonly supplierChoice: SupplierChoice;
  readonly listChoice: ListChoice;
  readonly items: readonly Item[];
  readonly suppliers: readonly Supplier[];
  readonly landed: readonly DatedLandedTerms[];
  readonly costs: readonly Cost[];
  readonly rates: readonly Rate[];
  readonly categories: readonly Category[];
  readonly taxes: readonly TaxRate[];
  readonly ladders: readonly LadderTerms[];
  readonly recipes: readonly RecipeTerms[];
  readonly lists: readonly PriceList[];
  readonly groups: readonly CustomerGroup[];
  readonly customers: readonly Customer[];
  readonly posted: Iterable<PostedPrice>;
  readonly breaks: readonly BreakTable[];
  readonly floors: readonly FloorTerms[];
  readonly regions: readonly Region[];
  readonly lockstep: readonly LockstepGroup[];
  readonly reductions: readonly Reduction[];
  readonly pools: readonly Pool[];
  readonly rules: readonly RuleSet[];
  readonly charges: readonly ProportionalCharge[];
  readonly proofs: readonly Proof[];
  readonly attributes: readonly AttributeTerms[];
  readonly brands: readonly Named[];
  readonly taxClasses: readonly Named[];
}
