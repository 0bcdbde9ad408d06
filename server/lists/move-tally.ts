import type { ListMoves } from '#contract/lists.ts';
import type { PriceMove } from '#core/bulk/price-moves.ts';
import type { Prepared } from '#core/workspace/prepared.ts';

/** Counts moves, and how wide they are. */
export class MoveTally {
  prices = 0;
  rises = 0;
  falls = 0;
  private least = Infinity;
  private most = -Infinity;
  readonly lists = new Set<string>();

  take({ list, percent }: PriceMove): void {
    this.prices++;
    this.lists.add(list);
    if (percent > 0) this.rises++;
    else this.falls++;
    if (!Number.isFinite(percent)) return;
    this.least = Math.min(this.least, percent);
    this.most = Math.max(this.most, percent);
  }

  get range(): { least: string | null; most: string | null } {
    const text = (n: number) => (Number.isFinite(n) ? n.toFixed(2) : null);
    return { least: text(this.least), most: text(this.most) };
  }
}

export function tallyOf<K>(of: Map<K, MoveTally>, key: K): MoveTally {
  const tally = of.get(key) ?? new MoveTally();
  of.set(key, tally);
  return tally;
}

export const movesByList = (ws: Prepared, byList: ReadonlyMap<string, MoveTally>): ListMoves[] =>
  [...byList].map(([list, t]) => ({
    list,
    name: ws.lists.get(list)!.name,
    prices: t.prices,
    rises: t.rises,
    falls: t.falls,
    ...t.range,
  }));
