import { describe, expect, it } from 'vitest';
import { emptyWorkspace } from '../workspace/sample.ts';
import type { Item } from '../items/item.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { LOCKSTEP_VALUES, differencesOnJoining, onLeaving, proposeGroupCost } from './lockstep.ts';

const DAY = '2026-03-09';
const item = (id: string, more: Partial<Item> = {}): Item => ({
  id,
  sku: id,
  name: id,
  unit: 'metre',
  category: 'all',
  taxClass: 'standard',
  packs: [{ id: `${id}-m`, name: 'metre', units: '1' }],
  ...more,
});
const cost = (id: string, amount: string, packUnits = '220') => ({
  id: `c-${id}`,
  item: id,
  supplier: 's',
  cost: { amount, currency: 'GBP' },
  packUnits,
  from: '2026-01-01',
  origin: 'file' as const,
  entry: 1,
});
const posted = (id: string, price: string, hand: boolean) => ({
  list: 'l',
  item: id,
  pack: `${id}-m`,
  price,
  from: '2026-01-01',
  posting: '1',
  entry: 1,
  handSet: hand ? { reason: 'promised', by: 'Marit' } : null,
});
const workspace = (more: Partial<Workspace> = {}): Workspace => ({
  ...emptyWorkspace(),
  items: [item('red'), item('blue'), item('green')],
  suppliers: [{ id: 's', version: 1, name: 'Kelwick', currency: 'GBP', landed: {} }],
  lockstep: [{ id: 'g', version: 1, name: 'Braid', lead: 'red', members: ['blue'] }],
  costs: [cost('red', '214.50')],
  lists: [
    {
      id: 'l',
      version: 1,
      name: 'L',
      currency: 'EUR',
      taxIn: true,
      advertised: false,
      active: true,
      groups: [],
      rank: 1,
      recipe: null,
    },
  ],
  posted: [posted('red', '2.42', true)],
  ...more,
});

describe('items in lockstep', () => {
  it('a new cost for one member is proposed for all, with the typed price that would not follow', () => {
    const changes = proposeGroupCost(
      new Prepared(workspace()),
      'blue',
      { cost: { amount: '231.00', currency: 'GBP' }, packUnits: '220', supplier: 's' },
      DAY,
    );
    expect(changes.map((c) => [c.item, c.before?.amount, c.after.amount])).toEqual([
      ['red', '214.50', '231.00'],
      ['blue', '214.50', '231.00'],
    ]);
    expect(changes[1]!.handSet).toEqual([{ list: 'l', pack: 'red-m', price: '2.42', reason: 'promised' }]);
  });

  it('an item in no group changes alone', () => {
    const found = proposeGroupCost(
      new Prepared(workspace()),
      'green',
      { cost: { amount: '9', currency: 'GBP' }, packUnits: '1', supplier: 's' },
      DAY,
    );
    expect(found.map((c) => [c.item, c.before])).toEqual([['green', null]]);
  });

  it('on joining, every value that differs is shown beside the lead’s', () => {
    const green = item('green', {
      taxClass: 'reduced',
      packs: [
        { id: 'green-m', name: 'metre', units: '1', deposit: { amount: '1.00', currency: 'EUR' } },
        { id: 'green-d', name: 'drum', units: '100' },
      ],
    });
    const w = workspace({
      items: [item('red'), green],
      lockstep: [],
      costs: [cost('red', '214.50'), cost('green', '190.00', '200')],
      posted: [posted('red', '2.42', true), posted('green', '2.20', false)],
    });
    const found = differencesOnJoining(new Prepared(w), green, w.items[0]!, DAY);
    expect(found).toEqual([
      { value: 'cost', where: 's', own: '190 GBP for 200', lead: '214.5 GBP for 220' },
      { value: 'tax class', where: 'green', own: 'reduced', lead: 'standard' },
      { value: 'deposit', where: 'metre', own: '1.00 EUR', lead: null },
      { value: 'price', where: 'l/metre', own: '2.20', lead: '2.42' },
      { value: 'packs', where: 'drum', own: '100', lead: null },
    ]);
    expect(new Set(found.map((d) => d.value))).toEqual(new Set(LOCKSTEP_VALUES));
  });

  it('on leaving, an item keeps the lead’s packs, tax class and supplier as its own', () => {
    const left = onLeaving(item('blue', { taxClass: 'reduced' }), item('red', { supplier: 's' }));
    expect([left.id, left.taxClass, left.supplier, left.packs[0]!.id]).toEqual(['blue', 'standard', 's', 'red-m']);
  });
});
