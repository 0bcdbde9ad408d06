import { describe, expect, it } from 'vitest';
import { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from './price-list.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { chooseList } from './choose-list.ts';

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
