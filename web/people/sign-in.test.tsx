import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const nobody = {
  person: null,
  token: 't',
  workspace: { name: 'Test shop', currency: 'EUR', today: '2026-03-09', timeZone: 'UTC' },
};

it('a wrong password says so and keeps the name that was typed', async () => {
  const user = userEvent.setup();
  visit('/today', {
    'GET /session': nobody,
    'POST /session': new Refusal(401, { message: 'The sign-in name or the password is wrong.' }),
  });
  await user.type(await screen.findByLabelText('Sign-in name'), 'marit');
  await user.type(screen.getByLabelText('Password'), 'nonsense');
  await user.click(screen.getByRole('button', { name: 'Sign in' }));
  expect(await screen.findByRole('alert')).toHaveTextContent('The sign-in name or the password is wrong.');
  expect(screen.getByLabelText('Sign-in name')).toHaveValue('marit');
});

it('a server that cannot be reached is told as such', async () => {
  visit('/today', {
    'GET /session': () => {
      throw new Error('connection refused');
    },
  });
  expect(await screen.findByText(/cannot be reached/)).toBeInTheDocument();
});

it('a reader sees the places that are theirs, and no others', async () => {
  visit('/today', { 'GET /today': { lines: [], at: null, stale: false } }, ['read']);
  await screen.findByText(/Nothing waits/);
  const places = screen.getAllByRole('link').map((l) => l.textContent);
  expect(places).toEqual(expect.arrayContaining(['Today', 'Items', 'Price lists', 'Quotes', 'Ledger']));
  for (const hidden of ['Costs', 'Recipes', 'Ladders', 'Setup']) expect(places).not.toContain(hidden);
});
