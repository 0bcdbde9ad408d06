import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { REGISTERS, type RegisterName } from '#contract/setup.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { VIEWS } from './registers.ts';

const breaks = {
  id: '1',
  version: 4,
  name: 'By the dozen',
  list: '5',
  item: null,
  category: null,
  way: 'whole',
  count: 'item',
  rows: [{ from: '12', kind: 'percent_off', value: '5' }],
};
const answers = {
  'GET /breaks': [breaks],
  'GET /lists': [{ id: '5', version: 1, name: 'Yards', currency: 'EUR', taxIn: false }],
};

describe('registers', () => {
  it('every field that the server takes has its place in the form', () => {
    for (const [name, schema] of Object.entries(REGISTERS)) {
      const view = VIEWS.find((v) => v.name === (name as RegisterName))!;
      const missing = Object.keys(schema.fields).filter((f) => !view.fields.some((x) => x.name === f));
      // items are not chosen one by one in these forms yet
      expect({ name, missing: missing.filter((m) => !['item', 'itemId'].includes(m)) }).toEqual({ name, missing: [] });
    }
  });

  it('shows records by the names they point to, and numbers in the reader’s form', async () => {
    visit('/setup/breaks', answers);
    const line = (await screen.findByText('By the dozen')).closest('tr')!;
    expect(line).toHaveTextContent('Yards');
    expect(line).toHaveTextContent('from 12: 5 % off');
  });

  it('a change carries the version that was seen', async () => {
    const user = userEvent.setup();
    const sent = visit('/setup/breaks', { ...answers, 'PUT /breaks/1': breaks });
    await user.click(await screen.findByRole('button', { name: 'change' }));
    const dialog = await screen.findByRole('dialog');
    await user.click(within(dialog).getByRole('button', { name: 'Add a break' }));
    await user.type(within(dialog).getByRole('textbox', { name: 'From, break 2' }), '48');
    await user.type(within(dialog).getByRole('textbox', { name: 'Value, break 2' }), '9');
    await user.selectOptions(within(dialog).getByLabelText('Way'), 'sliced');
    await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]).toMatchObject({
      method: 'PUT',
      path: '/breaks/1',
      body: {
        version: 4,
        way: 'sliced',
        list: '5',
        rows: [{ from: '12' }, { from: '48', kind: 'percent_off', value: '9' }],
      },
    });
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('a refused field says what is wrong beside it, and the dialog stays', async () => {
    const user = userEvent.setup();
    visit('/setup/exchange-rates', {
      'GET /exchange-rates': [],
      'POST /exchange-rates': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields need another look.',
        faults: [{ path: 'rate', message: 'must be more than 0' }],
      }),
    });
    await user.click((await screen.findAllByRole('button', { name: 'New exchange rate' }))[0]!);
    const dialog = await screen.findByRole('dialog');
    await user.type(within(dialog).getByRole('textbox', { name: 'is' }), '0');
    await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
    expect(await within(dialog).findByText('must be more than 0')).toBeInTheDocument();
  });

  it('what cannot be removed says by what it is used', async () => {
    const user = userEvent.setup();
    visit('/setup/breaks', {
      ...answers,
      'DELETE /breaks/1': new Refusal(409, { code: 'in_use', message: 'This is still used by other entries.' }),
    });
    await user.click(await screen.findByRole('button', { name: 'change' }));
    await user.click(await screen.findByRole('button', { name: 'Remove' }));
    expect(await screen.findByText('This is still used by other entries.')).toBeInTheDocument();
  });

  it('an empty register says what belongs there and offers the first step', async () => {
    visit('/setup/floors', { 'GET /floors': [] });
    await waitFor(() => expect(screen.getAllByText(/The least a quote line may be sold for/)).toHaveLength(2));
    expect(screen.getAllByRole('button', { name: 'New floor' })).toHaveLength(2);
  });

  it('a new password is sent only when one was typed', async () => {
    const user = userEvent.setup();
    const person = {
      id: '3',
      version: 2,
      name: 'Liv',
      signIn: 'liv',
      role: 'seller',
      seesCost: false,
      active: true,
      password: null,
    };
    const sent: Sent[] = visit('/setup/people', { 'GET /people': [person], 'PUT /people/3': person });
    await user.click(await screen.findByRole('button', { name: 'change' }));
    await user.click(screen.getByRole('checkbox', { name: 'May see costs' }));
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    await waitFor(() =>
      expect(sent[0]!.body).toEqual({
        name: 'Liv',
        signIn: 'liv',
        role: 'seller',
        seesCost: true,
        active: true,
        password: null,
        version: 2,
      }),
    );
  });
});
