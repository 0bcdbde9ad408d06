import type { Item } from './item.ts';
import type { ItemsView } from './view.ts';

/** What a rule is tied to; an absent field ties it to nothing. A category holds everything below it. */
export interface Scope {
  readonly item?: string | null;
  readonly model?: string | null;
  readonly lockstep?: string | null;
  readonly attributes?: Readonly<Record<string, string>> | null;
  readonly brand?: string | null;
  readonly supplier?: string | null;
  readonly category?: string | null;
  /** A pack's name: every item's carton, say. */
  readonly pack?: string | null;
  /** A sales channel: a shop, a site, a branch, a trade fair; whatever the workspace names. */
  readonly channel?: string | null;
}

/** The sales channels that count: those of a list, or the one a buyer comes through; null: not asked for. */
export type Channels = readonly string[] | null;

/** The channels of a price on a list: the one asked for, else those the list is for. */
export function channelsOf(
  list: { readonly channels?: readonly string[] },
  asked: string | null | undefined,
): readonly string[] {
  return asked ? [asked] : (list.channels ?? []);
}

export type Tie = keyof Scope;

/** Whether a scope holds an item in a pack of this name, sold through a channel; without pack or channels, what it says of them is left out. */
export function fits(ws: ItemsView, scope: Scope, item: Item, pack: string | null, channels: Channels): boolean {
  if (scope.item && scope.item !== item.id) return false;
  if (scope.model && scope.model !== item.model) return false;
  if (scope.lockstep && scope.lockstep !== ws.lockstepOf(item.id)?.id) return false;
  if (scope.brand && scope.brand !== item.brand) return false;
  if (scope.supplier && scope.supplier !== item.supplier) return false;
  if (scope.pack && pack !== null && scope.pack !== pack) return false;
  if (scope.channel && channels !== null && !channels.includes(scope.channel)) return false;
  if (scope.category && !ws.lineage(item.category).includes(scope.category)) return false;
  if (scope.attributes) {
    for (const name in scope.attributes) if (item.attributes?.[name] !== scope.attributes[name]) return false;
  }
  return true;
}

/** Whether a scope holds every item in every pack, whatever it is sold through. */
export const holdsAll = ({ attributes, ...ties }: Scope): boolean =>
  Object.values(ties).every((tie) => !tie) && Object.keys(attributes ?? {}).length === 0;

/**
 * A scope's specificity as numbers to compare one after the other, the most telling first: whether it has each tie
 * (attribute values by their number, a category by its depth).
 */
export function specificityOf(ws: ItemsView, scope: Scope, order: readonly Tie[]): number[] {
  return order.map((tie) => {
    const value = scope[tie];
    if (value === null || value === undefined) return 0;
    if (tie === 'attributes') return Object.keys(value).length;
    if (tie === 'category') return ws.lineage(value as string).length;
    return 1;
  });
}

/** Below 0: `a` is the more specific. */
export function compareSpecificity(a: readonly number[], b: readonly number[]): number {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return b[i]! - a[i]!;
  return 0;
}

/** Whether some item could be held by both scopes. */
export function meet(ws: ItemsView, a: Scope, b: Scope): boolean {
  for (const tie of ['item', 'model', 'lockstep', 'brand', 'supplier', 'pack', 'channel'] as const) {
    if (a[tie] && b[tie] && a[tie] !== b[tie]) return false;
  }
  for (const [name, value] of Object.entries(a.attributes ?? {})) {
    const other = b.attributes?.[name];
    if (other !== undefined && other !== value) return false;
  }
  const within = (x: string, y: string) => ws.lineage(x).includes(y);
  return !a.category || !b.category || within(a.category, b.category) || within(b.category, a.category);
}

/** What a scope is tied to, in words. */
export function describeScope(ws: ItemsView, scope: Scope): string {
  const parts: string[] = [];
  if (scope.item) parts.push(`item ${ws.items.get(scope.item)?.sku ?? scope.item}`);
  if (scope.model) parts.push(`model ${scope.model}`);
  if (scope.lockstep) parts.push(`lockstep group ${scope.lockstep}`);
  if (scope.attributes) parts.push(...Object.entries(scope.attributes).map(([n, v]) => `${n} ${v}`));
  if (scope.brand) parts.push(`brand ${scope.brand}`);
  if (scope.supplier) parts.push(ws.suppliers.get(scope.supplier)?.name ?? scope.supplier);
  if (scope.category) parts.push(ws.categories.get(scope.category)?.name ?? scope.category);
  if (scope.pack) parts.push(`pack ${scope.pack}`);
  if (scope.channel) parts.push(`channel ${scope.channel}`);
  return parts.join(', ') || 'everything';
}

/** Rules found by item: those tied to it, and those tied to no item; in the order they were given. */
export class ScopeIndex<T> {
  private readonly byItem = new Map<string, T[]>();
  private readonly rest: T[] = [];

  constructor(rows: readonly T[], scopeOf: (row: T) => Scope) {
    for (const row of rows) {
      const item = scopeOf(row).item;
      if (!item) this.rest.push(row);
      else if (this.byItem.has(item)) this.byItem.get(item)!.push(row);
      else this.byItem.set(item, [row]);
    }
  }

  candidates(item: string): readonly T[] {
    const own = this.byItem.get(item);
    return own ? [...own, ...this.rest] : this.rest;
  }
}
