import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { NOTHING_FOUND } from '../tests/found.ts';
import { type Answers, visit } from '../tests/visit.tsx';

const customers = [
  { id: '1', version: 1, name: 'Vik Slipway', groups: [], active: true },
  { id: '2', version: 1, name: 'Saltholm Boatyard', groups: [], active: true },
];
const answers: Answers = {
  'GET /reductions': [],
  'GET /customers': customers,
  'POST /findings/of-change': NOTHING_FOUND,
};
const open = async () => {
  const user = userEvent.setup();
  await user.click((await screen.findAllByRole('button', { name: 'New reduction' }))[0]!);
  const dialog = await screen.findByRole('dialog');
  return { user, dialog, field: within(dialog).getByRole('combobox', { name: 'For the customer' }) };
};

describe('a field that finds a record', () => {
  it('shows the first when it is clicked, and asks the server for what is typed', async () => {
    visit('/setup/reductions', answers);
    const { user, dialog, field } = await open();
    await user.click(field);
    const offered = async () =>
      within(await screen.findByRole('listbox', { name: 'For the customer' }))
        .getAllByRole('option')
        .map((o) => o.textContent.trim());
    expect(await offered()).toEqual(['Vik Slipway', 'Saltholm Boatyard']);
    await user.type(field, 'salt');
    await waitFor(async () => expect(await offered()).toEqual(['Saltholm Boatyard', 'New customer “salt” …']));
    await user.keyboard('{Enter}');
    expect(await within(dialog).findByText('Saltholm Boatyard')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Take away Saltholm Boatyard, For the customer' }));
    expect(within(dialog).getByRole('combobox', { name: 'For the customer' })).toHaveFocus();
  });

  it('makes one that is not there, in its own form, and takes it', async () => {
    let all = customers;
    const sent = visit('/setup/reductions', {
      ...answers,
      'GET /customers': () => all,
      'POST /records-named': () => [
        { register: 'customers', records: all.map(({ id, name }) => ({ id, name, detail: null })) },
      ],
      'GET /records-found': [],
      'POST /customers': () => {
        all = [...customers, { id: '9', version: 1, name: 'Ny Marina', groups: [], active: true }];
        return { id: '9', version: 1 };
      },
    });
    const { user, dialog, field } = await open();
    await user.type(field, 'Ny Marina');
    await user.click(await screen.findByRole('option', { name: /^New customer “Ny Marina”/ }));
    const form = await screen.findByRole('dialog', { name: 'New customer' });
    expect(within(form).getByLabelText('Name')).toHaveValue('Ny Marina');
    await user.click(within(form).getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent.map((s) => s.path)).toEqual(['/customers']));
    // the form it was needed in stands as it was, with the new one chosen
    expect(await within(dialog).findByText('Ny Marina')).toBeInTheDocument();
    expect(within(dialog).getByRole('button', { name: 'Take away Ny Marina, For the customer' })).toBeInTheDocument();
  });

  it('offers nothing new to whoever may not make it', async () => {
    const user = userEvent.setup();
    const more = { 'GET /regions': [], 'GET /charges': [] };
    visit('/quotes/new', { ...answers, ...more }, ['read', 'write_quotes']);
    await user.type(await screen.findByRole('combobox', { name: 'Customer' }), 'salt');
    const offered = () =>
      within(screen.getByRole('listbox', { name: 'Customer' }))
        .getAllByRole('option')
        .map((o) => o.textContent.trim());
    await waitFor(() => expect(offered()).toEqual(['Saltholm Boatyard']));
  });
});
