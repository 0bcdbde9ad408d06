import type { ListEntry, Reduction } from '../lists/entries.ts';
import type { LockstepGroup } from '../lockstep/lockstep.ts';
import type { DatedLandedTerms, OrderFee } from '../costs/landed-terms.ts';
import type { AmountText } from '../numbers/amount.ts';
import type { AttributeTerms, Named } from '../items/described.ts';
import type { Proof } from '../proofs/proof.ts';
import type { BreakTable, Pool } from '../quotes/breaks.ts';
import type { ProportionalCharge } from '../quotes/charges.ts';
import type { FloorTerms } from '../quotes/floors.ts';
import type { RuleSet } from '../quotes/rules/rule.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';
import type { Region } from '../regions/region.ts';
import type { LadderTerms, LadderTie } from '../rounding/ladder.ts';

/** A calendar day, ISO 8601 (2026-03-09), in the workspace's time zone. */
export type Day = string;

/** A quantity in which an item is sold. The base pack has 1 unit. */
export interface Pack {
  readonly id: string;
  readonly name: string;
  readonly units: string;
  /** Of the pack itself (a crate, a drum). Passed through at its amount, never marked up; with its own tax class. */
  readonly deposit?: AmountText | null;
  readonly depositTaxClass?: string | null;
  /** Of each unit in it (a bottle), on top of the pack's own; with its own tax class. */
  readonly unitDeposit?: AmountText | null;
  readonly unitDepositTaxClass?: string | null;
}

/** The least, most and step of a quantity that can be ordered, in packs as ordered; a step counts from 0. */
export interface OrderLimits {
  readonly least?: string | null;
  readonly most?: string | null;
  readonly step?: string | null;
}

/** Order limits that hold for one customer or the members of one group instead of the item's. */
export interface BuyerLimits extends OrderLimits {
  readonly customer?: string | null;
  readonly group?: string | null;
}

/** A price that the supplier recommends or asks to be kept. */
export interface Recommended extends AmountText {
  readonly taxIn?: boolean;
}

export interface Item {
  readonly id: string;
  readonly sku: string;
  readonly name: string;
  /** What one unit is: each, metre, litre. */
  readonly unit: string;
  readonly category: string;
  readonly brand?: string | null;
  readonly model?: string | null;
  readonly supplier?: string | null;
  readonly weightKg?: string | null;
  readonly taxClass: string;
  /** Per unit, without deposit; `taxIn` says whether tax is in it (absent: it is not). */
  readonly rrp?: Recommended | null;
  readonly map?: Recommended | null;
  readonly attributes?: Readonly<Record<string, string>>;
  readonly packs: readonly Pack[];
  readonly order?: OrderLimits & { readonly for?: readonly BuyerLimits[] };
}

/** What bringing a supplier's goods in costs, on top of the unit cost. */
export interface LandedTerms {
  /** By weight (per kg) or an amount per unit. */
  readonly freight?: { readonly per: 'kg' | 'unit'; readonly amount: AmountText } | null;
  /** Per cent of the unit cost. */
  readonly dutyPercent?: string | null;
  /** Per unit. */
  readonly handling?: AmountText | null;
  /** Per cent of the unit cost. */
  readonly overheadPercent?: string | null;
  /** Counts where the cost brings no share of a real bill's fee. */
  readonly orderFee?: OrderFee | null;
  /** How many cost packs of an item are ordered at once: which of its quantity prices is paid. */
  readonly usualOrder?: string | null;
}

export interface Supplier {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly currency: string;
  readonly landed: LandedTerms;
}

/** What a supplier asks where at least so many cost packs are ordered at once. */
export interface QuantityPrice {
  readonly from: string;
  /** Per cost pack, in the currency of the cost. */
  readonly cost: string;
}

/** One cost of one item from one supplier, valid from a day until the next one begins. */
export interface Cost {
  readonly id: string;
  readonly item: string;
  readonly supplier: string;
  /** Per cost pack: the usual one. */
  readonly cost: AmountText;
  /** Per cost pack: what is paid instead for the time being; the usual one is kept beside it. */
  readonly reduced?: AmountText | null;
  /** What more at once costs, instead of the usual cost. */
  readonly quantityPrices?: readonly QuantityPrice[] | null;
  /** Units in the cost pack. */
  readonly packUnits: string;
  readonly from: Day;
  /** The last day: of the reduced cost where there is one, and then the usual counts on; else of the cost itself. */
  readonly to?: Day | null;
  readonly origin: 'file' | 'connection' | 'bill' | 'typed';
  /** A typed cost holds against files and connections that are entered later, until this is set. */
  readonly released?: boolean;
  /** What the bill that brought it asked besides, and over goods of how much: in the bill's currency, without tax. */
  readonly fee?: { readonly amount: string; readonly of: string } | null;
  /** Order of entry: of two for the same day the later counts. */
  readonly entry: number;
}

