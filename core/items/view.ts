import type { LockstepGroup } from '../lockstep/group.ts';
import type { Lookup } from '../lookup/lookup.ts';
import type { Category, Item, Pack } from './item.ts';

/** What is looked up of goods: what they are, where they stand, whom they follow. */
export interface ItemsView {
  readonly workspace: { readonly items: readonly Item[] };
  readonly items: Lookup<Item>;
  readonly categories: ReadonlyMap<string, Category>;
  readonly suppliers: ReadonlyMap<string, { readonly name: string }>;
  /** The category and all above it, the category itself first. */
  lineage(category: string): readonly string[];
  lockstepOf(item: string): LockstepGroup | null;
  /** The item whose cost, packs, tax, deposit and prices count: the lead of a lockstep group, else the item itself. */
  followed(item: Item): Item;
  /** An item's pack, by its own id or, in a lockstep group, the lead's pack of the same name. */
  packOf(item: Item, pack: string): Pack | null;
  /** What was worked out before for the same key. */
  remember<T>(what: string, key: string, work: () => T, most?: number): T;
}
