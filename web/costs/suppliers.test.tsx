import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { Connection } from '#contract/connections.ts';
import type { CostSupplier } from '#contract/costs.ts';
import { visit } from '../tests/visit.tsx';

const supplier: CostSupplier = {
  id: '1',
  name: 'Rope works',
  currency: 'GBP',
  follow: false,
  posts: [],
  lastArrival: '2026-03-08T10:00:00Z',
  waiting: 1,
};
const answers = {
  'GET /cost-sheets': [],
  'GET /cost-suppliers': [supplier],
  'GET /connections': [],
};

describe('suppliers’ services', () => {
  const none: Connection = {
    supplier: '1',
    supplierName: 'Rope works',
    version: 0,
    state: null,
    address: null,
    account: null,
    brands: [],
    everyHours: 24,
    askedBy: null,
    askedNote: null,
    lastTry: null,
    lastAnswer: null,
    trouble: null,
    nextTry: null,
    lastSheet: null,
  };
  const offers = {
    supplier: 'Rope works',
    currency: 'GBP',
    brands: [
      { name: 'Kelwick', items: 2 },
      { name: 'Other', items: 1 },
    ],
    items: [{ code: 'R1', name: 'Line 10 mm', brand: 'Kelwick' }],
  };

  it('one is looked at, its brands are chosen, and it is connected', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs', {
      ...answers,
      'GET /bills': [],
      'GET /connections': [{ ...none, version: 1, state: 'asked', askedBy: 'Liv', askedNote: 'paint' }],
      'POST /connections/browse': offers,
      'PUT /connections/1': { ...none, version: 2, state: 'on' },
    });
    expect(await screen.findByText('asked for by Liv: paint')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Connection of Rope works' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect(dialog.getByRole('button', { name: 'See what it offers' })).toBeDisabled();
    await user.type(dialog.getByLabelText('Address of its service'), 'https://rope.example');
    await user.type(dialog.getByLabelText('Our account number there'), 'BR-1');
    await user.click(dialog.getByRole('button', { name: 'See what it offers' }));
    await user.click(await dialog.findByRole('checkbox', { name: /Kelwick/ }));
    await user.click(dialog.getByRole('button', { name: 'Connect' }));
    await waitFor(() =>
      expect(sent.at(-1)!.body).toEqual({
        version: 1,
        address: 'https://rope.example',
        account: 'BR-1',
        brands: ['Kelwick'],
        everyHours: 24,
        state: 'on',
      }),
    );
  });

  it('one that does not do well says why and when it is asked again', async () => {
    const trouble = 'It cannot be reached.';
    const on = { ...none, version: 2, state: 'on' as const, trouble, nextTry: '2026-03-09T10:05:00Z' };
    visit('/costs', { ...answers, 'GET /bills': [], 'GET /connections': [on] });
    expect(await screen.findByText(/It cannot be reached\. Asked again 09\/03\/2026/)).toBeInTheDocument();
    expect(screen.getByText('has not answered yet · all brands, every day')).toBeInTheDocument();
  });
});

describe('prices that post themselves', () => {
  const lists = [
    { id: '4', version: 1, name: 'Counter', recipe: '7', active: true },
    { id: '5', version: 1, name: 'Yards', recipe: '7', active: true },
    { id: '6', version: 1, name: 'Typed', recipe: null, active: true },
  ];
  const posts = [{ list: '4', name: 'Counter', most: '2.5' }];

  it('are chosen list by list, among those that have a recipe, each with how far a price may move', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs', {
      ...answers,
      'GET /bills': [],
      'GET /lists': lists,
      'GET /cost-suppliers': [{ ...supplier, posts }],
      'PUT /cost-suppliers/1/self-posting': [supplier],
    });
    expect(await screen.findByText('up to 2.5 %')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Prices after costs of Rope works' }));
    const dialog = within(await screen.findByRole('dialog'));
    expect(dialog.queryByRole('checkbox', { name: 'Typed' })).not.toBeInTheDocument();
    await user.click(await dialog.findByRole('checkbox', { name: 'Counter' }));
    await user.click(dialog.getByRole('checkbox', { name: 'Yards' }));
    const most = dialog.getByRole('textbox', { name: 'Yards: moves by at most, per cent' });
    await user.clear(most);
    await user.type(most, '4');
    await user.click(dialog.getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent.at(-1)!.body).toEqual({ lists: [{ list: '5', most: '4' }] }));
  });
});
