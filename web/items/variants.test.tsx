import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, it } from 'vitest';
import { visit } from '../tests/visit.tsx';

const item = {
  ...{ id: '7', version: 1, sku: 'BL-08', name: 'Line 8 mm, white', unit: 'metre', model: 'BL', lists: [], packs: [] },
  attributes: [{ name: 'diameter', value: '8' }],
};
const attributes = [
  { id: '2', version: 1, name: 'colour', kind: 'choice', unit: null, values: ['navy', 'red'] },
  { id: '1', version: 1, name: 'diameter', kind: 'number', unit: 'mm', values: [] },
];

it('variants are every combination of the values chosen, looked at before any is made', async () => {
  const user = userEvent.setup();
  const counts = { new: 3, changed: 0, same: 0, faulty: 1 };
  const told = { fileName: 'v', state: '1.1.0', decimal: '.', unknown: [], counts, byColumn: [], rows: [] };
  const sent = visit('/items/7/variants', {
    'GET /items/7/page': item,
    'GET /attributes': attributes,
    'POST /item-file/check': {
      ...told,
      faults: [{ row: 3, column: 'SKU', value: 'BL-10-RE', message: 'is there already' }],
    },
    'POST /item-files': { id: '1', new: 3, changed: 0 },
  });
  await user.type(await screen.findByLabelText(/^diameter, mm/), '10; 12');
  await user.click(screen.getByRole('checkbox', { name: 'navy' }));
  await user.click(screen.getByRole('checkbox', { name: 'red' }));
  const sku = screen.getByLabelText(/^SKU of each/);
  await user.clear(sku);
  await user.type(sku, 'BL-{{diameter:02}-{{colour:2}');
  expect(await screen.findByText('3 new items, 1 not made.')).toBeInTheDocument();
  expect(screen.getByText('BL-12-NA').closest('tr')).toHaveTextContent(
    'BL-12-NALine 12 mm, whitenavy12is there already',
  );
  await user.click(screen.getByRole('button', { name: 'Make 3 items' }));
  expect(sent.at(-1)).toMatchObject({
    method: 'POST',
    path: '/item-files?file=variants.csv&decimal=point&state=1.1.0',
  });
});
