import { minorUnits } from '../numbers/currency.ts';
import { type ListEntry, type Reduction, indexEntries } from '../lists/entries.ts';
import { type PostedPrice, lastDayOf } from '../lists/posted-price.ts';
import type { Cost, DatedLandedTerms, Rate, Supplier } from '../costs/cost.ts';
import type { LockstepGroup } from '../lockstep/group.ts';
import type { BreakTable, Pool } from '../quotes/breaks.ts';
import type { ProportionalCharge } from '../quotes/charges.ts';
import type { FloorTerms } from '../quotes/floors.ts';
import { type Lookup, baseOf, isMuch, putTogether, replaced, sourceOf } from '../lookup/lookup.ts';
import type { Pausable } from '../pausable.ts';
import { PostedRows, PostedStore } from './posted-store.ts';
import { Remembered } from './remembered.ts';
import { RecipeIndex } from '../recipes/recipe-index.ts';
import type { Region } from '../regions/region.ts';
import { type ChosenLadder, type Ladder, type LadderTerms, prepareLadder } from '../rounding/ladder.ts';
import { ScopeIndex, compareSpecificity, describeScope, fits, specificityOf } from '../items/scope.ts';
import type { Category, Item, Pack } from '../items/item.ts';
import type { Customer, CustomerGroup } from '../lists/customer.ts';
import type { Day } from '../numbers/day.ts';
import type { PriceList } from '../lists/price-list.ts';
import type { TaxRate } from '../regions/tax.ts';
import type { QuotesView } from '../quotes/view.ts';
import type { Workspace } from './workspace.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';

function byId<T extends { readonly id: string }>(rows: readonly T[]): Map<string, T> {
  return new Map(rows.map((r) => [r.id, r]));
}

/** Of some items every posting of their prices. */
export type PostedByItem = ReadonlyMap<string, readonly PostedPrice[]>;

/** What of a workspace differs from one before it: of a million rows only these are looked up anew. */
export interface Moved {
  /** By item every posting of its prices as it is now: of those items alone of which one has changed; or all, as a store. */
  readonly posted?: PostedByItem | PostedStore;
  /** Items that were changed in any way, with their costs; what of them is still sold, as it is now. */
  readonly items?: {
    readonly items: ReadonlySet<string>;
    readonly now: readonly Item[];
    readonly costs: readonly Cost[];
  };
}

function grouped<T>(rows: Iterable<T>, key: (row: T) => string): Map<string, T[]> {
  const out = new Map<string, T[]>();
  for (const row of rows) {
    const k = key(row);
    const bucket = out.get(k);
    if (bucket) bucket.push(row);
    else out.set(k, [row]);
  }
  return out;
}

/** A workspace with its look-ups made. Made once, asked often; nothing in it changes. */
export class Prepared implements QuotesView {
  readonly items: Lookup<Item>;
  readonly suppliers: Map<string, Supplier>;
  readonly categories: Map<string, Category>;
  readonly recipes: Map<string, RecipeTerms>;
  readonly ladders: Map<string, LadderTerms>;
  readonly lists: Map<string, PriceList>;
  readonly customers: Map<string, Customer>;
  readonly groups: Map<string, CustomerGroup>;
  readonly regions: Map<string, Region>;
  readonly charges: Map<string, ProportionalCharge>;
  readonly pools: Map<string, Pool>;
  readonly reductions: ScopeIndex<Reduction>;
  readonly floors: ScopeIndex<FloorTerms>;
  readonly landedTerms: Map<string, DatedLandedTerms[]>;
  readonly costsByItem: Lookup<readonly Cost[]>;
  private readonly lockstep = new Map<string, LockstepGroup>();
  private readonly entriesByList = new Map<string, ScopeIndex<ListEntry>>();
  private readonly recipeIndexes = new Map<string, RecipeIndex>();
  private readonly breaksByList: Map<string, BreakTable[]>;
  private readonly taxes: Map<string, TaxRate[]>;
  private readonly rates: Map<string, Rate[]>;
  /** By item: what is posted for one, of all its packs on all lists, is a short list. */
  private readonly posted: Lookup<readonly PostedPrice[]>;
  private readonly defaultLadders = new Map<string, string>();
  private readonly readyLadders = new Map<string, Ladder>();
  private readonly above = new Map<string, readonly string[]>();
  private readonly remembered = new Map<string, Remembered>();

