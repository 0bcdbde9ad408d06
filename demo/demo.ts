import type { Dec } from '#core/numbers/decimal.ts';
import type { Tx } from '#server/platform/database.ts';

/** What has been loaded so far, by the keys of the demo's own data. */
export interface Demo {
  tx: Tx;
  today: string;
  person: Record<string, number>;
  supplier: Record<string, number>;
  category: Record<string, number>;
  group: Record<string, number>;
  /** Lists with a recipe, those that others are made from first. */
  list: Record<string, number>;
  /** By SKU. */
  item: Map<string, { id: number; cost: Dec; supplier: string; packUnits: string }>;
}
