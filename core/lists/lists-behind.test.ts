import { expect, it } from 'vitest';
import { Prepared } from '../workspace/prepared.ts';
import type { PriceList } from './price-list.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { listsBehind } from './lists-behind.ts';

const from = (id: string, list: string | null): Workspace['recipes'][number] => ({
  id,
  version: 1,
  name: id,
  basis: list === null ? { kind: 'landed' } : { kind: 'list', list },
  uplift: [],
  ladder: null,
  guards: [],
});
const list = (id: string, more: Partial<PriceList>): PriceList => ({
  id,
  version: 1,
  name: id,
  currency: 'EUR',
  taxIn: false,
  active: true,
  advertised: false,
  groups: [],
  recipe: null,
  rank: 1,
  ...more,
});
const behind = (id: string) => {
  const ws = new Prepared({
    ...emptyWorkspace(),
    recipes: [from('landed', null), ...['counter', 'yards', 'fair', 'a', 'b'].map((l) => from(`from ${l}`, l))],
    lists: [
      list('counter', { recipe: 'landed' }),
      list('yards', { recipe: 'from counter' }),
      list('fair', { recipe: null, parent: { list: 'counter' } }),
      list('club', { recipe: 'landed', recipes: [{ category: 'rope', recipe: 'from yards' }] }),
      list('guests', { recipe: 'from fair', parent: { list: 'club' } }),
      list('a', { recipe: 'from b' }),
      list('b', { recipe: 'from a' }),
    ],
  });
  return listsBehind(ws, ws.lists.get(id)!).map((l) => l.id);
};

it.each([
  ['counter', []],
  ['yards', ['counter']],
  // a recipe for some items alone counts too
  ['club', ['yards', 'counter']],
  // what it starts from takes prices from its parent; its own parent decides nothing that is computed
  ['guests', ['fair', 'counter']],
  // a circle ends
  ['a', ['b']],
])('no list that the prices of "%s" hang on is left out', (id, expected) => expect(behind(id)).toEqual(expected));