/** One unit of `from` is `rate` units of `to`, from the day on. */
export interface Rate {
  readonly from: string;
  readonly to: string;
  readonly day: Day;
  readonly rate: string;
}

export interface Category {
  readonly id: string;
  readonly name: string;
  readonly parent: string | null;
}

/** Per cent by tax class, from a day on. */
export interface TaxRate {
  readonly taxClass: string;
  readonly percent: string;
  readonly from: Day;
  /** Only in this region; absent: wherever no rate of the region itself is known. */
  readonly region?: string | null;
}

/** A list without a price of its own for an item goes to its parent, with this change on the goods. */
export interface FallBack {
  readonly list: string;
  /** Per cent added (−8 takes off 8 %). */
  readonly percent?: string | null;
  /** A typed exchange rate (units of this list's currency for one of the parent's) instead of the day's. */
  readonly rate?: string | null;
  readonly factor?: string | null;
}

/** From `from` on the list exchanges at the rates of `rates` (null: at the latest again). */
export interface RatePin {
  readonly from: Day;
  readonly rates?: Day | null;
}

/** A recipe for one item, or a category with everything below it. */
export interface RecipeTie {
  readonly item?: string | null;
  readonly category?: string | null;
  readonly recipe: string;
}

export interface PriceList {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  readonly currency: string;
  readonly taxIn: boolean;
  /** Decimals of its unit prices; absent: those of the currency. */
  readonly decimals?: number | null;
  /** A list whose prices are advertised: minimum advertised prices count. */
  readonly advertised: boolean;
  readonly active: boolean;
  readonly from?: Day | null;
  readonly to?: Day | null;
  /** Who it is meant for: these customers and the members of these groups; both empty: everyone. */
  readonly customers?: readonly string[];
  readonly groups: readonly string[];
  /** Only for goods going to these regions; empty: anywhere. */
  readonly regions?: readonly string[];
  /** Only through these sales channels; empty: any. */
  readonly channels?: readonly string[];
  /** Among lists whose audience fits equally well, the lower rank comes first. */
  readonly rank: number;
  readonly recipe: string | null;
  /** Recipes for single items or categories instead of it; the most specific counts. */
  readonly recipes?: readonly RecipeTie[];
  /** Goes before the recipe's ladder; without either, the default ladder of the currency. */
  readonly ladder?: string | null;
  /** Ladders for single items, categories or packs instead of it; the most specific counts. */
  readonly ladders?: readonly LadderTie[];
  readonly parent?: FallBack | null;
  /** An item without a price here: goes to the parent or the next list, or is not sold to this audience at all. */
  readonly unnamed?: 'falls_back' | 'not_sold';
  readonly entries?: readonly ListEntry[];
  readonly ratePins?: readonly RatePin[];
  /** A second person agrees to a posting that moves any price by more than so many per cent; 0: to every one; absent: to none. */
  readonly secondPersonBeyond?: string | null;
}

export interface CustomerGroup {
  readonly id: string;
  readonly version: number;
  readonly name: string;
  /** Of several groups of one customer the lower rank comes first. */
  readonly rank: number;
}

export interface Customer {
  readonly id: string;
  readonly name: string;
  readonly groups: readonly string[];
  /** ISO 3166-1 alpha-2. */
  readonly country?: string | null;
  readonly attributes?: Readonly<Record<string, string>>;
}

/** A posted price of an item's pack on a list, in force from a day until the next one begins, or until its own last day. */
export interface PostedPrice {
  readonly list: string;
  readonly item: string;
  readonly pack: string;
  /** Null: from this day on it has no price on the list. */
  readonly price: string | null;
  readonly from: Day;
  readonly posting: string;
  /** Order of posting: of two for the same day the later counts. */
  readonly entry: number;
  /** Its last day; a typed price says its own in `handSet`. */
  readonly to?: Day | null;
  readonly handSet?: { readonly reason: string; readonly by: string; readonly lastDay?: Day | null } | null;
}

/** Which supplier's cost counts when several offer an item. */
export const SUPPLIER_CHOICES = ['preferred', 'lowest_landed', 'latest'] as const;
export type SupplierChoice = (typeof SUPPLIER_CHOICES)[number];

/** Which list answers where several are meant for the buyer. */
export const LIST_CHOICES = ['first', 'lowest'] as const;
export type ListChoice = (typeof LIST_CHOICES)[number];

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
