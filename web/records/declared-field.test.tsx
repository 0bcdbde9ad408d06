import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { KINDS } from '#contract/records/kinds.ts';
import { startOf } from '#contract/records/declare.ts';
import { schemaOf } from '#contract/records/schema.ts';
import { VIEWS } from '../setup/views.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, visit } from '../tests/visit.tsx';

const answers = {
  'GET /categories': [
    { id: '1', version: 1, name: 'rope' },
    { id: '2', version: 1, name: 'chain' },
  ],
  'GET /customer-groups': [{ id: '4', version: 1, name: 'boatyards', rank: 1 }],
  'GET /items-found': [{ id: '10', sku: 'BL-10', name: 'Braided line', packs: [] }],
  'POST /items-named': [{ id: '10', sku: 'BL-10', name: 'Braided line', packs: [] }],
  'GET /item-words': ['Kelwick'],
  'GET /charges': [],
  'GET /regions': [],
  'GET /lockstep': [],
  'GET /pools': [],
};

describe('every declared kind', () => {
  it.each(KINDS.map((k) => [k.name, k] as const))(
    '%s has a place in Setup, and a new one starts empty',
    (name, kind) => {
      const view = VIEWS.find((v) => v.name === name)!;
      expect(Object.keys(view.fields)).toEqual(Object.keys(kind.fields));
      // what was started and not filled in is refused field by field, never kept as something else
      expect(schemaOf(kind.fields).isValidSync(startOf(kind.fields))).toBe(false);
    },
  );
});

describe('a reduction', () => {
  it('is made by keyboard: for a group, on a category, from a day', async () => {
    const user = userEvent.setup();
    const sent = visit('/setup/reductions', {
      ...answers,
      'GET /reductions': [],
      'POST /reductions': { id: '9', version: 1 },
    });
    await user.click((await screen.findAllByRole('button', { name: 'New reduction' }))[0]!);
    const dialog = await screen.findByRole('dialog');
    await user.type(within(dialog).getByLabelText('Name'), 'Winter');
    await user.type(within(dialog).getByRole('combobox', { name: 'or the group' }), 'boat{Enter}');
    expect(await within(dialog).findByText('boatyards')).toBeInTheDocument();
    await choose(user, within(dialog).getByLabelText('Tie to, On'), 'category');
    await user.type(within(dialog).getByRole('combobox', { name: 'category, On' }), 'cha{Enter}');
    await user.type(within(dialog).getByRole('textbox', { name: 'Value' }), '4.5');
    await user.type(within(dialog).getByRole('textbox', { name: 'First day' }), '1/12/2026');
    await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({
      name: 'Winter',
      group: '4',
      customer: null,
      scope: { category: '2' },
      kind: 'percent_off',
      value: '4.5',
      from: '2026-12-01',
      to: null,
    });
  });

  it('what is not asked of its kind is not shown, and a fault stands beside its field', async () => {
    const user = userEvent.setup();
    visit('/setup/reductions', {
      ...answers,
      'GET /reductions': [],
      'POST /reductions': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields need another look.',
        faults: [{ path: 'scope.item', message: 'must be the id of a known item' }],
      }),
    });
    await user.click((await screen.findAllByRole('button', { name: 'New reduction' }))[0]!);
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByRole('checkbox', { name: 'On top of what stands' })).toBeInTheDocument();
    await choose(user, within(dialog).getByLabelText('How'), 'price');
    expect(within(dialog).queryByRole('checkbox', { name: 'On top of what stands' })).toBeNull();
    await choose(user, within(dialog).getByLabelText('Tie to, On'), 'item');
    await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
    // what the declaration alone shows is told at once, and mended as it is typed; the rest by the server
    expect(within(dialog).getAllByText('is needed here').length).toBe(2);
    await user.type(within(dialog).getByLabelText('Name'), 'Lines');
    await user.type(within(dialog).getByLabelText('Value'), '0');
    expect(within(dialog).queryByText('is needed here')).toBeNull();
    await user.click(within(dialog).getByRole('button', { name: 'Keep' }));
    expect(await within(dialog).findByText('must be the id of a known item')).toBeInTheDocument();
  });
});

describe('a rule set', () => {
  it('nests conditions, orders its rules, and asks each effect for what it needs', async () => {
    const user = userEvent.setup();
    const sent = visit('/setup/rules', { ...answers, 'GET /rules': [], 'POST /rules': { id: '9', version: 1 } });
    await user.click((await screen.findAllByRole('button', { name: 'New rule set' }))[0]!);
    const dialog = await screen.findByRole('dialog');
    const button = (name: string) => within(dialog).getByRole('button', { name });
    await user.type(within(dialog).getByLabelText('Name'), 'Cut');
    for (const name of ['first', 'second']) {
      await user.click(button('one more rule'));
      await user.type(within(dialog).getByLabelText(`Rule, rule ${name === 'first' ? 1 : 2}`), name);
    }
    await choose(user, within(dialog).getByLabelText('Effect, effect 1, rule 1'), 'ask');
    expect(within(dialog).queryByLabelText('Value, effect 1, rule 1')).toBeNull();
    await user.type(within(dialog).getByLabelText('Value, effect 1, rule 2'), '-5');
    await user.click(within(dialog).getAllByRole('button', { name: 'only when …' })[0]!);
    await user.click(within(dialog).getByRole('combobox', { name: 'Value, When, rule 1' }));
    await user.keyboard('rope{Enter}');
    await user.click(button('and …'));
    await choose(user, within(dialog).getByLabelText('Fact, When, rule 1, 2'), 'line.quantity');
    await choose(user, within(dialog).getByLabelText('Comparison, When, rule 1, 2'), 'less_than');
    await user.type(within(dialog).getByLabelText('Value, When, rule 1, 2'), '5');
    await user.click(button('Move rule 2 up, Rules'));
    await user.click(button('Keep'));
    await waitFor(() => expect(sent).toHaveLength(1));
    const { rules } = sent[0]!.body as {
      rules: { id: string; name: string; when: unknown; effects: { kind: string }[] }[];
    };
    expect(rules.map((r) => [r.id, r.name, r.effects[0]!.kind])).toEqual([
      ['2', 'second', 'percent'],
      ['1', 'first', 'ask'],
    ]);
    expect(rules[1]!.when).toEqual({
      all: [
        { fact: 'item.category', operator: 'is', value: '1' },
        { fact: 'line.quantity', operator: 'less_than', value: '5' },
      ],
    });
  });
});
