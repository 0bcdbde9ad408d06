import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const answers = {
  'GET /customer-groups': [{ id: '5', version: 1, name: 'yards', shownAs: null, rank: 1 }],
  'GET /customers': [
    { id: '1', version: 1, name: 'Saltholm', groups: ['5'] },
    { id: '2', version: 1, name: 'Grebe', groups: ['6', '5'] },
    { id: '3', version: 1, name: 'Elsewhere', groups: ['6'] },
  ],
};

it('a group names its members, also those for whom it is a further group, and is copied under another name', async () => {
  const user = userEvent.setup();
  const sent = visit('/setup/customer-groups?open=5', {
    ...answers,
    'POST /customer-groups/5/copy': { id: '9', version: 1 },
  });
  expect(await screen.findByRole('link', { name: 'Grebe' })).toHaveAttribute('href', '/setup/customers?open=2');
  expect(screen.getByRole('link', { name: 'Saltholm' })).toBeInTheDocument();
  expect(screen.queryByText('Elsewhere')).toBeNull();
  const copy = screen.getByRole('button', { name: 'Copy the group' });
  expect(copy).toBeDisabled();
  await user.type(screen.getByLabelText(/^Copy it, with its reductions/), 'second yards');
  await user.click(copy);
  await waitFor(() =>
    expect(sent.at(-1)).toMatchObject({ path: '/customer-groups/5/copy', body: { name: 'second yards' } }),
  );
});

it('a name that is taken is told, and stays typed', async () => {
  const user = userEvent.setup();
  visit('/setup/customer-groups?open=5', {
    ...answers,
    'POST /customer-groups/5/copy': new Refusal(409, { code: 'taken', message: 'It exists already.' }),
  });
  await user.type(await screen.findByLabelText(/^Copy it, with its reductions/), 'yards');
  await user.click(screen.getByRole('button', { name: 'Copy the group' }));
  expect(await screen.findByText(/It exists already/)).toBeInTheDocument();
  expect(screen.getByLabelText(/^Copy it, with its reductions/)).toHaveValue('yards');
});
