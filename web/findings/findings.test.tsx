import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import type { Findings, ShownFinding } from '#contract/findings.ts';
import { choose } from '../tests/choose.ts';
import { visit } from '../tests/visit.tsx';

const finding = (code: ShownFinding['code'], title: string, list: string): ShownFinding => ({
  code,
  message: `what ${code} means`,
  places: [{ title, to: `/setup/regions?open=${title}` }],
  lists: [list],
  items: 12,
  customers: null,
  example: [
    { fact: 'item', value: '10012' },
    { fact: 'buyMore', value: '1204.5' },
    { fact: 'day', value: '2026-03-09' },
  ],
});
const found: Findings = {
  at: '2026-03-09T10:00:00Z',
  day: '2026-03-09',
  stale: false,
  running: false,
  trouble: null,
  findings: [finding('country_in_two_regions', '7', 'Counter'), finding('entries_tie', '8', 'Yards')],
};

it('each finding leads to its places; kind and list narrow them; figures and days are in the reader’s form', async () => {
  const user = userEvent.setup();
  visit('/findings', { 'GET /findings/proofs': [], 'GET /findings': found });
  expect(await screen.findByRole('link', { name: '7' })).toHaveAttribute('href', '/setup/regions?open=7');
  const row = screen.getByText('what country_in_two_regions means', { selector: 'td' }).closest('tr')!;
  // a code that is made of digits stays a code
  expect(row).toHaveTextContent('item 10012buy more 1,204.5day 09/03/2026');
  const page = within(screen.getByRole('main'));
  await choose(user, page.getByLabelText('List'), 'Yards');
  await waitFor(() => expect(screen.queryByRole('link', { name: '7' })).toBeNull());
  expect(page.getByRole('status')).toHaveTextContent('1 finding');
  await choose(user, page.getByLabelText('Kind'), 'country_in_two_regions');
  expect(page.getByRole('status')).toHaveTextContent('0 findings');
});

it('while a check is under way the last one stays readable, and says so', async () => {
  visit('/findings', { 'GET /findings/proofs': [], 'GET /findings': { ...found, stale: true, running: true } });
  expect(await screen.findByText(/checking again/)).toBeInTheDocument();
  expect(screen.getByRole('link', { name: '8' })).toBeInTheDocument();
});

it('a proof that no longer comes out says what must, what does, and at which step it first differs', async () => {
  const proof = {
    id: '3',
    name: 'Line for the yards',
    day: '2026-03-09',
    expected: '1204.5',
    actual: '1200',
    holds: false,
  };
  visit('/findings', {
    'GET /findings': { ...found, findings: [] },
    'GET /findings/proofs': [
      { ...proof, firstDifference: { step: 2, expected: 'entry 1204.5', actual: 'entry 1200' } },
      { ...proof, id: '4', name: 'Another', holds: true, actual: '1204.5', firstDifference: null },
    ],
  });
  const region = await screen.findByRole('region', { name: 'Proofs' });
  expect(region).toHaveTextContent('1 proof no longer comes out; 1 proof holds.');
  const row = within(region).getByText('Line for the yards').closest('tr')!;
  expect(row).toHaveTextContent('1,204.5');
  expect(row).toHaveTextContent('step 2: entry 1200 instead of entry 1204.5');
  expect(within(region).queryByText('Another')).toBeNull();
});
