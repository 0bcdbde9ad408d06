import { type Dec, dec } from '../numbers/decimal.ts';
import type { Item } from '../items/item.ts';
import type { ItemsView } from '../items/view.ts';
import { type Scope, ScopeIndex, fits } from '../items/scope.ts';
import type { RecipeTerms, UpliftRow } from './recipe.ts';
import { compareRows } from './row-order.ts';

/** A row with its band as figures, so that it is read once. */
export interface ReadyRow {
  readonly row: UpliftRow;
  readonly from: Dec | null;
  readonly to: Dec | null;
  /** The more specific the lower; rows that are equally specific share it. */
  readonly rank: number;
}

/** A recipe's uplift rows, found by item, pack and basis; the most specific first. */
export class RecipeIndex {
  private readonly rows: ScopeIndex<ReadyRow>;
  private readonly perItem = new Map<string, readonly ReadyRow[]>();

  constructor(
    private readonly ws: ItemsView,
    recipe: RecipeTerms,
  ) {
    const ready = ranked(ws, recipe.uplift);
    this.rows = new ScopeIndex(ready, (r): Scope => r.row.scope);
  }

  /** The rows that reach an item in a pack of this name, sold through these channels, at any basis; the most specific first. */
  forPack(item: Item, pack: string, channels: readonly string[]): readonly ReadyRow[] {
    const key = `${item.id}\u0000${pack}\u0000${channels.join('\u0000')}`;
    const known = this.perItem.get(key);
    if (known) return known;
    const found = this.rows
      .candidates(item.id)
      .filter((r) => fits(this.ws, r.row.scope, item, pack, channels))
      .sort((a, b) => a.rank - b.rank);
    this.perItem.set(key, found);
    return found;
  }

  /** The rows that reach a basis (per pack, in the list's currency), the most specific first. */
  reaching(item: Item, pack: string, channels: readonly string[], basis: Dec): readonly ReadyRow[] {
    return this.forPack(item, pack, channels).filter((r) => inBand(r, basis));
  }
}

function ranked(ws: ItemsView, uplift: readonly UpliftRow[]): ReadyRow[] {
  const sorted = [...uplift].sort((a, b) => compareRows(ws, a.scope, b.scope));
  let rank = 0;
  return sorted.map((row, i) => {
    const before = sorted[i - 1];
    if (before && compareRows(ws, before.scope, row.scope) !== 0) rank += 1;
    const band = row.scope.band;
    return { row, rank, from: band ? dec(band.from) : null, to: band?.to ? dec(band.to) : null };
  });
}

function inBand(r: ReadyRow, basis: Dec): boolean {
  return (r.from === null || basis.gte(r.from)) && (r.to === null || basis.lt(r.to));
}
