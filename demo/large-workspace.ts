import type { GuardTerms, RecipeTerms, UpliftRow } from '#core/recipes/recipe.ts';
import type { RungTerms } from '#core/rounding/ladder.ts';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import type { Category, Item } from '#core/items/item.ts';
import type { Cost, Supplier } from '#core/costs/cost.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { Dice } from '#core/numbers/dice.ts';

export const LARGE_DAY = '2026-03-09';

const SUPPLIERS: readonly [id: string, name: string, currency: string, unitCost: [number, number]][] = [
  ['kelwick', 'Kelwick Ropeworks', 'GBP', [20, 900]],
  ['norrvaag', 'Norrvaag Coatings', 'NOK', [9000, 90000]],
  ['tamsin', 'Tamsin Forge', 'EUR', [150, 60000]],
  ['aldermere', 'Aldermere Fittings', 'SEK', [300, 40000]],
  ['pell', 'Pell & Orrin Safety', 'EUR', [900, 50000]],
  ['lusk', 'Lusk Marine Electric', 'USD', [200, 80000]],
];

const TOP: readonly [id: string, name: string, supplier: number][] = [
  ['rope', 'Rope and rigging', 0],
  ['anchoring', 'Anchoring', 2],
  ['deck', 'Deck hardware', 3],
  ['coatings', 'Coatings', 1],
  ['safety', 'Safety', 4],
  ['electrics', 'Electrics', 5],
  ['stores', 'Ship’s stores', 2],
];

const LISTS: readonly [id: string, name: string, currency: string, taxIn: boolean, markup: number][] = [
  ['counter', 'Counter', 'EUR', true, 62],
  ['club', 'Club members', 'EUR', true, 52],
  ['yards', 'Boatyards', 'EUR', false, 38],
  ['charter', 'Charter fleets', 'EUR', false, 34],
  ['resale', 'Chandlers', 'EUR', false, 27],
  ['staff', 'Staff', 'EUR', true, 18],
  ['sweden', 'Sweden', 'SEK', true, 60],
  ['norway', 'Norway', 'NOK', true, 66],
  ['denmark', 'Denmark', 'DKK', true, 61],
  ['isles', 'The isles', 'GBP', true, 58],
  ['baltic', 'Baltic', 'EUR', true, 49],
  ['world', 'Rest of the world', 'USD', false, 55],
];

/** Units of each currency for one euro. */
const RATES: Readonly<Record<string, string>> = {
  SEK: '11.2050',
  NOK: '11.6420',
  DKK: '7.4610',
  USD: '1.0835',
  GBP: '0.8590',
};

/** The five rungs of the euro, scaled to a currency in which figures are `times` as large. */
function rungs(times: number): RungTerms[] {
  const n = (value: number) => String(value * times);
  const f = (value: number) => (value * times).toFixed(2);
  return [
    { from: '0', to: n(1), step: f(0.05), endings: ['0'], direction: 'nearest' },
    { from: n(1), to: n(10), step: n(1), endings: [f(0.95)], direction: 'cuts', downUntil: f(0.4), upFrom: f(0.6) },
    { from: n(10), to: n(100), step: n(1), endings: [f(0.49), f(0.99)], direction: 'nearest' },
    { from: n(100), to: n(1000), step: n(10), endings: [n(9)], direction: 'up' },
    { from: n(1000), to: null, step: n(100), endings: ['0'], direction: 'cuts', downUntil: n(25), upFrom: n(75) },
  ];
}

const GUARDS: readonly GuardTerms[] = [
  { kind: 'not_below_cost' },
  { kind: 'least_margin', percent: '12' },
  { kind: 'most_markup', percent: '180' },
];

/** A full recipe: six bands of the basis, dearer items at a lower markup, and an add-on. */
function recipeFor([id, name, currency, , markup]: (typeof LISTS)[number]): RecipeTerms {
  const times = Number(RATES[currency] ?? '1');
  const edges = [0, 2, 10, 50, 250, 1000].map((e) => String(Math.round(e * (times > 2 ? 10 : 1))));
  const bands = edges.map((from, i): UpliftRow => ({
    id: `band-${i + 1}`,
    scope: { band: { from, to: edges[i + 1] ?? null } },
    method: i % 3 === 2 ? 'margin' : 'markup',
    value: String(i % 3 === 2 ? Math.round(((markup - i * 3) / (markup - i * 3 + 100)) * 1000) / 10 : markup - i * 3),
  }));
  return {
    id: `recipe-${id}`,
    version: 1,
    name: `${name}: cost plus`,
    basis: { kind: 'landed' },
    uplift: bands,
    addOns: [{ id: 'packing', name: 'Packing', kind: 'percent_of_basis', value: '0.8' }],
    ladder: `ladder-${currency}`,
    guards: GUARDS,
  };
}

