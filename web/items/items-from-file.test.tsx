import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { Refusal, visit } from '../tests/visit.tsx';

const found = {
  fileName: 'items.csv',
  state: '4.7.0',
  decimal: ',',
  unknown: ['Shelf'],
  counts: { new: 1, changed: 1, same: 300, faulty: 1 },
  byColumn: [{ column: 'Weight, kg', items: 2 }],
  faults: [{ row: 9, column: 'Tax class', value: 'luxury', message: 'is no tax class: standard' }],
  rows: [
    {
      row: 2,
      sku: 'BL-10',
      name: 'Braided line',
      item: '1',
      changes: [{ column: 'Weight, kg', before: '0.064', after: '0.071' }],
    },
    { row: 3, sku: 'BL-99', name: 'Neon', item: null, changes: [{ column: 'Name', before: '', after: 'Neon' }] },
  ],
};

it('a file of items shows what it would change and what is wrong with it, and is taken as it was seen', async () => {
  const user = userEvent.setup();
  const sent = visit('/items/file', {
    'POST /item-file/check': found,
    'POST /item-files': new Refusal(409, { code: 'item_file_state', message: 'Look again.' }),
    'GET /item-files': [],
  });
  await user.upload(await screen.findByLabelText(/A file of items/), new File(['SKU'], 'items.csv'));
  expect(await screen.findByText(/1 row cannot be taken/)).toBeInTheDocument();
  expect(screen.getByText(/“Shelf”/)).toBeInTheDocument();
  const faults = within(screen.getByRole('region', { name: 'Cannot be taken' }));
  expect(faults.getByText('luxury').closest('tr')).toHaveTextContent('9Tax classluxury');
  const differs = within(screen.getByRole('region', { name: 'What differs' }));
  expect(differs.getByText('0.064').closest('tr')).toHaveTextContent('0.0640.071');
  await user.click(screen.getByRole('button', { name: 'Take in the 2 that are right' }));
  // the books moved on meanwhile: what it would change now is asked for again
  await user.click(await screen.findByRole('button', { name: 'look again' }));
  expect(sent.filter((s) => s.method === 'POST').map((s) => s.path)).toEqual([
    '/item-file/check?file=items.csv',
    '/item-files?file=items.csv&decimal=comma&state=4.7.0',
    '/item-file/check?file=items.csv',
  ]);
});