  /** `base`: a state before; look-ups of what is the very same in both are shared. `moved`: what of the rest has changed since. */
  constructor(
    readonly workspace: Workspace,
    base?: Prepared,
    { posted: moved, items: movedItems }: Moved = {},
  ) {
    const same = (member: 'items' | 'costs' | 'posted') => base?.workspace[member] === workspace[member];
    this.items =
      base && same('items')
        ? base.items
        : base && movedItems
          ? replaced(base.items, movedItems.items, byId(movedItems.now))
          : byId(workspace.items);
    this.suppliers = byId(workspace.suppliers);
    this.categories = byId(workspace.categories);
    this.recipes = byId(workspace.recipes);
    this.ladders = byId(workspace.ladders);
    for (const { id, currency, byDefault } of workspace.ladders) {
      const known = this.defaultLadders.get(currency);
      if (byDefault && (known === undefined || id < known)) this.defaultLadders.set(currency, id);
    }
    this.lists = byId(workspace.lists);
    this.customers = byId(workspace.customers);
    this.groups = byId(workspace.groups);
    this.regions = byId(workspace.regions);
    this.charges = byId(workspace.charges);
    this.pools = byId(workspace.pools);
    this.reductions = new ScopeIndex(workspace.reductions, (r) => r.scope);
    this.floors = new ScopeIndex(workspace.floors, (f) => f);
    this.landedTerms = grouped(workspace.landed, (t) => t.supplier);
    this.breaksByList = grouped(workspace.breaks, (t) => t.list);
    for (const group of workspace.lockstep)
      for (const id of [group.lead, ...group.members]) this.lockstep.set(id, group);
    this.costsByItem =
      base && same('costs')
        ? base.costsByItem
        : base && movedItems
          ? replaced(
              base.costsByItem,
              movedItems.items,
              grouped(movedItems.costs, (c) => c.item),
            )
          : grouped(workspace.costs, (c) => c.item);
    this.taxes = grouped(workspace.taxes, (t) => `${t.region ?? ''}>${t.taxClass}`);
    this.rates = grouped(workspace.rates, (r) => `${r.from}>${r.to}`);
    // asked for last: where it is kept by item, it would have to be put together
    if (moved instanceof PostedStore) this.posted = moved;
    else if (base && moved) this.posted = moved.size === 0 ? base.posted : replaced(base.posted, moved.keys(), moved);
    else if (workspace.posted instanceof PostedStore) this.posted = workspace.posted;
    else if (workspace.posted instanceof PostedRows) this.posted = workspace.posted.by;
    else this.posted = base && same('posted') ? base.posted : grouped(workspace.posted, (p) => p.item);
  }

  get hasPosted(): boolean {
    return !this.posted.keys()[Symbol.iterator]().next().done;
  }

  /** Every posting, item by item. */
  get everyPosted(): Iterable<PostedPrice> {
    return new PostedRows(this.posted);
  }

  /** What its posted prices are kept in, the same object for all states that share it. */
  get postedIn(): object {
    return baseOf(this.posted);
  }

  /** What is posted once some items are posted anew, for the state that follows: put together where that is much; to be paused. */
  *postedOfItems(now: PostedByItem): Pausable<PostedByItem | PostedStore> {
    if (!isMuch(this.posted, now)) return now;
    const before = yield* putTogether(this.posted);
    return before instanceof PostedStore ? yield* before.with(now) : now;
  }

  /** What is posted once some lists are posted anew, which `now` has all postings of; to be paused. Null: it is not kept as a store. */
  *postedOfLists(lists: ReadonlySet<string>, now: PostedStore): Pausable<PostedStore | null> {
    const before = yield* putTogether(this.posted);
    return before instanceof PostedStore ? yield* before.withLists(lists, now) : null;
  }

  /** The same workspace with other recipes: what does not hang on them stays worked out. */
  withRecipes(change: (recipe: RecipeTerms) => RecipeTerms): Prepared {
    const recipes = new Map([...this.recipes].map(([id, r]) => [id, change(r)]));
    const kept = [...this.remembered].filter(([what]) => !what.startsWith('row ') && what !== 'bulk');
    return this.changed({ recipes, recipeIndexes: new Map(), remembered: new Map(kept) });
  }

  /** The same workspace with another figure of one cost. */
  withCost(cost: Cost): Prepared {
    const costs = (this.costsByItem.get(cost.item) ?? []).map((c) => (c.id === cost.id ? cost : c));
    const kept = [...this.remembered].filter(([what]) => !what.startsWith('landed ') && what !== 'bulk');
    const costsByItem = replaced(this.costsByItem, [cost.item], new Map([[cost.item, costs]]));
    return this.changed({ costsByItem, remembered: new Map(kept) });
  }

  private changed(fields: object): Prepared {
    return Object.assign(Object.create(Prepared.prototype) as Prepared, this, fields);
  }

