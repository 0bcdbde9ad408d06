import { describe, expect, it } from 'vitest';
import type { Cost } from './cost.ts';
import type { Item } from '../items/item.ts';
import { Prepared } from '../workspace/prepared.ts';
import type { Workspace } from '../workspace/workspace.ts';
import { emptyWorkspace } from '../workspace/sample.ts';
import { type ArrivingCost, examineCost } from './arriving-cost.ts';
import { LikeItems } from './like-items.ts';

const TODAY = '2026-03-09';
const item = (id: string, more: Partial<Item> = {}): Item => ({
  id,
  sku: id.toUpperCase(),
  name: id,
  unit: 'metre',
  category: 'rope',
  taxClass: 'standard',
  supplier: 's',
  packs: [],
  ...more,
});
let entry = 0;
const known = (of: string, amount: string, more: Partial<Cost> = {}): Cost => ({
  id: `c${++entry}`,
  item: of,
  supplier: 's',
  cost: { amount, currency: 'GBP' },
  packUnits: '1',
  from: '2025-11-01',
  origin: 'file',
  entry,
  ...more,
});
const shop = (more: Partial<Workspace>): Prepared =>
  new Prepared({
    ...emptyWorkspace(),
    currency: 'GBP',
    suppliers: [{ id: 's', version: 1, name: 'Kelwick', currency: 'GBP', landed: {} }],
    categories: [{ id: 'rope', name: 'Rope', parent: null }],
    taxes: [{ taxClass: 'standard', percent: '20', from: '2000-01-01' }],
    rates: [{ from: 'EUR', to: 'GBP', day: '2000-01-01', rate: '0.85' }],
    ...more,
  });
const arrives = (amount: string, more: Partial<ArrivingCost> & { currency?: string } = {}): ArrivingCost => ({
  cost: { amount, currency: more.currency ?? 'GBP' },
  packUnits: more.packUnits ?? '1',
  from: more.from ?? TODAY,
});
const look = (ws: Prepared, of: string, arriving: ArrivingCost, beside = new Map<string, ArrivingCost>()) => {
  const like = new LikeItems(ws, TODAY);
  const found = examineCost({ ws, supplier: 's', today: TODAY, like, beside }, ws.items.get(of)!, arriving);
  return { ...found, codes: [...found.suspicions.keys()] };
};

describe('a cost beside the one that is known', () => {
  const drum = shop({ items: [item('a')], costs: [known('a', '214.50', { packUnits: '220' })] });
  it.each<[string, ArrivingCost, string[]]>([
    ['a usual rise is not worth a word', arrives('219', { packUnits: '220' }), []],
    ['ten times less: the decimal mark', arrives('21.45', { packUnits: '220' }), ['decimal_shift']],
    ['a third more', arrives('286', { packUnits: '220' }), ['large_move']],
    ['a cost by the metre where drums were listed', arrives('0.98', { packUnits: '220' }), ['piece_for_pack']],
    ['a drum’s cost read as a metre’s', arrives('219'), ['other_pack', 'pack_for_piece']],
    ['another drum at the same cost per metre', arrives('97.50', { packUnits: '100' }), ['other_pack']],
    ['another currency', arrives('252', { packUnits: '220', currency: 'EUR' }), ['other_currency']],
    ['a day long past', arrives('219', { packUnits: '220', from: '2025-12-01' }), ['long_past']],
    ['a day far ahead', arrives('219', { packUnits: '220', from: '2027-03-09' }), ['far_ahead']],
    [
      'a day before the one that is known',
      arrives('219', { packUnits: '220', from: '2025-06-01' }),
      ['earlier_day', 'long_past'],
    ],
  ])('%s', (_, arriving, codes) => expect(look(drum, 'a', arriving).codes).toEqual(codes));

  it('the same for more than a year is told with since when', () => {
    const ws = shop({ items: [item('a')], costs: [known('a', '3.00', { from: '2025-03-09' })] });
    expect([...look(ws, 'a', arrives('3')).suspicions]).toEqual([['unchanged_for_year', { since: '2025-03-09' }]]);
    expect(look(ws, 'a', arrives('3.01')).codes).toEqual([]);
    const younger = shop({ items: [item('a')], costs: [known('a', '3.00', { from: '2025-03-10' })] });
    expect(look(younger, 'a', arrives('3')).codes).toEqual([]);
  });

  it('a typed cost holds until it is released', () => {
    const typed = known('a', '3.00', { origin: 'typed' });
    expect(look(shop({ items: [item('a')], costs: [typed] }), 'a', arrives('3.10')).codes).toEqual(['held_by_typed']);
    const free = { ...typed, released: true };
    expect(look(shop({ items: [item('a')], costs: [free] }), 'a', arrives('3.10')).codes).toEqual([]);
  });
});

