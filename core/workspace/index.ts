import { type Dec, ONE, dec, share } from '../numbers/decimal.ts';
import { minorUnits } from '../numbers/currency.ts';
import { type Ladder, prepareLadder } from '../rounding/ladder.ts';
import type {
  Category,
  Cost,
  Customer,
  Day,
  Item,
  PostedPrice,
  PriceList,
  Rate,
  Supplier,
  TaxRate,
  Workspace,
} from './types.ts';
import type { LadderTerms } from '../rounding/ladder.ts';
import type { RecipeTerms } from '../recipes/recipe.ts';

export type * from './types.ts';

function byId<T extends { readonly id: string }>(rows: readonly T[]): Map<string, T> {
  return new Map(rows.map((r) => [r.id, r]));
}

function grouped<T>(rows: readonly T[], key: (row: T) => string): Map<string, T[]> {
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
export class Prepared {
  readonly items: Map<string, Item>;
  readonly suppliers: Map<string, Supplier>;
  readonly categories: Map<string, Category>;
  readonly recipes: Map<string, RecipeTerms>;
  readonly ladders: Map<string, LadderTerms>;
  readonly lists: Map<string, PriceList>;
  readonly customers: Map<string, Customer>;
  readonly costsByItem: Map<string, Cost[]>;
  private readonly taxes: Map<string, TaxRate[]>;
  private readonly rates: Map<string, Rate[]>;
  private readonly posted: Map<string, PostedPrice[]>;
  private readonly readyLadders = new Map<string, Ladder>();
  private readonly above = new Map<string, readonly string[]>();

  constructor(readonly workspace: Workspace) {
    this.items = byId(workspace.items);
    this.suppliers = byId(workspace.suppliers);
    this.categories = byId(workspace.categories);
    this.recipes = byId(workspace.recipes);
    this.ladders = byId(workspace.ladders);
    this.lists = byId(workspace.lists);
    this.customers = byId(workspace.customers);
    this.costsByItem = grouped(workspace.costs, (c) => c.item);
    this.taxes = grouped(workspace.taxes, (t) => t.taxClass);
    this.rates = grouped(workspace.rates, (r) => `${r.from}>${r.to}`);
    this.posted = grouped(workspace.posted, (p) => `${p.list}\u0000${p.item}\u0000${p.pack}`);
  }

  /** The rate of a pair in force on a day: the latest that has begun. */
  rateOn(from: string, to: string, day: Day): Rate | null {
    return latest(this.rates.get(`${from}>${to}`), (r) => r.day, day);
  }

  taxOn(taxClass: string, day: Day): TaxRate | null {
    return latest(this.taxes.get(taxClass), (t) => t.from, day);
  }

  /** The posted price in force on a day; null when there is none, or when it was taken off the list. */
  postedOn(list: string, item: string, pack: string, day: Day): PostedPrice | null {
    let best: PostedPrice | null = null;
    for (const p of this.posted.get(`${list}\u0000${item}\u0000${pack}`) ?? []) {
      if (p.from > day) continue;
      if (!best || p.from > best.from || (p.from === best.from && p.entry > best.entry)) best = p;
    }
    return best && best.price !== null ? best : null;
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

function latest<T>(rows: readonly T[] | undefined, dayOf: (row: T) => Day, day: Day): T | null {
  let best: T | null = null;
  for (const row of rows ?? []) {
    if (dayOf(row) <= day && (best === null || dayOf(row) >= dayOf(best))) best = row;
  }
  return best;
}

/** Per cent as a factor to multiply with: 20 → 1.20. */
export function taxFactor(percent: string): Dec {
  return ONE.plus(share(dec(percent)));
}
