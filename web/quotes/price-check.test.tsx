import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { PriceCheck } from '#contract/quotes.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const step = {
  kind: 'list_price',
  operation: { op: 'start', value: '2.05' },
  before: null,
  after: '2.05',
  currency: 'EUR',
  per: 'pack',
};
const found = {
  list: { id: '2', name: 'Boatyards', why: 'meant for the customer’s group' },
  candidates: [
    { name: 'Boatyards', why: 'meant for the customer’s group', wins: true },
    { name: 'Counter', why: 'comes later', wins: false },
  ],
  leftOut: [{ name: 'North', why: 'not meant for this region' }],
  region: null,
  behind: null,
  figures: {
    currency: 'EUR',
    taxIn: false,
    decimals: 2,
    lines: [
      {
        sku: 'BL-12',
        name: 'Line',
        packName: 'metre',
        quantity: '1',
        unitPrice: '2.05',
        total: '2.05',
        listPrice: '2.05',
        reason: null,
        broken: null,
        slices: [],
        otherList: null,
        freeUnits: null,
        dearerThanUsual: null,
        struck: null,
        notStruck: null,
        asks: [],
        refused: [],
        floorsNotApplied: [],
        shareOfReduction: null,
        netTotal: '2.05',
        profit: null,
        breakWords: null,
        buyMore: null,
        margin: null,
        steps: [step],
      },
    ],
    charges: [],
    reduction: null,
    linesTotal: '2.05',
    taxes: [],
    net: '2.05',
    toPay: '2.46',
    margin: null,
    profit: null,
    outcome: 'fine',
  },
} as unknown as PriceCheck;
const item = {
  id: '7',
  version: 1,
  sku: 'BL-12',
  name: 'Line',
  packs: [{ id: '9', name: 'metre', units: '1', deposit: null }],
};
const answers = {
  'GET /items-found': [item],
  'POST /items-named': [item],
  'GET /customers': [{ id: '3', version: 1, name: 'Yard' }],
  'GET /customer-groups': [{ id: '5', version: 1, name: 'boatyards', rank: 1 }],
  'GET /regions': [],
  'POST /price-check': found,
};

async function check(user: ReturnType<typeof userEvent.setup>): Promise<void> {
  await user.type(await screen.findByRole('combobox', { name: 'Group' }), 'boat');
  await user.keyboard('{Enter}');
  await user.type(screen.getByRole('combobox', { name: 'Item: code or name' }), 'bl-12');
  await user.keyboard('{Enter}');
  await screen.findByText('Which list');
}

describe('a price that was checked', () => {
  it('shows the list that wins, those that lost and those left out', async () => {
    const user = userEvent.setup();
    visit('/price-check', answers);
    await check(user);
    expect(screen.getByText('comes later').closest('tr')).toHaveTextContent('Counter');
    expect(screen.getByText('not meant for this region').closest('tr')).toHaveTextContent('North');
  });
  it('is kept as a proof: what was asked, what must come out, and the steps that were right', async () => {
    const user = userEvent.setup();
    const sent = visit('/price-check', { ...answers, 'POST /proofs': { id: '1', version: 1 } });
    await check(user);
    await user.click(screen.getByRole('button', { name: 'Keep as a proof' }));
    const price = screen.getByLabelText('Price that must come out, EUR per metre');
    await user.clear(price);
    expect(screen.getByRole('button', { name: 'Keep the proof' })).toBeDisabled();
    await user.type(price, '2.10');
    await user.click(screen.getByRole('button', { name: 'Keep the proof' }));
    const kept = () => sent.find((s) => s.path === '/proofs');
    await waitFor(() => expect(kept()).toBeDefined());
    const asked = {
      customer: null,
      country: null,
      channel: null,
      item: '7',
      pack: '9',
      quantity: '1',
      day: '2026-03-09',
    };
    expect(kept()!.body).toEqual({
      name: 'BL-12, metre',
      question: { kind: 'price', ...asked, groups: ['5'] },
      expect: { price: '2.10', reason: null, floor: null },
      good: [{ kind: 'list_price', after: '2.05' }],
    });
  });
  it('a proof that is refused says why, and stays as it was typed', async () => {
    const user = userEvent.setup();
    const refusal = new Refusal(422, {
      code: 'fields_wrong',
      message: 'Some fields need another look.',
      faults: [{ path: 'name', message: 'is too long' }],
    });
    visit('/price-check', { ...answers, 'POST /proofs': (_: Sent) => refusal });
    await check(user);
    await user.click(screen.getByRole('button', { name: 'Keep as a proof' }));
    await user.click(screen.getByRole('button', { name: 'Keep the proof' }));
    expect(await screen.findByText(/is too long/)).toBeInTheDocument();
    expect(screen.getByLabelText('Name')).toHaveValue('BL-12, metre');
  });
  it('cannot be kept by who may not change the rules', async () => {
    const user = userEvent.setup();
    visit('/price-check', answers, ['read']);
    await check(user);
    expect(screen.queryByRole('button', { name: 'Keep as a proof' })).toBeNull();
  });
});