describe('a cost beside those of like items', () => {
  const ids = ['a', 'b', 'c', 'd', 'e', 'f'];
  const ws = shop({
    items: [...ids.map((id) => item(id)), item('new')],
    costs: ids.map((id, n) => known(id, (2 + n * 0.2).toFixed(2))),
  });
  it('a new item at forty times the others is told, with their middle', () => {
    const { kind, suspicions } = look(ws, 'new', arrives('100'));
    expect([kind, suspicions.get('far_from_like')]).toEqual([
      'new',
      { among: 'Rope', count: '6', middle: '2.4980', currency: 'GBP', unit: 'metre' },
    ]);
  });
  it('at twice the others it is not', () => expect(look(ws, 'new', arrives('5')).codes).toEqual([]));
  it('the same model speaks before the category', () => {
    const close = shop({
      items: [...ids.map((id) => item(id, { model: 'TS' })), item('new', { model: 'TS' })],
      costs: ids.map((id) => known(id, '2.40')),
    });
    expect(look(close, 'new', arrives('6.50')).suspicions.get('far_from_like')!['among']).toBe('model TS');
    expect(look(close, 'new', arrives('5.50')).codes).toEqual([]);
  });
  it('an item that has always stood apart is left in peace', () => {
    const apart = shop({
      items: [...ids, 'x'].map((id) => item(id)),
      costs: [...ws.workspace.costs, known('x', '90')],
    });
    expect(look(apart, 'x', arrives('95')).codes).toEqual([]);
  });
  it('four are too few to say', () => {
    const four = ['a', 'b', 'c', 'd'];
    const few = shop({ items: [...four, 'new'].map((id) => item(id)), costs: four.map((id) => known(id, '2')) });
    expect(look(few, 'new', arrives('100')).codes).toEqual([]);
  });
});

describe('a cost beside lockstep and RRP', () => {
  const group = { id: 'g', version: 1, name: 'Halyards', lead: 'lead', members: ['m'] };
  const ws = shop({
    items: [item('lead'), item('m')],
    costs: [known('lead', '3.00'), known('m', '3.00')],
    lockstep: [group],
  });
  it('one for a member that follows moves no price: it is told whom it follows', () => {
    const found = look(ws, 'm', arrives('4.20'), new Map([['lead', arrives('3.10')]]));
    expect(Object.fromEntries(found.suspicions)).toEqual({
      large_move: {},
      follows_lead: { lead: 'LEAD', group: 'Halyards' },
      unlike_lockstep: { lead: 'LEAD', amount: '3.10', currency: 'GBP', units: '1' },
    });
    const beside = (lead: ArrivingCost) => look(ws, 'm', arrives('3.20'), new Map([['lead', lead]])).codes;
    expect(beside(arrives('6.40', { packUnits: '2' }))).toEqual(['follows_lead']);
    // the lead's own new cost is the odd one
    expect(beside(arrives('0.32'))).toEqual(['follows_lead']);
    expect(look(ws, 'lead', arrives('3.20')).codes).toEqual([]);
  });

  it('above the RRP without its tax, freight and duty counted', () => {
    const dear = (duty: string) =>
      shop({
        suppliers: [{ id: 's', version: 1, name: 'Kelwick', currency: 'GBP', landed: { dutyPercent: duty } }],
        items: [item('a', { rrp: { amount: '6.00', currency: 'GBP', taxIn: true } })],
        costs: [known('a', '4.50')],
      });
    expect(look(dear('0'), 'a', arrives('5.00')).codes).toEqual([]);
    expect(look(dear('2'), 'a', arrives('5.00')).suspicions.get('above_rrp')).toEqual({
      rrp: '5',
      landed: '5.1',
      currency: 'GBP',
    });
  });
});
