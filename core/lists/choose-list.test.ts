import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from './price-list.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { chooseList, listsMeantFor } from './choose-list.ts';

const YARD = { customer: 'c', name: 'Yard', groups: ['yards'], country: null, region: null, channel: null };

describe('which list a customer buys from', () => {
  const w = { ...emptyWorkspace(), groups: [{ id: 'yards', version: 1, name: 'Yards', rank: 1 }] };
  const list = (id: string, more: Partial<PriceList>): PriceList => ({
    id,
    version: 1,
    name: id,
    currency: 'EUR',
    taxIn: false,
    advertised: false,
    active: true,
    groups: [],
    rank: 1,
    recipe: null,
    ...more,
  });
  const choose = (lists: Workspace['lists'], day = '2026-03-09') => {
    const found = chooseList(new Prepared({ ...w, lists }), YARD, day);
    return found.ok ? found.value.list.id : found.reason.code;
  };
  it('a list for the group comes before one for everyone, whatever its rank', () =>
    expect(choose([list('all', {}), list('yards', { groups: ['yards'], rank: 9 })])).toBe('yards'));
  it('then the lower rank', () => expect(choose([list('a', { rank: 2 }), list('b', { rank: 1 })])).toBe('b'));
  it('a list is valid on its first and its last day, both whole', () => {
    const dated = [list('spring', { from: '2026-03-01', to: '2026-03-09' })];
    expect([
      choose(dated, '2026-02-28'),
      choose(dated, '2026-03-01'),
      choose(dated, '2026-03-09'),
      choose(dated, '2026-03-10'),
    ]).toEqual(['no_list', 'spring', 'spring', 'no_list']);
  });
  it('a list that is not active, or meant for others, is never chosen', () =>
    expect(choose([list('off', { active: false }), list('club', { groups: ['club'] })])).toBe('no_list'));
});

describe('lists that were chosen before', () => {
  const some = (of: readonly string[]) => fc.subarray([...of]);
  const lists = fc.array(
    fc.record({
      groups: some(['yards', 'club']),
      customers: some(['c', 'd']),
      regions: some(['north', 'isles']),
      channels: some(['shop', 'web']),
      rank: fc.integer({ min: 1, max: 3 }),
      from: fc.constantFrom(undefined, '2026-03-09'),
    }),
    { minLength: 1, maxLength: 6 },
  );
  const buyers = fc.array(
    fc.record({
      customer: fc.constantFrom('c', 'd', 'e', null),
      groups: some(['yards', 'club']),
      region: fc.constantFrom('north', 'isles', null),
      channel: fc.constantFrom('shop', 'web', null),
      day: fc.constantFrom('2026-03-08', '2026-03-09'),
    }),
    { maxLength: 30 },
  );
  it('nobody is given the lists of somebody who asked before', () =>
    fc.assert(
      fc.property(lists, buyers, (made, asked) => {
        const w: Workspace = {
          ...emptyWorkspace(),
          groups: ['yards', 'club'].map((id, n) => ({ id, version: 1, name: id, rank: n })),
          regions: [
            { id: 'north', version: 1, name: 'North', countries: [], inside: null, currency: 'EUR', tax: 'charged' },
            { id: 'isles', version: 1, name: 'Isles', countries: [], inside: 'north', currency: 'EUR', tax: 'charged' },
          ],
          lists: made.map(({ from, ...l }, n) => ({
            ...{ id: `${n}`, version: 1, name: `List ${n}`, currency: 'EUR', taxIn: false, advertised: false },
            ...{ active: true, recipe: null, ...(from ? { from } : {}), ...l },
          })),
        };
        const one = new Prepared(w);
        for (const { day, ...buyer } of asked) {
          const asks = { ...buyer, name: buyer.customer ?? 'anybody', country: null };
          expect(listsMeantFor(one, asks, day)).toEqual(listsMeantFor(new Prepared(w), asks, day));
        }
      }),
    ));
});
