import {
  type AddOn,
  GUARD_KINDS,
  type GuardTerms,
  type RecipeTerms,
  UPLIFT_METHODS,
  type UpliftRow,
} from '#core/recipes/recipe.ts';
import type { RungTerms } from '#core/rounding/ladder.ts';
import { emptyWorkspace } from '#core/workspace/sample.ts';
import type { Cost } from '#core/costs/cost.ts';
import type { Item } from '#core/items/item.ts';
import type { PostedPrice } from '#core/lists/posted-price.ts';
import type { PriceList } from '#core/lists/price-list.ts';
import type { Workspace } from '#core/workspace/workspace.ts';
import { Dice } from '#core/numbers/dice.ts';

export const RANDOM_DAY = '2026-03-09';

const CURRENCIES = ['EUR', 'JPY', 'KWD', 'SEK'] as const;

/** Decimal text of a whole number of units of 10⁻ᵖˡᵃᶜᵉˢ. */
function decimalText(units: number, places: number): string {
  const digits = String(Math.max(0, Math.round(units))).padStart(places + 1, '0');
  return places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`;
}

/**
 * A workspace that tries to stand on every decision: costs that lead to ties, band edges, cuts and guards, and ones a
 * hair beside them; round and odd factors; huge and tiny figures; up to six decimals; currencies of every kind.
 */
export function randomWorkspace(seed: number, items = 40): Workspace {
  const dice = new Dice(seed);
  const chance = (share: number) => dice.next() < share;
  const currency = dice.pick(CURRENCIES);
  const edges = [dice.pick([1, 5, 10]), dice.pick([50, 60, 100]), dice.pick([200, 1000])];
  const plain = chance(0.5);
  const percentText = () =>
    plain ? dice.pick(['0', '20', '25', '50', '60', '100', '12.5']) : decimalText(dice.whole(0, 120_000), 3);
  const rungs = randomRungs(dice, edges);
  // figures on which something is decided: a cost that reaches one of them exactly is a hard case
  const decisions = [
    ...edges,
    ...edges.map((e) => e + 0.5),
    ...edges.map((e) => e - 0.01),
    0.05,
    0.625,
    12.24,
    12.74,
    7.4,
    7.6,
    99.5,
    1025,
    1075,
  ];
  const costText = (): string => {
    const kind = dice.whole(0, 9);
    if (kind < 4) {
      const factor = dice.pick([1, 1.2, 1.25, 1.5, 1.6, 2, 2.4, 1.8]);
      const units = Math.round((dice.pick(decisions) / factor) * 1e6);
      return decimalText(units + dice.pick([0, 0, 0, 1, -1, 5, -5]), 6);
    }
    if (kind === 4) return decimalText(dice.whole(1, 99), 6);
    if (kind === 5) return `${dice.whole(1, 999)}${decimalText(dice.whole(0, 999_999_999), 2)}`;
    if (kind === 6) return String(dice.whole(1, 2000));
    if (kind === 7) return '0';
    return decimalText(dice.whole(1, 500_000), dice.whole(1, 4));
  };
  const made: Item[] = [];
  const costs: Cost[] = [];
  const posted: PostedPrice[] = [];
  for (let n = 0; n < items; n++) {
    const recommended = () =>
      chance(0.5)
        ? { amount: decimalText(dice.whole(1, 30_000), 2), currency: dice.pick(CURRENCIES), taxIn: chance(0.5) }
        : null;
    const amount = () => ({ amount: decimalText(dice.whole(1, 900), 2), currency: dice.pick(CURRENCIES) });
    made.push({
      id: `i${n}`,
      sku: `I${n}`,
      name: `Item ${n}`,
      unit: 'each',
      category: dice.pick(['all', 'rope', 'braid']),
      brand: dice.pick(['Kelda', 'Vik', null]),
      supplier: 's',
      weightKg: chance(0.9) ? decimalText(dice.whole(0, 9_000), 3) : null,
      taxClass: dice.pick(['std', 'low']),
      rrp: recommended(),
      map: recommended(),
      packs: [
        { id: `i${n}-1`, name: 'each', units: '1', ...(chance(0.2) ? { deposit: amount() } : {}) },
        ...(chance(0.4)
          ? [
              {
                id: `i${n}-2`,
                name: 'carton',
                units: dice.pick(['6', '7', '12', '0.5']),
                ...(chance(0.3) ? { deposit: amount(), depositTaxClass: 'low' } : {}),
              },
            ]
          : []),
      ],
    });
    for (const supplier of chance(0.2) ? ['s', 't'] : chance(0.95) ? ['s'] : []) {
      costs.push({
        id: `c${n}${supplier}`,
        item: `i${n}`,
        supplier,
        cost: { amount: costText(), currency: chance(0.6) ? 'EUR' : dice.pick(CURRENCIES) },
        packUnits: dice.pick(['1', '1', '1', '3', '7', '220']),
        from: '2026-01-01',
        origin: 'file',
        entry: n,
        fee: chance(0.1) ? { amount: decimalText(dice.whole(0, 9_000), 2), of: dice.pick(['400', '999.99']) } : null,
      });
    }
    if (chance(0.5)) {
      posted.push({
        list: dice.pick(['a', 'b']),
        item: `i${n}`,
        pack: `i${n}-1`,
        price: decimalText(dice.whole(1, 50_000), chance(0.1) ? 6 : 2),
        from: '2026-01-01',
        posting: '1',
        entry: n,
        handSet: chance(0.1) ? { reason: 'promised', by: 'Marit' } : null,
      });
    }
  }
  const recipe = (id: string): RecipeTerms => {
    const scope = () =>
      dice.pick<UpliftRow['scope']>([
        {},
        { category: 'rope' },
        { category: 'braid' },
        { brand: 'Kelda' },
        { pack: 'carton' },
        { item: 'i1' },
      ]);
    const bands = dice.pick([[null], [null], ['0', String(edges[0]), String(edges[1])], ['0', '12.5', '48']]);
    const uplift = Array.from({ length: dice.whole(1, 3) }, scope).flatMap((s, k) =>
      bands.map((from, b): UpliftRow => {
        const method = dice.pick(UPLIFT_METHODS);
        const money = ['add', 'amount_off', 'fixed'].includes(method);
        return {
          id: `${k}-${b}`,
          scope: { ...s, ...(from === null ? {} : { band: { from, to: bands[b + 1] ?? null } }) },
          method,
          value: money
            ? decimalText(dice.whole(0, 3_000), 2)
            : method === 'multiply'
              ? dice.pick(['1.2', '1.25', '0.9', '1.333'])
              : method === 'markup'
                ? percentText()
                : dice.pick(['20', '25', '50', '33.3', '37.5']),
          ...(money && chance(0.3) ? { currency: dice.pick(CURRENCIES) } : {}),
        };
      }),
    );
    const addOn = (k: number): AddOn => ({
      id: String(k),
      name: 'Add-on',
      kind: dice.pick(['amount', 'fee', 'percent_of_basis', 'by_weight']),
      value: decimalText(dice.whole(0, 500), 2),
      when: dice.pick(['before', 'after']),
      per: dice.pick(['pack', 'unit']),
      ...(chance(0.3) ? { currency: dice.pick(CURRENCIES) } : {}),
      ...(chance(0.3) ? { scope: chance(0.3) ? { category: null, attributes: {} } : scope() } : {}),
      bands: [
        { from: '0', to: '1.5', value: decimalText(dice.whole(0, 500), 2) },
        { from: '1.5', to: chance(0.7) ? null : '6', value: '4.2' },
      ],
    });
    const guard = (kind: GuardTerms['kind']): GuardTerms => ({
      kind,
      percent: dice.pick(['10', '20', '25', '50', '200']),
      amount: { amount: decimalText(dice.whole(1, 20_000), 2), currency: dice.pick(CURRENCIES) },
    });
    return {
      id,
      version: 1,
      name: id,
      basis: {
        kind: dice.pick([
          'landed',
          'landed',
          'landed',
          'cost',
          'rrp',
          'current',
          ...(id === 'b' ? (['list', 'list', 'list'] as const) : []),
        ]),
        list: 'a',
      },
      uplift: chance(0.8) ? [...uplift, { id: 'rest', scope: {}, method: 'markup', value: percentText() }] : uplift,
      addOns: Array.from({ length: dice.whole(0, 2) }, (_, k) => addOn(k)),
      ladder: chance(0.8) ? 'ladder' : null,
      guards: GUARD_KINDS.filter(() => chance(0.25)).map(guard),
    };
  };
  const list = (id: string): PriceList => ({
    id,
    version: 1,
    name: id,
    currency: id === 'b' && chance(0.2) ? dice.pick(CURRENCIES) : currency,
    taxIn: chance(0.5),
    decimals: chance(0.2) ? dice.whole(0, 4) : null,
    advertised: chance(0.5),
    active: true,
    groups: [],
    rank: 1,
    recipe: id,
  });
  return widened(dice, edges, {
    ...emptyWorkspace(),
    supplierChoice: dice.pick(['preferred', 'lowest_landed', 'latest']),
    items: made,
    costs,
    posted,
    categories: [
      { id: 'all', name: 'All', parent: null },
      { id: 'rope', name: 'Rope', parent: 'all' },
      { id: 'braid', name: 'Braid', parent: 'rope' },
    ],
    suppliers: ['s', 't'].map((id) => ({
      id,
      version: 1,
      name: id,
      currency: 'EUR',
      landed: chance(0.5)
        ? {}
        : {
            freight: chance(0.5)
              ? { per: dice.pick(['kg', 'unit']), amount: { amount: '0.85', currency: 'EUR' } }
              : null,
            dutyPercent: dice.pick([null, '2.7', '10']),
            handling: chance(0.3) ? { amount: '0.01', currency: dice.pick(CURRENCIES) } : null,
            overheadPercent: dice.pick([null, '1.5']),
          },
    })),
    landed: ['s', 't'].flatMap((supplier) =>
      [{}, { category: 'rope' }, { item: 'i1' }].flatMap((scope, k) =>
        chance(0.7)
          ? []
          : {
              id: `${supplier}${k}`,
              version: 1,
              supplier,
              scope,
              from: dice.pick(['2025-01-01', '2026-01-01', '2031-01-01']),
              freight: chance(0.3)
                ? {
                    per: dice.pick(['kg', 'unit'] as const),
                    amount: { amount: '1.1', currency: dice.pick(CURRENCIES) },
                  }
                : null,
              dutyPercent: dice.pick([null, '0', '4.4']),
              orderFee: chance(0.4) ? { fee: { amount: '45', currency: 'EUR' }, order: '1300' } : null,
              usualOrder: dice.pick([null, '1', '5', '12']),
            },
      ),
    ),
    rates: [
      { from: 'EUR', to: 'SEK', day: '2026-01-01', rate: chance(0.5) ? '10' : '11.2050' },
      { from: 'EUR', to: 'JPY', day: '2026-01-01', rate: chance(0.5) ? '160' : '161.37' },
      { from: 'KWD', to: 'EUR', day: '2026-01-01', rate: chance(0.5) ? '3' : '2.987' },
    ],
    taxes: [
      { taxClass: 'std', percent: dice.pick(['0', '20', '25', '25.5']), from: '2020-01-01' },
      { taxClass: 'low', percent: dice.pick(['0', '7.7', '10']), from: '2020-01-01' },
    ],
    ladders: [{ id: 'ladder', version: 1, name: 'Ladder', currency, rungs }],
    recipes: [recipe('a'), recipe('b')],
    lists: [list('a'), list('b')],
  });
}

/** The same with what differs from item to item and pack to pack: ladders, recipes, channels, deposits of units, reduced costs, offsets. */
function widened(dice: Dice, edges: readonly number[], w: Workspace): Workspace {
  const chance = (share: number) => dice.next() < share;
  const amount = () => ({ amount: decimalText(dice.whole(1, 300), 2), currency: dice.pick(CURRENCIES) });
  const ties = () => dice.pick([{ item: 'i1' }, { category: 'rope' }, { category: 'braid' }, { pack: 'carton' }]);
  const some = <T>(make: () => T): T[] => (chance(0.3) ? Array.from({ length: dice.whole(1, 2) }, make) : []);
  const ladderTie = () => ({ ...ties(), ladder: dice.pick(['ladder', 'other']) });
  const offsets = (rungs: readonly RungTerms[]) =>
    rungs.map((r) => (chance(0.25) ? { ...r, offset: dice.pick(['-0.1', '-0.01', '0.05', '-1', '0.005', '3']) } : r));
  return {
    ...w,
    items: w.items.map((item) => ({
      ...item,
      packs: item.packs.map((p) => (chance(0.1) ? { ...p, unitDeposit: amount(), unitDepositTaxClass: 'low' } : p)),
    })),
    costs: w.costs.map((c) => ({
      ...c,
      ...(chance(0.1) ? { reduced: amount() } : {}),
      ...(chance(0.2)
        ? {
            quantityPrices: [
              { from: '5', cost: amount().amount },
              { from: '10', cost: amount().amount },
            ],
          }
        : {}),
      ...(chance(0.1) ? { to: dice.pick(['2026-01-31', '2031-01-01']) } : {}),
    })),
    ladders: [
      ...w.ladders.map((l) => ({ ...l, rungs: offsets(l.rungs) })),
      { ...w.ladders[0]!, id: 'other', rungs: offsets(randomRungs(dice, edges)) },
    ],
    recipes: w.recipes.map((r) => ({
      ...r,
      basis: { ...r.basis, ...(chance(0.3) ? { cost: 'usual' as const } : {}) },
      uplift: r.uplift.map((row) =>
        chance(0.15) ? { ...row, scope: { ...row.scope, channel: dice.pick(['web', 'fair']) } } : row,
      ),
      ladders: some(ladderTie),
    })),
    lists: w.lists.map((l) => ({
      ...l,
      channels: dice.pick([[], ['web'], ['web', 'fair']]),
      ladders: some(ladderTie),
      recipes: some(() => ({
        ...dice.pick([{ item: 'i1' }, { category: 'rope' }, { category: 'braid' }]),
        recipe: dice.pick(['a', 'b']),
      })),
    })),
  };
}

function randomRungs(dice: Dice, edges: readonly number[]): RungTerms[] {
  const bounds = ['0', ...edges.map(String)];
  return bounds.flatMap((from, i): RungTerms[] => {
    // now and then a hole
    if (dice.next() < 0.15) return [];
    const step = dice.pick(['0.05', '0.25', '1', '5', '10', '0.3']);
    const inside = (places: number) => decimalText(Math.floor(dice.next() * Number(step) * 10 ** places), places);
    return [
      {
        from,
        to: bounds[i + 1] ?? null,
        step,
        endings: [...new Set(dice.pick([['0'], [inside(2)], [inside(2), inside(2)], [inside(3)]]))],
        direction: dice.pick(['nearest', 'up', 'down', 'cuts']),
        downUntil: inside(2),
        upFrom: inside(2),
      },
    ];
  });
}
