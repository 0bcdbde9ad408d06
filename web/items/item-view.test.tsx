import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ItemPage, ItemPrice } from '#contract/items.ts';
import { visit } from '../tests/visit.tsx';

const price = (more: Partial<ItemPrice>): ItemPrice => ({
  pack: '1',
  packName: 'metre',
  posted: '2.52',
  postedFrom: '2026-01-05',
  lowest: '2.40',
  asks: '2.52',
  source: 'posted',
  from: null,
  dated: null,
  usual: null,
  ...more,
});
const list = (id: string, name: string, prices: ItemPrice[]) => ({
  id,
  name,
  currency: 'EUR',
  taxIn: true,
  decimals: 2,
  prices,
});
const page: ItemPage = {
  id: '7',
  version: 3,
  sku: 'BL-12',
  name: 'Braided line 12 mm',
  unit: 'metre',
  categoryPath: ['rope', 'braided line'],
  brand: 'Kelwick',
  model: null,
  supplier: '2',
  supplierName: 'Kelwick Ropeworks',
  supplierCode: 'KE12',
  weightKg: '0.092',
  taxClass: 'standard',
  rrp: { amount: '24', currency: 'GBP', taxIn: true },
  map: null,
  attributes: [{ name: 'colour', value: 'navy' }],
  retiredFrom: null,
  packs: [{ id: '1', name: 'metre', units: '1', barcode: '4006381333931', deposit: '3 EUR', unitDeposit: '0.25 EUR' }],
  landed: '1.29771234',
  costReason: null,
  lockstep: {
    id: '4',
    name: 'Colours',
    lead: false,
    members: [
      { id: '6', sku: 'BL-12-WH', name: 'white' },
      { id: '7', sku: 'BL-12', name: 'navy' },
    ],
  },
  lists: [
    list('1', 'Counter', [
      price({ source: 'entry', asks: '2.27', usual: '2.52', dated: { from: null, to: '2026-03-20' } }),
    ]),
    list('3', 'North', [price({ source: 'parent', from: 'Counter', posted: null, postedFrom: null, lowest: null })]),
    list('5', 'Club', [price({ source: null, asks: null, posted: null, postedFrom: null, lowest: null })]),
  ],
  rules: [
    { kind: 'entry', name: 'Counter', detail: '10 % off, until 2026-03-20', names: true, to: '/setup/entries?open=9' },
  ],
  quotes: [
    {
      id: '8',
      number: '2026-0008',
      day: '2026-03-01',
      customer: 'Yard',
      state: 'accepted',
      quantity: '40',
      packName: 'metre',
    },
  ],
  history: [
    {
      posting: '21',
      list: 'Counter',
      effective: '2026-01-05',
      packName: 'metre',
      before: '2.40',
      after: '2.52',
      reason: 'new costs',
      by: 'Marit',
    },
  ],
  changes: [{ at: '2026-02-01T10:00:00Z', by: 'Marit', action: 'changed' }],
};
const answers = { 'GET /items/7/page': page, 'GET /items/7/costs': [] };

describe('the page of an item', () => {
  it('shows each list’s price with where it is from, what was agreed for some days, and what is not sold', async () => {
    visit('/items/7', answers);
    await screen.findByRole('heading', { name: 'Braided line 12 mm' });
    const row = (name: RegExp) => screen.getByRole('button', { name }).closest('tr')!;
    expect(row(/metre on Counter/)).toHaveTextContent('entry of this list until 20/03/2026, else 2.52');
    expect(within(row(/metre on Counter/)).getByText('2.40')).toBeInTheDocument();
    expect(row(/metre on North/)).toHaveTextContent('inherited from Counter');
    expect(row(/metre on Club/)).toHaveTextContent('not sold');
    expect(screen.getByText('10 % off, until 20/03/2026')).toBeInTheDocument();
    expect(screen.getByText('3.00 EUR + 0.25 EUR per metre')).toBeInTheDocument();
    expect(screen.getByText('24.00 GBP, tax in')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'BL-12-WH' })).toHaveAttribute('href', '/items/6');
    expect(screen.getByRole('link', { name: '2026-0008' })).toHaveAttribute('href', '/quotes/8');
  });
  it('shows a seller neither costs nor a way to change it', async () => {
    visit('/items/7', { ...answers, 'GET /items/7/page': { ...page, landed: null } }, ['read', 'write_quotes']);
    await screen.findByText('Rules that reach it');
    expect(screen.queryByText('What it costs')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Change the item' })).toBeNull();
  });
  it('says from when it is retired, and that it has no prices', async () => {
    visit('/items/7', { ...answers, 'GET /items/7/page': { ...page, retiredFrom: '2026-04-01', lists: [] } });
    expect(await screen.findByText('retired from 01/04/2026')).toBeInTheDocument();
    expect(screen.getByText('It is not sold.')).toBeInTheDocument();
  });
  it('is changed with all its terms: what no field was typed into goes back as it was', async () => {
    const user = userEvent.setup();
    const record = {
      id: '7',
      version: 3,
      sku: 'BL-12',
      name: 'Braided line 12 mm',
      category: '2',
      unit: 'metre',
      brand: null,
      model: null,
      supplier: null,
      supplierCode: 'KE12',
      weightKg: '0.092',
      taxClass: 'standard',
      packs: [
        {
          id: '1',
          name: 'metre',
          units: '1',
          barcode: null,
          deposit: null,
          depositTaxClass: null,
          unitDeposit: null,
          unitDepositTaxClass: null,
        },
      ],
      rrp: null,
      map: null,
      attributes: { colour: 'navy' },
      order: null,
      retiredFrom: null,
    };
    const sent = visit('/items/7', { ...answers, 'GET /items/7': record, 'PUT /items/7': record });
    await user.click(await screen.findByRole('button', { name: 'Change the item' }));
    const name = await screen.findByRole('textbox', { name: 'Name' });
    await user.clear(name);
    await user.type(name, 'Line');
    await user.type(screen.getByRole('textbox', { name: 'barcode, pack 1' }), '4006381333931');
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent.at(-1)?.method).toBe('PUT'));
    const { id: _, packs, ...rest } = record;
    expect(sent.at(-1)!.body).toEqual({ ...rest, name: 'Line', packs: [{ ...packs[0], barcode: '4006381333931' }] });
  });
});
