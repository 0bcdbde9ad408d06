import { describe, expect, it } from 'vitest';
import { dec, plain } from '../numbers/decimal.ts';
import type { GuardTerms } from '../recipes/recipe.ts';
import { Prepared } from '../workspace/prepared.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { priceHarms } from './price-harm.ts';

// Landed 40.00; tax 20 % in, so that cost shows as 48.00. RRP 100 and MAP 60, both with tax in.
const EUR = (amount: string) => ({ amount, currency: 'EUR' });
const workspace = (guards: readonly GuardTerms[], advertised = true, cost: string | null = '40.00') =>
  new Prepared({
    ...emptyWorkspace(),
    suppliers: [{ id: 's', version: 1, name: 'S', currency: 'EUR', landed: {} }],
    taxes: [{ taxClass: 'std', percent: '20', from: '2020-01-01' }],
    items: [
      {
        ...{ id: 'i', sku: 'I', name: 'i', unit: 'each', category: 'all', supplier: 's', taxClass: 'std' },
        rrp: { ...EUR('100'), taxIn: true },
        map: { ...EUR('60'), taxIn: true },
        packs: [{ id: 'p', name: 'each', units: '1' }],
      },
    ],
    costs: cost
      ? [
          {
            id: 'c',
            item: 'i',
            supplier: 's',
            cost: EUR(cost),
            packUnits: '1',
            from: '2026-01-01',
            origin: 'file',
            entry: 1,
          },
        ]
      : [],
    recipes: [
      {
        ...{ id: 'r', version: 1, name: 'r', basis: { kind: 'landed' as const }, ladder: null, guards },
        uplift: [{ id: 'u', scope: {}, method: 'markup', value: '60' }],
      },
    ],
    lists: [
      {
        id: 'l',
        version: 1,
        name: 'l',
        currency: 'EUR',
        taxIn: true,
        advertised,
        active: true,
        groups: [],
        rank: 1,
        recipe: 'r',
      },
    ],
  });
const harms = (price: string, ...of: Parameters<typeof workspace>) =>
  priceHarms(workspace(...of), { list: 'l', item: 'i', pack: 'p', day: '2026-03-09' }, dec(price)).map(
    (h) => `${h.harm} ${plain(h.at)}`,
  );
const margin: GuardTerms = { kind: 'least_margin', percent: '50' };

describe('a price whose posting has to be confirmed', () => {
  it.each([
    ['exactly at landed cost it does nothing', '48.00', [], false, []],
    ['a cent below it falls below cost, also without a guard', '47.99', [], false, ['below_cost 48']],
    ['exactly at the MAP it does nothing', '60.00', [], true, []],
    ['a cent under it falls under the MAP', '59.99', [], true, ['under_map 60']],
    ['on a list that is not advertised no MAP counts', '59.99', [], false, []],
    ['exactly at the RRP it does nothing', '100.00', [], true, []],
    ['a cent above it lies above the RRP', '100.01', [], true, ['above_rrp 100']],
    ['exactly at a floor of the recipe it does nothing', '96.00', [margin], true, []],
    ['a cent below it falls below the floor', '95.99', [margin], true, ['below_guards 96']],
    [
      'a ceiling of the recipe counts too',
      '95.01',
      [{ kind: 'most_price', amount: EUR('95') }],
      true,
      ['above_guards 95'],
    ],
    ['raise only is no limit of a price that a person sets', '61.00', [{ kind: 'raise_only' }], true, []],
    ['every limit it breaks is listed', '4.61', [margin], true, ['below_cost 48', 'below_guards 96', 'under_map 60']],
  ] as [string, string, GuardTerms[], boolean, string[]][])('%s', (_, price, guards, advertised, expected) => {
    expect(harms(price, guards, advertised)).toEqual(expected);
  });

  it('without a known cost the limits that need none still count', () => {
    expect(harms('59.99', [margin], true, null)).toEqual(['under_map 60']);
  });
});
