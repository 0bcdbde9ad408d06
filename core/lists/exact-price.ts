import type { Item, Pack } from '../items/item.ts';
import { dec } from '../numbers/decimal.ts';

/** The pack of one unit, else the first: what an exact price is for that names neither a pack nor the unit. */
export const basePack = (item: Pick<Item, 'packs'>): Pack | undefined =>
  item.packs.find((p) => dec(p.units).eq(1)) ?? item.packs[0];

/** An exact price as a person sets it up; `pack`: the name of the one pack it is for. */
export interface ExactPrice {
  readonly perUnit?: boolean;
  readonly pack?: string | null;
}

/**
 * Whether an exact price is for a pack: the one it names, any where it is per unit, else the base pack alone. A price of a
 * piece is never silently that of its carton.
 */
export const exactPriceReaches = ({ perUnit, pack }: ExactPrice, item: Pick<Item, 'packs'>, of: Pack): boolean =>
  Boolean(perUnit) || Boolean(pack) || basePack(item)?.id === of.id;

/** The price of a pack: per unit it is times the pack's units. */
export const exactPriceOf = (value: string, perUnit: boolean | undefined, pack: Pack) =>
  perUnit ? dec(value).times(pack.units) : dec(value);
