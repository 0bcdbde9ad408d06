import type { AmountText } from '../numbers/amount.ts';
import type { Day } from '../numbers/day.ts';
import type { Item } from '../items/item.ts';
import type { CostsView } from './view.ts';
import { exchangeOn } from './exchange.ts';
import { costOn } from './landed-cost.ts';

interface Spread {
  /** Natural logarithms of costs per unit. */
  readonly middle: number;
  /** The median distance from the middle. */
  readonly spread: number;
  readonly count: number;
}

function median(values: readonly number[]): number | null {
  const sorted = Float64Array.from(values).sort();
  const half = sorted.length >> 1;
  if (sorted.length === 0) return null;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** So many like items make a measure, and so far from their middle nothing is told, however close they lie together. */
const KINDS = {
  model: { least: 3, always: Math.log(2.5) },
  category: { least: 5, always: Math.log(6) },
} as const;
/** Beyond so many times the usual distance from the middle a cost is far from the others. */
const TIMES = 6;

export interface Far {
  /** What the like items have in common, by name. */
  readonly among: string;
  readonly count: string;
  /** Cost per unit in the middle of them, in the workspace's currency: a hint on four places, no price is made of it. */
  readonly middle: string;
}

/**
 * What like items cost per unit: those of the same model, else of the same category, sold in the same unit. Doubles will do:
 * it is asked whether somebody should look, never what something costs. Worked out as it is asked for.
 */
export class LikeItems {
  private readonly spreads = new Map<string, Spread | null>();
  private groups: Map<string, Item[]> | null = null;

  constructor(
    private readonly ws: CostsView,
    private readonly day: Day,
  ) {}

  /** Null: it lies among the others, or there are too few of them to say. */
  farFrom(item: Item, cost: { readonly cost: AmountText; readonly packUnits: string }): Far | null {
    const unit = this.perUnit(cost);
    if (unit === null) return null;
    for (const kind of ['model', 'category'] as const) {
      const value = item[kind];
      const found = value ? this.spreadOf(kind, value, item) : null;
      if (!found) continue;
      const { always } = KINDS[kind];
      if (Math.abs(Math.log(unit) - found.middle) <= Math.max(always, TIMES * found.spread)) return null;
      return {
        among: kind === 'model' ? `model ${value}` : (this.ws.categories.get(value!)?.name ?? value!),
        count: String(found.count),
        middle: Math.exp(found.middle).toFixed(4),
      };
    }
    return null;
  }

  private spreadOf(kind: keyof typeof KINDS, value: string, item: Item): Spread | null {
    const key = `${kind}\u0000${value}\u0000${item.unit}`;
    const known = this.spreads.get(key);
    if (known !== undefined) return known;
    const logs = (this.grouped().get(key) ?? []).flatMap((i) => {
      const cost = costOn(this.ws.costsByItem.get(i.id) ?? [], this.day);
      const unit = cost && this.perUnit(cost);
      return unit ? [Math.log(unit)] : [];
    });
    const middle = median(logs);
    const made =
      middle === null || logs.length < KINDS[kind].least
        ? null
        : { middle, spread: median(logs.map((l) => Math.abs(l - middle)))!, count: logs.length };
    this.spreads.set(key, made);
    return made;
  }

  private grouped(): Map<string, Item[]> {
    if (this.groups) return this.groups;
    this.groups = new Map();
    for (const item of this.ws.workspace.items)
      for (const kind of ['model', 'category'] as const) {
        const key = `${kind}\u0000${item[kind] ?? ''}\u0000${item.unit}`;
        const others = this.groups.get(key);
        if (others) others.push(item);
        else this.groups.set(key, [item]);
      }
    return this.groups;
  }

  /** In the workspace's currency; null: nothing, or no rate. */
  private perUnit({ cost, packUnits }: { readonly cost: AmountText; readonly packUnits: string }): number | null {
    const x = exchangeOn(this.ws, cost.currency, this.ws.workspace.currency, this.day);
    const unit = x ? (Number(cost.amount) / Number(packUnits)) * Number(x.text) : 0;
    return unit > 0 ? unit : null;
  }
}