/**
 * Brannholm Chandlers with as many items as asked for on twelve lists, from a fixed seed: the same on every machine.
 * For benchmarks and for trying the largest sizes; every item has one pack on every list.
 */
export function largeWorkspace(items: number, lists: number = LISTS.length): Workspace {
  const dice = new Dice(20260309);
  const categories: Category[] = [{ id: 'all', name: 'All', parent: null }];
  const leaves: { id: string; supplier: number }[] = [];
  for (const [id, name, supplier] of TOP) {
    categories.push({ id, name, parent: 'all' });
    for (let i = 1; i <= 4; i++) {
      categories.push({ id: `${id}-${i}`, name: `${name} ${i}`, parent: id });
      for (let k = 1; k <= 3; k++) {
        categories.push({ id: `${id}-${i}-${k}`, name: `${name} ${i}.${k}`, parent: `${id}-${i}` });
        leaves.push({ id: `${id}-${i}-${k}`, supplier });
      }
    }
  }
  const made: Item[] = [];
  const costs: Cost[] = [];
  for (let n = 0; n < items; n++) {
    const leaf = dice.pick(leaves);
    const [supplier, , currency, [low, high]] = SUPPLIERS[leaf.supplier]!;
    const id = `i${n}`;
    const packUnits = dice.pick(['1', '1', '1', '6', '12', '100', '220']);
    made.push({
      id,
      sku: `${leaf.id.slice(0, 2).toUpperCase()}-${String(n).padStart(6, '0')}`,
      name: `Item ${n}`,
      unit: 'each',
      category: leaf.id,
      supplier,
      brand: dice.pick(['Kelda', 'Orrin', 'Brann', 'Vik']),
      model: `M${Math.floor(n / 6)}`,
      weightKg: (dice.whole(10, 20000) / 1000).toFixed(3),
      taxClass: leaf.id.startsWith('stores') ? 'reduced' : 'standard',
      packs: [{ id: `${id}-1`, name: 'each', units: '1' }],
    });
    costs.push({
      id: `c${n}`,
      item: id,
      supplier,
      cost: { amount: ((dice.whole(low, high) * Number(packUnits)) / 100).toFixed(2), currency },
      packUnits,
      from: '2026-01-01',
      origin: 'file',
      entry: n + 1,
    });
  }
  const chosen = LISTS.slice(0, lists);
  const suppliers = SUPPLIERS.map(([id, name, currency]): Supplier => ({
    id,
    version: 1,
    name,
    currency,
    landed: {
      freight: { per: 'kg', amount: { amount: '0.85', currency: 'EUR' } },
      dutyPercent: currency === 'EUR' ? null : '2.7',
      handling: { amount: '0.01', currency: 'EUR' },
      overheadPercent: '1.5',
    },
  }));
  return {
    ...emptyWorkspace(),
    items: made,
    costs,
    categories,
    suppliers,
    rates: Object.entries(RATES).map(([to, rate]) => ({ from: 'EUR', to, day: '2026-01-01', rate })),
    taxes: [
      { taxClass: 'standard', percent: '24', from: '2020-01-01' },
      { taxClass: 'reduced', percent: '14', from: '2020-01-01' },
    ],
    ladders: [...new Set(chosen.map((l) => l[2]))].map((currency) => ({
      id: `ladder-${currency}`,
      version: 1,
      name: `Endings in ${currency}`,
      currency,
      rungs: rungs(Number(RATES[currency] ?? '1') > 2 ? 10 : 1),
    })),
    recipes: chosen.map(recipeFor),
    lists: chosen.map(([id, name, currency, taxIn], rank): PriceList => ({
      id,
      version: 1,
      name,
      currency,
      taxIn,
      advertised: false,
      active: true,
      groups: [],
      rank: rank + 1,
      recipe: `recipe-${id}`,
    })),
  };
}
