import type { CostsView } from '../costs/view.ts';
import type { Item } from '../items/item.ts';
import type { Day } from '../numbers/day.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { RecipesView } from '../recipes/uplift.ts';
import type { RegionsView } from '../regions/region.ts';
import type { TaxView } from '../regions/tax.ts';
import type { ChosenLadder, Ladder, LadderTerms } from '../rounding/ladder.ts';
import type { Customer } from './customer.ts';
import type { EntriesView } from './entries.ts';
import type { PostedView } from './posted-price.ts';
import type { ListChoice, PriceList } from './price-list.ts';

/** What is looked up to know what a list asks, and whom it is meant for. */
export interface ListsView extends CostsView, RegionsView, TaxView, EntriesView, PostedView, RecipesView {
  readonly workspace: CostsView['workspace'] &
    RegionsView['workspace'] & { readonly lists: readonly PriceList[]; readonly listChoice: ListChoice };
  readonly suppliers: CostsView['suppliers'];
  readonly lists: ReadonlyMap<string, PriceList>;
  readonly customers: ReadonlyMap<string, Customer>;
  readonly recipes: ReadonlyMap<string, RecipeTerms>;
  readonly ladders: ReadonlyMap<string, LadderTerms>;
  /** The day whose exchange rates a list follows on a day. */
  rateDay(list: PriceList, day: Day): Day;
  /** Decimals of a list's unit prices. */
  decimalsOf(list: PriceList): number;
  recipeFor(list: PriceList, item: Item): RecipeTerms | null;
  ladderFor(list: PriceList, recipe: RecipeTerms | null, item: Item, pack: string): ChosenLadder | null;
  /** A ladder made ready for a list's decimals; null: the ladder does not exist. */
  ladder(id: string, decimals: number): Ladder | null;
}
