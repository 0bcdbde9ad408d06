import type { Region } from '#core/regions/region.ts';
import type { Customer, CustomerGroup } from '#core/lists/customer.ts';
import { Dice } from '#core/numbers/dice.ts';

const COUNT = 2_000;

/** Groups that have a list of their own, of the same name. */
const GROUPS = ['Staff', 'Club members', 'Boatyards', 'Charter fleets', 'Chandlers'];

/** Regions that have one; whose tax it shows. */
const REGIONS: readonly [name: string, countries: string[], currency: string, tax: Region['tax']][] = [
  ['Sweden', ['SE'], 'SEK', 'charged'],
  ['Norway', ['NO'], 'NOK', 'charged'],
  ['Denmark', ['DK'], 'DKK', 'charged'],
  ['The isles', ['GB', 'IE'], 'GBP', 'charged'],
  ['Baltic', ['EE', 'LV', 'LT', 'FI'], 'EUR', 'charged'],
  ['Rest of the world', ['US', 'CA', 'AU', 'NZ'], 'USD', 'none'],
];

export interface LargeBuyers {
  readonly groups: readonly CustomerGroup[];
  readonly regions: readonly Region[];
  readonly customers: readonly (Customer & { readonly active: boolean })[];
}

/** Who buys of the large workspace, from a fixed seed: half of them in a group, half of them abroad. */
export function largeBuyers(): LargeBuyers {
  const dice = new Dice(20261127);
  const groups = GROUPS.map((name, n) => ({ id: String(n + 1), version: 1, name, rank: n + 1 }));
  const regions = REGIONS.map(([name, countries, currency, tax], n): Region => ({
    ...{ id: String(n + 1), version: 1 },
    ...{ name, countries, currency, tax },
  }));
  const abroad = REGIONS.flatMap(([, countries]) => countries);
  const customers = Array.from({ length: COUNT }, (_, n) => ({
    id: String(n + 1),
    name: `Customer ${String(n + 1).padStart(4, '0')}`,
    groups: dice.next() < 0.5 ? [] : [dice.pick(groups).id],
    country: dice.next() < 0.5 ? 'DE' : dice.pick(abroad),
    active: true,
  }));
  return { groups, regions, customers };
}
