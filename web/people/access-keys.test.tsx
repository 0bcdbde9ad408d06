import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { visit } from '../tests/visit.tsx';

const made = {
  id: '4',
  name: 'nightly',
  rights: ['read'],
  lastDay: '2026-06-30',
  madeAt: '2026-03-09T09:00:00Z',
  lastUsed: null,
};

it('a key is shown once, right after it is made, and only with the rights that were chosen', async () => {
  const user = userEvent.setup();
  const keys: object[] = [];
  const sent = visit(
    '/account',
    {
      'GET /me/sessions': [],
      'GET /me/keys': () => keys,
      'POST /me/keys': () => (keys.push(made), { ...made, key: 'hl_the-only-time' }),
      'DELETE /me/keys/4': () => (keys.pop(), { removed: true }),
    },
    ['read', 'see_cost'],
  );
  await user.type(await screen.findByLabelText('What it is for'), 'nightly');
  await user.type(screen.getByLabelText(/^Last day/), '30/06/2026');
  expect(screen.queryByLabelText('manage people')).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Make a key' }));
  expect(await screen.findByText('hl_the-only-time')).toBeInTheDocument();
  expect(sent.at(-1)?.body).toEqual({ name: 'nightly', rights: ['read'], lastDay: '2026-06-30' });
  await user.click(screen.getByRole('button', { name: 'I have it' }));
  expect(screen.queryByText('hl_the-only-time')).toBeNull();
  await user.click(await screen.findByRole('button', { name: 'End it' }));
  await waitFor(() => expect(screen.getByText('No key yet.')).toBeInTheDocument());
});
