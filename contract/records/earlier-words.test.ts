import { describe, expect, it } from 'vitest';
import { recipeBody } from '../recipes.ts';
import { inWordsOfNow } from './earlier-words.ts';
import { ITEM } from './item.ts';
import { PLAIN, plainSchema } from './plain.ts';
import { schemaOf } from './schema.ts';

const all = { abortEarly: false, stripUnknown: false };
const row = { category: '3', bandFrom: null, bandTo: '50', method: 'markup', value: '60', currency: null };
const supplier = { name: 'Aldermere', currency: 'GBP', freightPer: 'kg', freightAmount: '0.85', freightCurrency: null };
const item = { sku: 'BL-10', name: 'Braided line', category: '1', unit: 'metre', taxClass: 'standard' };

/** As an earlier release wrote it down, and what of it tells that nothing was lost. */
const CASES: readonly [kind: string, was: object, is: object][] = [
  ['categories', { name: 'rope', parentId: '2' }, { parent: '2' }],
  [
    'floors',
    { name: 'least', kind: 'margin', value: '9', outcome: 'ask', itemId: null, categoryId: '4', groupId: '5' },
    { item: null, category: '4', group: '5' },
  ],
  ['tax-rates', { taxClass: 'standard', percent: '20', validFrom: '2026-01-01' }, { from: '2026-01-01' }],
  [
    'exchange-rates',
    { fromCurrency: 'GBP', toCurrency: 'EUR', rate: '1.16', day: '2026-01-01' },
    { from: 'GBP', to: 'EUR' },
  ],
  [
    'lists',
    { name: 'Counter', currency: 'EUR', taxIn: true, rank: 1, validFrom: null, validTo: '2026-12-31' },
    { from: null, to: '2026-12-31' },
  ],
  ['customers', { name: 'Yard', groupId: '5', otherGroups: ['6'] }, { groups: ['5', '6'] }],
  ['customers', { name: 'Passer-by', groupId: null }, { groups: [] }],
  [
    'suppliers',
    { ...supplier, dutyPercent: '2.7', handlingAmount: null, handlingCurrency: null, overheadPercent: null },
    { landed: { freight: { per: 'kg', amount: { amount: '0.85', currency: 'GBP' } }, dutyPercent: '2.7' } },
  ],
  [
    'recipes',
    {
      ...{ name: 'Counter', basis: 'list', basisList: '1', ladder: null, uplift: [row] },
      guards: [{ kind: 'least_price', percent: null, amount: '3', currency: 'EUR' }],
    },
    {
      basis: { kind: 'list', list: '1' },
      uplift: [{ scope: { category: '3', band: { from: '0', to: '50' } }, method: 'markup', value: '60' }],
      guards: [{ kind: 'least_price', amount: { amount: '3', currency: 'EUR' } }],
    },
  ],
  [
    'items',
    { ...item, packs: [{ id: '1', name: 'each', units: '1' }], orderLimits: { least: '2' }, orderFor: [] },
    { order: { least: '2', for: [] } },
  ],
];

const schemaNamed = (kind: string) =>
  kind === 'recipes' ? recipeBody : kind === 'items' ? schemaOf(ITEM.fields) : plainSchema(kind as keyof typeof PLAIN);

describe('a record of the record of changes', () => {
  it.each(CASES)('%s, written down by an earlier release, can be kept again', (kind, was, is) => {
    const now = inWordsOfNow(kind, was);
    expect(now).toMatchObject(is);
    expect(() => schemaNamed(kind).validateSync(now, all)).not.toThrow();
    // and what is in the words of now already stays as it is
    expect(inWordsOfNow(kind, now)).toEqual(now);
  });
});
