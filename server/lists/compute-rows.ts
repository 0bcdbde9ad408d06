import { BulkWorkspace } from '#core/bulk/bulk-prices.ts';
import { type BulkPrices, FLAGS, PERCENT_PLACES, emptyPrices, priceRows } from '#core/bulk/price-rows.ts';
import { GUARD_NAMES } from '#core/guards/guards.ts';
import { computePrice } from '#core/lists/list-price.ts';
import { postedAs } from '#core/lists/price-to-post.ts';
import { type Dec, dec, money, roundHalfUp } from '#core/numbers/decimal.ts';
import { wording } from '#core/reasons.ts';
import { GUARD_KINDS } from '#core/recipes/recipe.ts';
import { describeUplift } from '#core/recipes/uplift.ts';
import type { Item } from '#core/items/item.ts';
import type { Prepared } from '#core/workspace/prepared.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import { turns } from '../platform/turns.ts';
import type { Loaded } from '../workspace/state.ts';

/** What the recipe of a list makes of one item's pack; figures as text. */
export interface ComputedRow {
  readonly proposed: string | null;
  readonly reason: string | null;
  readonly uplift: string | null;
  readonly marginAfter: string | null;
  readonly flag: 'bit' | 'no_ending_fits' | 'floor_above_ceiling' | null;
  readonly bit: readonly string[];
  readonly wouldFallTo: string | null;
}

const PERCENT_UNIT = dec(`1e-${PERCENT_PLACES}`);

/** Columns of the state that was asked for last, as long as it is kept: of a hundred thousand items they are some forty megabytes. */
let columns = new WeakMap<Loaded, BulkWorkspace>();

/** Of a few items alone, with the leads that they follow: what a window of a grid shows. */
export const bulkOfItems = ({ ws, day }: Loaded, items: readonly Item[]): BulkWorkspace =>
  new BulkWorkspace(ws, day, undefined, [...new Set(items.flatMap((item) => [item, ws.followed(item)]))]);

export function bulkOf(loaded: Loaded): BulkWorkspace {
  const known = columns.get(loaded);
  if (known) return known;
  const bulk = new BulkWorkspace(loaded.ws, loaded.day);
  columns = new WeakMap([[loaded, bulk]]);
  return bulk;
}

/** Of some items: their own, or where they are many those of all, which are kept. */
export const bulkForSome = (loaded: Loaded, items: ReadonlySet<Item>): BulkWorkspace =>
  items.size * MOST_READ_ALONE < loaded.ws.workspace.items.length ? bulkOfItems(loaded, [...items]) : bulkOf(loaded);

/** From this share of all items on, the columns of all are made. */
const MOST_READ_ALONE = 4;

/**
 * Computes a list, row by row: the bulk way where it can decide, the explained way for the rest. Rows are asked for in
 * any order; whoever asks gives way to other requests, for an explained row costs a thousand bulk ones.
 */
export class ListComputation {
  private readonly prices: BulkPrices | null = null;
  private readonly decimals: number;
  private readonly ws: Prepared;
  private readonly turn = turns();
  private unit = dec(1);

  constructor(
    private readonly loaded: Loaded,
    private readonly list: PriceList,
    private readonly bulk = bulkOf(loaded),
  ) {
    this.ws = loaded.ws;
    this.decimals = this.ws.decimalsOf(list);
    const ready = bulk.list(list);
    if (!ready) return;
    this.unit = dec(1).div(ready.ladder.scale);
    this.prices = emptyPrices(bulk.columns.rows.length, ready.ladder.scale);
    priceRows(bulk.columns, ready, this.prices, 0, bulk.columns.rows.length);
  }

  /** Undefined: the bulk way has no row of it. */
  private rowOf(item: string, pack: string): number | undefined {
    return this.prices ? this.bulk.rowOf(item, pack) : undefined;
  }

  async row(of: string, as: string): Promise<ComputedRow> {
    const { item, pack } = postedAs(this.ws, of, as);
    const i = this.rowOf(item, pack);
    const fast = i === undefined ? null : this.fromBulk(i, item);
    if (fast) return fast;
    await this.turn();
    return this.explain(item, pack);
  }

  /** The price alone, without words: what counting needs. */
  brief(of: string, as: string): { readonly proposed: Dec | null; readonly held: boolean; readonly falls: boolean } {
    const { item, pack } = postedAs(this.ws, of, as);
    const i = this.rowOf(item, pack);
    const flag = i === undefined ? null : FLAGS[this.prices!.flag[i]!]!;
    if (flag === 'none' || flag === 'bit')
      return {
        proposed: dec(String(this.prices!.price[i!]!)).times(this.unit),
        held: false,
        falls: !Number.isNaN(this.prices!.wouldFallTo[i!]!),
      };
    const found = computePrice(this.ws, { item, pack, list: this.list.id, day: this.loaded.day });
    if (!found.ok) return { proposed: null, held: false, falls: false };
    return {
      proposed: dec(money(found.value.price, this.decimals)),
      held: found.value.flag === 'floor_above_ceiling',
      falls: found.value.wouldFallTo !== null,
    };
  }

  /** Whether the computed price itself may lie below cost; unknown counts as yes. */
  losing(of: string, as: string): boolean {
    const { item, pack } = postedAs(this.ws, of, as);
    const i = this.rowOf(item, pack);
    return i === undefined || !(this.prices!.margin[i]! >= 0);
  }

  /** Null: the bulk way leaves the row open, or more than one guard bit and only the explained way knows their order. */
  private fromBulk(i: number, item: string): ComputedRow | null {
    const p = this.prices!;
    const flag = FLAGS[p.flag[i]!]!;
    const guards = GUARD_KINDS.filter((_, g) => p.guards[i]! & (1 << g));
    const recipe = this.ws.recipeFor(this.list, this.ws.followed(this.ws.items.get(item)!));
    if (!recipe || (flag !== 'none' && flag !== 'bit') || guards.length > 1) return null;
    const units = (value: number) => money(dec(String(value)).times(this.unit), this.decimals);
    const row = recipe.uplift[p.row[i]!]!;
    return {
      proposed: units(p.price[i]!),
      reason: null,
      uplift: describeUplift(row),
      marginAfter: dec(String(p.margin[i]!)).times(PERCENT_UNIT).toFixed(PERCENT_PLACES),
      flag: flag === 'none' ? null : flag,
      bit: guards.map((g) => GUARD_NAMES[g]),
      wouldFallTo: Number.isNaN(p.wouldFallTo[i]!) ? null : units(p.wouldFallTo[i]!),
    };
  }

  private explain(item: string, pack: string): ComputedRow {
    const found = computePrice(this.ws, { item, pack, list: this.list.id, day: this.loaded.day });
    if (!found.ok) {
      const reason = wording(found.reason);
      return { proposed: null, reason, uplift: null, marginAfter: null, flag: null, bit: [], wouldFallTo: null };
    }
    const p = found.value;
    return {
      proposed: money(p.price, this.decimals),
      reason: null,
      uplift: p.uplift,
      marginAfter: p.margin && roundHalfUp(p.margin, PERCENT_PLACES).toFixed(PERCENT_PLACES),
      flag: p.flag,
      bit: [...p.bit],
      wouldFallTo: p.wouldFallTo && money(p.wouldFallTo, this.decimals),
    };
  }
}
