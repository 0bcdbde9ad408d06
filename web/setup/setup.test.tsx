import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ListAudience } from '#contract/lists.ts';
import { KINDS } from '#contract/records/kinds.ts';
import { PLAIN } from '#contract/records/plain.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { VIEWS } from './views.ts';

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
  it('every kind of record has its table under a heading, with every field of it in the form', () => {
    const kinds = [...Object.values(PLAIN), ...KINDS];
    expect(VIEWS.map((v) => v.name).sort()).toEqual(kinds.map((k) => k.name).sort());
    for (const kind of kinds)
      expect(Object.keys(VIEWS.find((v) => v.name === kind.name)!.fields)).toEqual(
        expect.arrayContaining(Object.keys(kind.fields)),
      );
  });

  it('shows records by the names they point to, and numbers in the reader’s form', async () => {
    visit('/setup/breaks', answers);
    const line = (await screen.findByText('By the dozen')).closest('tr')!;
    await waitFor(() => expect(line).toHaveTextContent('Yards'));
    expect(line).toHaveTextContent('from 12: 5 % off');
  });

  it('exchange rates stand with the latest first, and how a pair went above them', async () => {
    const rate = (id: string, day: string, value: string, to = 'EUR') => ({
      id,
      version: 1,
      from: 'GBP',
      to,
      day,
      rate: value,
    });
    visit('/setup/exchange-rates', {
      'GET /exchange-rates': [
        rate('1', '2026-01-05', '1.1500'),
        rate('2', '2026-03-02', '1.1640'),
        rate('3', '2026-02-02', '12.90', 'SEK'),
      ],
    });
    expect(await screen.findByRole('img', { name: 'Exchange rate over time, GBP in EUR' })).toBeInTheDocument();
    const lines = within(screen.getByRole('table')).getAllByRole('row').slice(1);
    expect(lines.map((l) => within(l).getAllByRole('cell')[3]!.textContent)).toEqual([
      '02/03/2026',
      '02/02/2026',
      '05/01/2026',
    ]);
    await choose(userEvent.setup(), screen.getByLabelText('How it went'), 'GBP in SEK');
    expect(screen.getByRole('img', { name: 'Exchange rate over time, GBP in SEK' })).toBeInTheDocument();
  });

  it('a change carries the version that was seen', async () => {
    const user = userEvent.setup();
    const sent = visit('/setup/breaks', { ...answers, 'PUT /breaks/1': breaks });
    await user.click(await screen.findByRole('button', { name: /^change/ }));
    const dialog = await screen.findByRole('dialog');
    await user.click(within(dialog).getByRole('button', { name: 'one more break' }));
    await user.type(within(dialog).getByRole('textbox', { name: 'From, break 2' }), '48');
    await user.type(within(dialog).getByRole('textbox', { name: 'Value, break 2' }), '9');
    await choose(user, within(dialog).getByLabelText('Way'), 'sliced');
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

  it('a record goes back whole: what the form does not show is not emptied', async () => {
    const user = userEvent.setup();
    const tied = { ...breaks, item: '77', kept: 'by an older hand' };
    const sent = visit('/setup/breaks', { ...answers, 'GET /breaks': [tied], 'PUT /breaks/1': tied });
    await user.click(await screen.findByRole('button', { name: /^change/ }));
    await user.type(screen.getByLabelText('Name'), ' and more');
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    await waitFor(() =>
      expect(sent[0]!.body).toMatchObject({ item: '77', kept: 'by an older hand', name: 'By the dozen and more' }),
    );
  });

  it.each([
    ['53,48', /"53,48" is not a number/],
    ['1.5%', /"1\.5%" is not a number/],
    ['6 2', /"6 2" is not a number/],
  ])(
    '“%s” is never kept as its readable beginning: it stays as typed and says what could not be read',
    async (typed, why) => {
      const user = userEvent.setup();
      const sent = visit('/setup/breaks', {
        ...answers,
        'PUT /breaks/1': (s: Sent) =>
          new Refusal(422, {
            code: 'fields_wrong',
            message: 'Some fields need another look.',
            faults: [
              { path: 'rows[0].value', message: `must be a number such as 214.50, not ${JSON.stringify(s.body)}` },
            ],
          }),
      });
      await user.click(await screen.findByRole('button', { name: /^change/ }));
      const value = screen.getByRole('textbox', { name: 'Value, break 1' });
      await user.clear(value);
      await user.type(value, typed);
      await user.click(screen.getByRole('button', { name: 'Keep' }));
      expect(value).toHaveValue(typed);
      expect(screen.getAllByText(why).length).toBeGreaterThan(0);
      // a browser does not send such a form at all; whatever does, sends nothing that could be read as a number
      for (const s of sent) expect(JSON.stringify(s.body)).not.toMatch(/"value":"[\d.]+"/);
    },
  );

  it('a day that does not exist is told in words and stays as typed', async () => {
    const user = userEvent.setup();
    visit('/setup/tax-rates', {
      'GET /tax-rates': [{ id: '1', version: 1, taxClass: 'standard', percent: '20', from: '2020-01-01' }],
    });
    await user.click(await screen.findByRole('button', { name: /^change/ }));
    const from = screen.getByRole('textbox', { name: 'From' });
    expect(from).toHaveValue('01/01/2020');
    await user.clear(from);
    await user.type(from, '31/02/2027');
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    expect(from).toHaveValue('31/02/2027');
    expect(screen.getByText('"31/02/2027" is not a day; write it like 31/12/2026')).toBeInTheDocument();
  });

  it('a fault in a row is told in that row, in words', async () => {
    const user = userEvent.setup();
    visit('/setup/breaks', {
      ...answers,
      'PUT /breaks/1': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields need another look.',
        faults: [{ path: 'rows[0].value', message: 'gives less than the break from 6' }],
      }),
    });
    await user.click(await screen.findByRole('button', { name: /^change/ }));
    await user.click(screen.getByRole('button', { name: 'Keep' }));
    const told = await screen.findByText('gives less than the break from 6');
    expect(told.parentElement).toContainElement(screen.getByRole('textbox', { name: 'Value, break 1' }));
    expect(screen.queryByText(/rows\[0\]/)).toBeNull();
  });

  it('what was typed in a form is not thrown away by Escape without a word', async () => {
    const user = userEvent.setup();
    visit('/setup/breaks', answers);
    await user.click(await screen.findByRole('button', { name: /^change/ }));
    await user.type(screen.getByLabelText('Name'), 's');
    await user.keyboard('{Escape}');
    expect(screen.getByText(/not kept yet/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'go on' }));
    expect(screen.getByLabelText('Name')).toHaveValue('By the dozens');
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await user.click(screen.getByRole('button', { name: 'Throw it away' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('before a list is activated it says whom it will answer and for how many prices it has none', async () => {
    const user = userEvent.setup();
    const list = {
      id: '5',
      version: 1,
      name: 'Yards',
      currency: 'EUR',
      taxIn: false,
      decimals: null,
      advertised: false,
      active: false,
      from: null,
      to: null,
      rank: 1,
      recipe: null,
      groups: [],
    };
    const sent = visit('/setup/lists', {
      'GET /lists': [list],
      'POST /lists/5/audience': {
        customers: 3,
        named: ['Aune Boats', 'Brack', 'Coll'],
        first: 2,
        everyone: true,
        prices: 40,
        missing: 12,
      } satisfies ListAudience,
    });
    await user.click(await screen.findByRole('button', { name: 'New price list' }));
    expect(screen.queryByRole('checkbox', { name: 'Active' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    await user.click(screen.getByRole('button', { name: /^change/ }));
    await user.click(screen.getByRole('checkbox', { name: 'Active' }));
    expect(
      await screen.findByText(
        'Active, it answers whoever comes, 3 customers (Aune Boats, Brack, Coll); for 2 it comes before every other list.',
      ),
    ).toBeInTheDocument();
    expect(
      screen.getByText('12 of 40 prices are not in force on it: those items get no price from it.'),
    ).toBeInTheDocument();
    expect(sent[0]!.body).toMatchObject({ active: true, groups: [] });
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
    await user.click(await screen.findByRole('button', { name: /^change/ }));
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
    await user.click(await screen.findByRole('button', { name: /^change/ }));
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
