// @vitest-environment jsdom
import '../tests/setup.ts';
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it, vi } from 'vitest';
import { visit } from '../tests/visit.tsx';

vi.mock('#contract/records/kinds.ts', async (original) => {
  const own = await original<typeof import('#contract/records/kinds.ts')>();
  const { PORTS } = await import('#contract/tests/ports.ts');
  return { ...own, KINDS: [...own.KINDS, PORTS] };
});

it('a kind of record that is declared has its table and its form', async () => {
  const user = userEvent.setup();
  const sent = visit('/setup/ports', {
    'GET /ports': [{ id: '4', version: 2, name: 'Moss', region: '7', draught: '9.5' }],
    'GET /regions': [{ id: '7', version: 1, name: 'North' }],
    'POST /ports': { id: '5', version: 1 },
  });
  const line = (await screen.findByText('Moss')).closest('tr')!;
  await waitFor(() => expect(line).toHaveTextContent('North'));
  expect(line).toHaveTextContent('9.5');
  await user.click(screen.getByRole('button', { name: 'New port' }));
  const dialog = await screen.findByRole('dialog', { name: 'New port' });
  await user.type(within(dialog).getByLabelText('Name'), 'Bodø');
  await user.type(within(dialog).getByRole('combobox', { name: 'In the region' }), 'nor{Enter}');
  await user.type(within(dialog).getByLabelText('Depth, m'), '11.2');
  await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]).toMatchObject({
    method: 'POST',
    path: '/ports',
    body: { name: 'Bodø', region: '7', draught: '11.2' },
  });
});
