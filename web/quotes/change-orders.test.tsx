import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ChainDocument, ChainView, ChangePart } from '#contract/change-orders.ts';
import { type Sent, visit } from '../tests/visit.tsx';

const part = (id: string, name: string, was: string, now: string, difference: string): ChangePart => ({
  id,
  name,
  was,
  now,
  difference,
  notCredited: null,
});
const line = { item: '1', pack: '1', section: null, reductionKind: null, reductionValue: null, zeroConfirmed: false };
const first: ChainDocument = {
  number: 0,
  state: 'accepted',
  day: '2026-03-09',
  reason: '',
  by: '',
  terms: 'acceptance',
  lines: [
    {
      ...part('0', 'Braided line', '0.00', '176.00', '176.00'),
      sku: 'BL-10',
      packName: 'metre',
      quantityWas: null,
      quantityNow: '100',
    },
  ],
  goods: part('goods', 'goods', '0.00', '176.00', '176.00'),
  charges: [part('6', 'Delivery', '0.00', '17.60', '17.60')],
  tax: '38.72',
  toPay: '232.32',
  toPayInAll: '232.32',
  carried: null,
  alerts: [],
  figures: {
    currency: 'EUR',
    taxIn: false,
    decimals: 2,
    lines: [],
    charges: [],
    reduction: null,
    linesTotal: '',
    taxes: [],
    net: '',
    toPay: '',
    margin: null,
    profit: null,
    outcome: 'fine',
  },
  body: {
    reason: '',
    terms: 'acceptance',
    lines: [{ ...line, quantity: '100' }],
    goesOnFrom: [],
    charges: [{ charge: '6', sections: [], periods: null }],
    reductionStays: true,
    reduction: null,
  },
  keys: ['0'],
};
const change: ChainDocument = {
  ...first,
  number: 1,
  state: 'draft',
  reason: 'ten more',
  by: 'Cid',
  lines: [
    {
      ...first.lines[0]!,
      ...part('0', 'Braided line', '176.00', '193.60', '17.60'),
      quantityWas: '100',
      quantityNow: '110',
    },
  ],
  goods: part('goods', 'goods', '176.00', '193.60', '17.60'),
  charges: [{ ...part('6', 'Delivery', '17.60', '10.00', '0.00'), notCredited: '7.60' }],
  toPay: '21.12',
  alerts: [{ alert: 'needs_approval', part: 'the quote', text: 'needs the approval of a second person' }],
  body: { ...first.body, reason: 'ten more', lines: [{ ...line, quantity: '110' }], goesOnFrom: ['0'] },
};
const chain = (...documents: ChainDocument[]): ChainView => ({
  quote: '9',
  number: '2026-0009',
  customerName: 'Yard',
  version: 4,
  acceptedOn: '2026-03-09',
  acceptedNote: 'by letter',
  credits: false,
  currency: 'EUR',
  taxIn: false,
  estimate: '240',
  documents,
});
const item = {
  id: '1',
  version: 1,
  sku: 'BL-10',
  name: 'Braided line',
  packs: [{ id: '1', name: 'metre', units: '1', deposit: null }],
};
const answers = {
  'GET /items-found': [item],
  'POST /items-named': [item],
  'GET /charges': [{ id: '6', version: 1, name: 'Delivery', percent: '10', period: null }],
};

describe('a change to an accepted quote', () => {
  it('shows was, will be and the difference, what is not given back, and that a second person must say yes', async () => {
    visit('/quotes/9/changes', { ...answers, 'GET /quotes/9/changes': chain(first, change) });
    const table = await screen.findByRole('table');
    const row = within(table).getByText('Braided line').closest('tr')!;
    expect(row).toHaveTextContent('100 → 110 metre');
    expect(within(row).getByText('176.00')).toBeInTheDocument();
    expect(within(row).getByText(/\+17\.60/)).toBeInTheDocument();
    expect(screen.getByText(/7\.60 less, not given back/)).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent('the quote: needs the approval of a second person');
    expect(screen.getByText('the customer was told').nextSibling).toHaveTextContent('240.00');
    expect(screen.getByRole('button', { name: 'Approve and issue' })).toBeInTheDocument();
  });
  it('is written as the whole as it will be, line by line from what was, and kept as a draft', async () => {
    const user = userEvent.setup();
    const tried: Sent[] = [];
    const sent = visit('/quotes/9/changes', {
      ...answers,
      'GET /quotes/9/changes': chain(first),
      'POST /quotes/9/changes/figures': (s: Sent) => (tried.push(s), chain(first, change)),
      'PUT /quotes/9/changes/draft': chain(first, change),
    });
    await user.click(await screen.findByRole('button', { name: 'Write a change order' }));
    await user.clear(screen.getByRole('textbox', { name: 'Quantity, line 1' }));
    await user.type(screen.getByRole('textbox', { name: 'Quantity, line 1' }), '110');
    await user.type(screen.getByRole('combobox', { name: 'Add an item: code, name or barcode' }), 'bl-10');
    await user.keyboard('{Enter}');
    await screen.findByRole('textbox', { name: 'Quantity, line 2' });
    expect(screen.getByRole('button', { name: 'Keep the draft' })).toBeDisabled();
    await user.type(screen.getByLabelText('What the change is'), 'ten more');
    await user.click(screen.getByRole('button', { name: 'Keep the draft' }));
    await waitFor(() => expect(sent.some((s) => s.method === 'PUT')).toBe(true));
    expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
      version: 4,
      reason: 'ten more',
      lines: [{ quantity: '110' }, { quantity: '1' }],
      goesOnFrom: ['0', ''],
      charges: [{ charge: '6' }],
      reductionStays: true,
    });
    expect(tried.length).toBeGreaterThan(0);
  });
});
