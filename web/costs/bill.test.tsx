import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const item = {
  id: '7',
  version: 1,
  sku: 'BL-12',
  name: 'Line',
  packs: [
    { id: '1', name: 'metre', units: '1', deposit: null, barcode: null },
    { id: '2', name: 'drum', units: '220', deposit: null, barcode: '4006381333931' },
  ],
};
const line = { item: '7', kind: 'goods', quantity: '2', packUnits: '220', price: '220.00' };
const body = { supplier: '3', number: 'A-1', day: '2026-03-09', currency: 'GBP', note: null, lines: [line] };
const bill = {
  id: '5',
  version: 2,
  ...body,
  body,
  supplierName: 'Rope works',
  state: 'draft',
  total: '440.00',
  writtenBy: 'Ada',
  finalBy: null,
  changes: [
    {
      row: 1,
      code: 'BL-12',
      item: '7',
      sku: 'BL-12',
      name: 'Line',
      kind: 'up',
      before: { amount: '22.00', currency: 'GBP', packUnits: '220', from: '2026-01-01' },
      after: { amount: '220.00', currency: 'GBP', packUnits: '220', from: '2026-03-09' },
      changePercent: '900.00',
      flags: ['decimal_shift'],
    },
  ],
};
const answers = {
  'GET /items-found': [item],
  'POST /items-named': [item],
  'GET /suppliers': [{ id: '3', version: 1, name: 'Rope works', currency: 'GBP' }],
  'GET /bills/5': bill,
};

describe('a bill', () => {
  it('is written by scanning: the pack that is scanned says how many units a price is for', async () => {
    const user = userEvent.setup();
    const sent = visit('/bills/new', { ...answers, 'POST /bills': { ...bill, id: '5' } });
    await user.type(await screen.findByRole('combobox', { name: 'Supplier' }), 'rope{Enter}');
    // the supplier's currency is that of the bill
    await waitFor(() => expect(screen.getByLabelText('Currency')).toHaveValue('GBP'));
    await user.type(screen.getByLabelText('Its number'), 'A-1');
    await user.type(screen.getByRole('combobox', { name: /^Add a line/ }), '4006381333931{Enter}');
    const quantity = await screen.findByRole('textbox', { name: 'Cost packs, line 1' });
    await waitFor(() => expect(quantity).toHaveFocus());
    await user.clear(quantity);
    await user.type(quantity, '2');
    expect(screen.getByRole('textbox', { name: 'Units in one, line 1' })).toHaveValue('220');
    expect(screen.getByRole('button', { name: 'Keep the draft' })).toBeDisabled();
    await user.type(screen.getByRole('textbox', { name: 'Price of one, line 1' }), '220.00');
    expect(screen.getAllByText('440.00').length).toBeGreaterThan(0);
    await user.click(screen.getByRole('button', { name: 'Keep the draft' }));
    await waitFor(() => expect(sent[0]?.body).toMatchObject({ ...body, lines: [line] }));
  });

  it('shows what each line changes; odd costs are looked at before they count', async () => {
    const user = userEvent.setup();
    const finals: Sent[] = [];
    const odd = new Refusal(409, { code: 'bill_looks_odd', message: '1 of its costs look odd, BL-12 first.' });
    visit('/bills/5', {
      ...answers,
      'POST /bills/5/final': (s: Sent) => {
        finals.push(s);
        return (s.body as { looked: boolean }).looked ? { ...bill, state: 'final', version: 3 } : odd;
      },
    });
    const row = await screen.findByRole('row', { name: 'Line 1' });
    expect(row).toHaveTextContent('22.00 GBP');
    expect(within(row).getByText(/decimal mark shifted/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Make final' }));
    await user.click(await screen.findByRole('checkbox', { name: /I have looked at them/ }));
    await user.click(screen.getByRole('button', { name: 'Make final' }));
    await waitFor(() => expect(finals.map((s) => (s.body as { looked: boolean }).looked)).toEqual([false, true]));
    expect(await screen.findByText(/is final: its costs count/)).toBeInTheDocument();
  });

  it('that is final is read, not typed, and can be taken back', async () => {
    visit('/bills/5', { ...answers, 'GET /bills/5': { ...bill, state: 'final', finalBy: 'Ada' } });
    expect(await screen.findByRole('button', { name: 'Take it back' })).toBeInTheDocument();
    expect(screen.queryByRole('textbox', { name: /line 1/ })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Make final' })).toBeNull();
  });
});