  /** What was worked out before for the same key; nothing in a workspace changes, so it is the same again. Of many only those asked for lately are kept. */
  remember<T>(what: string, key: string, work: () => T, most?: number): T {
    let known = this.remembered.get(what);
    if (!known) this.remembered.set(what, (known = new Remembered(most)));
    return known.get(key, work);
  }

  /** The rate of a pair in force on a day: the latest that has begun. */
  rateOn(from: string, to: string, day: Day): Rate | null {
    return latest(this.rates.get(`${from}>${to}`), (r) => r.day, day);
  }

  /** The rate of a tax class on a day: the region's own, else the one that holds everywhere. Nothing is charged where the region says so. */
  taxOn(taxClass: string, day: Day, region: string | null = null): TaxRate | null {
    if (region !== null) {
      if (this.regions.get(region)?.tax === 'none') return { taxClass, percent: '0', from: day, region };
      const own = latest(this.taxes.get(`${region}>${taxClass}`), (t) => t.from, day);
      if (own) return own;
    }
    return latest(this.taxes.get(`>${taxClass}`), (t) => t.from, day);
  }

  /** The region whose taxes a list shows: its only one, if it has exactly one. */
  taxRegion(list: Pick<PriceList, 'regions'>): string | null {
    return list.regions?.length === 1 ? list.regions[0]! : null;
  }

  taxDisplay(list: Pick<PriceList, 'taxIn' | 'regions'>): string {
    if (!list.taxIn) return 'out';
    const region = this.taxRegion(list);
    if (region === null) return 'in';
    if (this.regions.get(region)?.tax === 'none') return 'in, without tax';
    const ownRates = this.remember(
      'regions with tax rates',
      '',
      () => new Set([...this.taxes.values()].flat().map((t) => t.region)),
    );
    return ownRates.has(region) ? `in ${region}` : 'in';
  }

  lockstepOf(item: string): LockstepGroup | null {
    return this.lockstep.get(item) ?? null;
  }

  /** The item whose cost, packs, tax, deposit and prices count: the lead of a lockstep group, else the item itself. */
  followed(item: Item): Item {
    const group = this.lockstep.get(item.id);
    return group && group.lead !== item.id ? (this.items.get(group.lead) ?? item) : item;
  }

  /** An item's pack, by its own id or, in a lockstep group, the lead's pack of the same name. */
  packOf(item: Item, pack: string): Pack | null {
    const lead = this.followed(item);
    const own = lead.packs.find((p) => p.id === pack);
    if (own || lead === item) return own ?? null;
    const name = item.packs.find((p) => p.id === pack)?.name;
    return lead.packs.find((p) => p.name === name) ?? null;
  }

  entries(list: string): ScopeIndex<ListEntry> {
    const known = this.entriesByList.get(list);
    if (known) return known;
    const made = indexEntries(this.lists.get(list)?.entries ?? []);
    this.entriesByList.set(list, made);
    return made;
  }

  recipeIndex(recipe: RecipeTerms): RecipeIndex {
    const known = this.recipeIndexes.get(recipe.id);
    if (known) return known;
    const made = new RecipeIndex(this, recipe);
    this.recipeIndexes.set(recipe.id, made);
    return made;
  }

  breaks(list: string): readonly BreakTable[] {
    return this.breaksByList.get(list) ?? [];
  }

  /** The day whose exchange rates a list follows on a day: its pin's, else the day itself. */
  rateDay(list: PriceList, day: Day): Day {
    return latest(list.ratePins ?? undefined, (p) => p.from, day)?.rates ?? day;
  }

  /** The recipe of a list for an item: its most specific tie (item, then the deepest category), else the list's own. */
  recipeFor(list: PriceList, item: Item): RecipeTerms | null {
    const tie = list.recipes?.length ? mostSpecific(this, list.recipes, item, null) : null;
    const id = tie?.recipe ?? list.recipe;
    return (id && this.recipes.get(id)) || null;
  }

  /**
   * The ladder for a price: the most specific tie of the list or the recipe (item, then the deeper category, then pack;
   * the list's before the recipe's), else the list's, the recipe's, or the currency's default. `why` names a tie or the default.
   */
  ladderFor(list: PriceList, recipe: RecipeTerms | null, item: Item, pack: string): ChosenLadder | null {
    const usable = (id: string) => (this.ladders.get(id)?.currency ?? list.currency) === list.currency;
    const ties = [...(list.ladders ?? []), ...(recipe?.ladders ?? []).filter((t) => usable(t.ladder))];
    const tie = ties.length > 0 ? mostSpecific(this, ties, item, pack) : null;
    if (tie) return { id: tie.ladder, why: describeScope(this, tie) };
    if (list.ladder) return { id: list.ladder, why: null };
    if (recipe?.ladder && usable(recipe.ladder)) return { id: recipe.ladder, why: null };
    const byDefault = this.defaultLadders.get(list.currency);
    return byDefault ? { id: byDefault, why: `every list in ${list.currency}, by default` } : null;
  }

