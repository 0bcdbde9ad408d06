import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import type { ComparedDays } from '#contract/compare-days.ts';
import { type Sent, visit } from '../tests/visit.tsx';

const answer = (s: Sent): ComparedDays => {
  const query = new URLSearchParams(s.path.split('?')[1]);
  asked.push(Object.fromEntries(query));
  const at = Number(query.get('at'));
  return {
    list: { id: '4', name: 'Counter', currency: 'EUR', taxIn: true, decimals: 2 },
    from: query.get('from')!,
    to: query.get('to')!,
    counts: { up: 1, down: 0, new: 149, gone: 0, same: 7 },
    count: query.get('shows') === 'up' ? 1 : 150,
    rows: Array.from({ length: query.get('shows') === 'up' ? 1 : at === 0 ? 100 : 50 }, (_, i) => ({
      item: String(at + i),
      pack: '1',
      sku: `BL-${at + i}`,
      name: 'Line',
      packName: 'metre',
      kind: 'up' as const,
      before: { price: '2.10', source: 'posted' as const },
      after: { price: '2.20', source: 'entry' as const },
      changePercent: '4.76',
    })),
  };
};
const asked: Record<string, string>[] = [];

it('two days of a list: a page of what differs, each price leading to how it came about on its day', async () => {
  const user = userEvent.setup();
  visit('/lists/4/days?from=2026-02-01', { 'GET /lists/4/days': answer });
  await screen.findByText('Counter, two days');
  expect(asked.at(-1)).toMatchObject({ from: '2026-02-01', to: '2026-03-09', shows: 'all', at: '0' });
  expect(screen.getAllByRole('row')).toHaveLength(101);
  expect(screen.getAllByRole('link', { name: '2.10' })[0]).toHaveAttribute('href', '/lists/4?day=2026-02-01&at=0-1');
  expect(screen.getByRole('button', { name: '0 down' })).toBeDisabled();
  await user.click(screen.getByRole('button', { name: 'On' }));
  expect(await screen.findByText('101 to 150 of 150', { exact: false })).toBeInTheDocument();
  // another choice begins with its first page
  await user.click(screen.getByRole('button', { name: '1 up' }));
  await waitFor(() => expect(asked.at(-1)).toMatchObject({ shows: 'up', at: '0' }));
  await waitFor(() => expect(screen.getAllByRole('row')).toHaveLength(2));
});
