import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const session = (id: string, current: boolean) => ({
  id,
  current,
  signedInAt: '2026-03-09T08:00:00Z',
  lastSeen: '2026-03-09T09:00:00Z',
  address: current ? '192.0.2.7' : '198.51.100.4',
  browser: 'Some browser',
});
const answers = { 'GET /me/keys': [], 'GET /me/sessions': [session('a', true), session('b', false)] };

it('a password that is refused says why beside its field, and stays typed', async () => {
  const user = userEvent.setup();
  const sent = visit('/account', {
    ...answers,
    'PUT /me/password': new Refusal(422, {
      code: 'fields_wrong',
      message: 'Some fields need another look.',
      faults: [{ path: 'password', message: 'would be guessed soon' }],
    }),
  });
  await user.type(await screen.findByLabelText('Present password'), 'present one');
  await user.type(screen.getByLabelText(/^New passwordAt least/), 'password1234');
  const button = screen.getByRole('button', { name: 'Change the password' });
  expect(button).toBeDisabled();
  await user.type(screen.getByLabelText('New password once more'), 'password12345');
  expect(screen.getByRole('alert')).toHaveTextContent('is not the same as above');
  await user.type(screen.getByLabelText(/^New password once more/), '{Backspace}');
  await user.click(button);
  expect(await screen.findByText('would be guessed soon')).toBeInTheDocument();
  expect(screen.getByLabelText('Present password')).toHaveValue('present one');
  expect(sent.at(-1)?.body).toEqual({ current: 'present one', password: 'password1234' });
});

it('another session is ended from here, this one is not offered', async () => {
  const user = userEvent.setup();
  const sent = visit('/account', { ...answers, 'DELETE /me/sessions/b': { ended: 1 } });
  await screen.findByText('198.51.100.4');
  expect(screen.getByText('this one')).toBeInTheDocument();
  await user.click(screen.getByRole('button', { name: 'End it' }));
  await waitFor(() => expect(sent.some((s) => s.method === 'DELETE' && s.path === '/me/sessions/b')).toBe(true));
});
