import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import type { ShownFinding } from '#contract/findings.ts';
import { choose } from '../tests/choose.ts';
import { foundThings } from '../tests/found.ts';
import { type Sent, visit } from '../tests/visit.tsx';

const finding = (code: ShownFinding['code'], title: string, list: string): ShownFinding => ({
  code,
  message: `what ${code} means`,
  places: [{ title, to: `/setup/regions?open=${title}` }],
  morePlaces: 0,
  lists: [list],
  items: 12,
  customers: null,
  example: [
    { fact: 'item', value: '10012' },
    { fact: 'buyMore', value: '1204.5' },
    { fact: 'day', value: '2026-03-09' },
  ],
});
const found = [finding('country_in_two_regions', '7', 'Counter'), finding('entries_tie', '8', 'Yards')];

it('each finding leads to its places; kind and list narrow them; figures and days are in the reader’s form', async () => {
  const user = userEvent.setup();
  visit('/findings', { 'GET /findings/proofs': [], 'GET /findings': foundThings(found) });
  expect(await screen.findByRole('link', { name: '7' })).toHaveAttribute('href', '/setup/regions?open=7');
  const row = screen.getByText('what country_in_two_regions means', { selector: 'td' }).closest('tr')!;
  // a code that is made of digits stays a code
  expect(row).toHaveTextContent('item 10012buy more 1,204.5day 09/03/2026');
  const page = within(screen.getByRole('main'));
  await choose(user, page.getByLabelText('List'), 'Yards');
  await waitFor(() => expect(screen.queryByRole('link', { name: '7' })).toBeNull());
  expect(page.getByRole('status')).toHaveTextContent('1 finding');
  await choose(user, page.getByLabelText('Kind'), 'country_in_two_regions');
  await waitFor(() => expect(page.getByRole('status')).toHaveTextContent('0 findings'));
  expect(page.getByText('None of them fits what is asked for.')).toBeInTheDocument();
});

it('tens of thousands of findings come a page at a time; words lead to those of one item', async () => {
  const user = userEvent.setup();
  const asked: string[] = [];
  const many = Array.from({ length: 15_000 }, (_, n) => finding('value_not_declared', `BL-${n + 1}`, 'Counter'));
  const answer = foundThings([{ ...many[0]!, morePlaces: 1_204 }, ...many.slice(1)]);
  const listen = (sent: Sent) => (asked.push(sent.path), answer(sent));
  visit('/findings', { 'GET /findings/proofs': [], 'GET /findings': listen });
  expect(await screen.findByText('1 to 100 of 15,000', { exact: false })).toBeInTheDocument();
  expect(screen.getByText('and 1,204 more')).toBeInTheDocument();
  expect(screen.getAllByRole('row')).toHaveLength(101);
  await user.click(screen.getByRole('button', { name: 'On' }));
  expect(await screen.findByText('101 to 200 of 15,000', { exact: false })).toBeInTheDocument();
  expect(screen.getByRole('link', { name: 'BL-101' })).toBeInTheDocument();
  // other words begin with their first page
  await user.type(screen.getByRole('searchbox', { name: 'Only those with' }), 'BL-14999');
  await waitFor(() => expect(screen.getAllByRole('row')).toHaveLength(2));
  const last = new URLSearchParams(asked.at(-1)!.split('?')[1]);
  expect([last.get('find'), last.get('at')]).toEqual(['BL-14999', '0']);
});

it('what is found about one record alone says so, and leads back to all of it', async () => {
  const user = userEvent.setup();
  visit('/findings?about=%2Fsetup%2Fregions%3Fopen%3D8', {
    'GET /findings/proofs': [],
    'GET /findings': foundThings(found),
  });
  const page = within(await screen.findByRole('main'));
  expect(await page.findByText('1 finding about one record')).toBeInTheDocument();
  await user.click(page.getByRole('button', { name: 'About all records' }));
  expect(await page.findByText('2 findings')).toBeInTheDocument();
});

it('while a check is under way the last one stays readable, and says so', async () => {
  visit('/findings', {
    'GET /findings/proofs': [],
    'GET /findings': foundThings(found, { stale: true, running: true }),
  });
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
    'GET /findings': foundThings([]),
    'GET /findings/proofs': [
      { ...proof, firstDifference: { step: 2, expected: 'entry 1204.5', actual: 'entry 1200' } },
      { ...proof, id: '4', name: 'Another', holds: true, actual: '1204.5', firstDifference: null },
    ],
  });
  const region = await screen.findByRole('region', { name: 'Proofs' });
  expect(region).toHaveTextContent('1 proof no longer comes out; 1 proof holds.');
  const row = within(region).getByText('Line for the yards').closest('tr')!;
  expect(row).toHaveTextContent('1,204.5');
  expect(row).toHaveTextContent('step 2: entry 1,200 instead of entry 1,204.5');
  expect(within(region).queryByText('Another')).toBeNull();
});
