import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { LadderBody } from '#contract/recipes.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const ladder: LadderBody & { id: string; version: number } = {
  id: '2',
  version: 5,
  name: 'Counter endings',
  currency: 'EUR',
  rungs: [
    { from: '0', to: '10', step: '1', endings: ['0.95'], direction: 'nearest', downUntil: null, upFrom: null },
    { from: '10', to: null, step: '1', endings: ['0.49', '0.99'], direction: 'up', downUntil: null, upFrom: null },
  ],
};
const answers = {
  'GET /ladders': [ladder],
  'PUT /ladders/2': (s: Sent) => ({ ...ladder, ...(s.body as object), version: 6 }),
};
const field = (name: string) => screen.findByRole('textbox', { name });

async function type(user: ReturnType<typeof userEvent.setup>, name: string, text: string): Promise<void> {
  const input = await field(name);
  await user.clear(input);
  if (text !== '') await user.type(input, text);
}

/** What the bench says of every price: before, after, move, rung. */
async function tried(user: ReturnType<typeof userEvent.setup>, prices: string): Promise<string[][]> {
  await type(user, 'Prices before rounding, parted by a semicolon', prices);
  const bench = screen.getByRole('columnheader', { name: 'before' }).closest('table')!;
  return within(bench)
    .getAllByRole('row')
    .slice(1)
    .map((r) =>
      within(r)
        .getAllByRole('cell')
        .map((c) => c.textContent ?? ''),
    );
}

describe('the bench of a ladder', () => {
  it('shows what every price becomes, by how much it moves and which rung did it', async () => {
    const user = userEvent.setup();
    visit('/ladders/2', answers);
    expect(await tried(user, '7.30; 12.24')).toEqual([
      ['7.30', '6.95', '−0.35', '0 to 10'],
      ['12.24', '12.49', '+0.25', '10 to any'],
    ]);
  });

  it('follows what is typed, before it is kept', async () => {
    const user = userEvent.setup();
    visit('/ladders/2', answers);
    await type(user, 'Endings, rung 1', '0.50');
    expect((await tried(user, '7.30'))[0]).toEqual(['7.30', '7.50', '+0.20', '0 to 10']);
  });

  it('marks a result that lands in another rung', async () => {
    const user = userEvent.setup();
    visit('/ladders/2', answers);
    await type(user, 'Endings, rung 1', '0');
    expect((await tried(user, '9.80'))[0]![3]).toContain('lands in another rung');
  });

  it('says which rung keeps it from being tried', async () => {
    const user = userEvent.setup();
    visit('/ladders/2', answers);
    await type(user, 'From, rung 2', '9');
    expect(screen.getByText('The ladder cannot be tried yet: rung 2, from.')).toBeInTheDocument();
  });
});

describe('keeping a ladder', () => {
  it('sends every rung as exact text, several endings parted by a semicolon, the last band open', async () => {
    const user = userEvent.setup();
    const sent = visit('/ladders/2', answers);
    await type(user, 'Endings, rung 2', '0.29; 0.59; 0.99');
    await choose(user, screen.getByRole('combobox', { name: 'Direction, rung 1' }), 'cuts');
    await type(user, 'Down before, rung 1', '0.40');
    await type(user, 'Up from, rung 1', '0.60');
    await user.click(screen.getByRole('button', { name: 'Keep the ladder' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({
      version: 5,
      rungs: [
        { direction: 'cuts', downUntil: '0.40', upFrom: '0.60' },
        { endings: ['0.29', '0.59', '0.99'], to: null },
      ],
    });
  });

  it('a new rung begins where the last one ends; one is never taken away when it is the last', async () => {
    const user = userEvent.setup();
    visit('/ladders/2', answers);
    await type(user, 'Up to, rung 2', '100');
    await user.click(screen.getByRole('button', { name: 'Add a rung' }));
    expect(await field('From, rung 3')).toHaveValue('100');
    await user.click(screen.getByRole('button', { name: 'Take rung 3 away' }));
    await user.click(screen.getByRole('button', { name: 'Take rung 2 away' }));
    expect(screen.getByRole('button', { name: 'Take rung 1 away' })).toBeDisabled();
  });

  it('a fault stands in the row it belongs to', async () => {
    const user = userEvent.setup();
    const faults = [{ path: 'rungs[1].endings', message: 'must lie inside the step' }];
    visit('/ladders/2', {
      ...answers,
      'PUT /ladders/2': new Refusal(422, { code: 'fields_wrong', message: 'Some fields need another look.', faults }),
    });
    await type(user, 'Endings, rung 2', '7');
    await user.click(screen.getByRole('button', { name: 'Keep the ladder' }));
    const second = screen.getByRole('row', { name: 'Rung 2' });
    expect(await within(second).findByRole('alert')).toHaveTextContent('must lie inside the step');
  });
});
