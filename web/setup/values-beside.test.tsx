import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { choose } from '../tests/choose.ts';
import { foundThings } from '../tests/found.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const colour = { id: '4', version: 1, name: 'colour', kind: 'choice', unit: null, values: ['navy', 'red'] };
const value = (text: string, sku: string) => ({ value: text, items: 1, sku });
const answers = {
  'GET /attributes': [colour],
  'GET /brands': [{ id: '8', version: 1, name: 'Kelwick' }],
  'GET /item-values': ({ path }: Sent) =>
    path.includes('of=brand')
      ? [value('Kelwick', 'BL-1'), value('KELWICK', 'BL-2'), value('Tamsin', 'BL-3')]
      : [value('navy', 'BL-1'), value('Navy', 'BL-2'), value('red', 'BL-3')],
  'GET /findings': foundThings([]),
};

describe('what items say, beside what is declared', () => {
  it('one value written in two ways is written in the one that was declared', async () => {
    const user = userEvent.setup();
    const sent = visit('/setup/attributes?open=4', { ...answers, 'POST /items/merge-values': { items: 1 } });
    expect(await screen.findByText(/Written in 2 ways/)).toHaveTextContent('“navy” (1 item), “Navy” (1 item)');
    await user.click(screen.getByRole('button', { name: 'Write all as “navy”' }));
    expect(await screen.findByText('1 item now says “navy”.')).toBeInTheDocument();
    expect(sent.find((s) => s.path === '/items/merge-values')?.body).toEqual({
      of: 'colour',
      from: ['Navy'],
      to: 'navy',
    });
  });
  it('a rule that stands in the way is named', async () => {
    const user = userEvent.setup();
    const refusal = new Refusal(409, { code: 'in_use', message: '“KELWICK” is used by floor “Rope”.' });
    visit('/setup/brands?open=8', { ...answers, 'POST /items/merge-values': () => refusal });
    await user.click(await screen.findByRole('button', { name: 'Write all as “Kelwick”' }));
    expect(await screen.findByText(/floor “Rope”/)).toBeInTheDocument();
  });
});

describe('an item’s attributes', () => {
  it('are chosen from those that are declared, and a number shows its unit', async () => {
    const user = userEvent.setup();
    const length = { id: '5', version: 1, name: 'length', kind: 'number', unit: 'm', values: [] };
    const sent = visit('/setup/reductions?new', {
      ...answers,
      'GET /attributes': [colour, length],
      'GET /reductions': [],
      'POST /reductions': { id: '1', version: 1 },
    });
    await user.click((await screen.findAllByRole('button', { name: /reduction/i }))[0]!);
    await choose(user, await screen.findByLabelText(/^Tie to/), 'attributes');
    await user.click(screen.getByRole('button', { name: 'add an attribute' }));
    await choose(user, screen.getByLabelText(/^Name 1/), 'length');
    expect(screen.getByText('m')).toBeInTheDocument();
    await choose(user, screen.getByLabelText(/^Name 1/), 'colour');
    await choose(user, screen.getByLabelText(/^Value 1/), 'red');
    await user.type(screen.getByLabelText('Name'), 'Red ones');
    await user.type(screen.getByLabelText('Value'), '5');
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    expect(sent.find((s) => s.path === '/reductions')?.body).toMatchObject({
      scope: { attributes: { colour: 'red' } },
    });
  });
});