  /**
   * The posting in force on a day, its price null where the item was taken off the list. One with a last day ends
   * after it: then what was due without it is in force. A typed price holds until then against what was posted before it,
   * also for a later day; what is posted after it takes its place.
   */
  postingOn(list: string, item: string, pack: string, day: Day): PostedPrice | null {
    const begun = this.postings(list, item, pack).filter((p) => p.from <= day && (lastDayOf(p) ?? day) >= day);
    const hand = begun.reduce((last, p) => (p.handSet && p.entry > last ? p.entry : last), -Infinity);
    let best: PostedPrice | null = null;
    for (const p of begun) {
      if (p.entry < hand) continue;
      if (!best || p.from > best.from || (p.from === best.from && p.entry > best.entry)) best = p;
    }
    return best;
  }

  postedOn(list: string, item: string, pack: string, day: Day): PostedPrice | null {
    const posting = this.postingOn(list, item, pack, day);
    return posting && posting.price !== null ? posting : null;
  }

  /** What is posted for an item: of those that follow the lead of a lockstep group, what is posted for the lead. */
  postedFor(list: string, item: Item, pack: string, day: Day): PostedPrice | null {
    return this.postedOn(list, this.followed(item).id, this.packOf(item, pack)?.id ?? pack, day);
  }

  /** Every posting of an item's prices. */
  postedOf(item: string): readonly PostedPrice[] | undefined {
    return this.posted.get(item);
  }

  /** Whether the very same is posted for an item in two states that share what neither has changed. */
  samePosted(other: Prepared, item: string): boolean {
    return this.posted === other.posted || sourceOf(this.posted, item) === sourceOf(other.posted, item);
  }

  /** Every posting of a price, in no order. */
  postings(list: string, item: string, pack: string): readonly PostedPrice[] {
    const found = sourceOf(this.posted, item);
    if (found instanceof PostedStore) return found.of(list, item, pack);
    return ((found ?? []) as readonly PostedPrice[]).filter((p) => p.list === list && p.pack === pack);
  }

  decimalsOf(list: PriceList): number {
    return list.decimals ?? minorUnits(list.currency);
  }

  /** A ladder made ready for a list's decimals; null: the ladder does not exist. */
  ladder(id: string, decimals: number): Ladder | null {
    const key = `${id}/${decimals}`;
    const ready = this.readyLadders.get(key);
    if (ready) return ready;
    const terms = this.ladders.get(id);
    if (!terms) return null;
    const made = prepareLadder(terms.rungs, decimals);
    this.readyLadders.set(key, made);
    return made;
  }

  /** The category and all above it, the category itself first. A circle ends at its first repetition. */
  lineage(category: string): readonly string[] {
    const known = this.above.get(category);
    if (known) return known;
    const out: string[] = [];
    for (
      let at: string | null = category;
      at !== null && !out.includes(at);
      at = this.categories.get(at)?.parent ?? null
    ) {
      out.push(at);
    }
    this.above.set(category, out);
    return out;
  }
}

interface ItemTie {
  readonly item?: string | null;
  readonly category?: string | null;
  readonly pack?: string | null;
}

/** Item before category, the deeper category before the wider, then pack; of equally specific ones the first. */
function mostSpecific<T extends ItemTie>(ws: Prepared, ties: readonly T[], item: Item, pack: string | null): T | null {
  const order = ['item', 'category', 'pack'] as const;
  let best: { tie: T; rank: number[] } | null = null;
  for (const tie of ties) {
    if (!fits(ws, tie, item, pack, null)) continue;
    const rank = specificityOf(ws, tie, order);
    if (!best || compareSpecificity(rank, best.rank) < 0) best = { tie, rank };
  }
  return best?.tie ?? null;
}

const textOf = (row: unknown): string => JSON.stringify(row);

function latest<T>(rows: readonly T[] | undefined, dayOf: (row: T) => Day, day: Day): T | null {
  let best: T | null = null;
  for (const row of rows ?? []) {
    if (dayOf(row) > day) continue;
    // of two for one day, which the check finds, one counts whatever the order in which they stand
    if (best === null || dayOf(row) > dayOf(best) || (dayOf(row) === dayOf(best) && textOf(row) > textOf(best)))
      best = row;
  }
  return best;
}
