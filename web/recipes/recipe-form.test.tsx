import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { RecipeBody } from '#contract/recipes.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { answerTo, sampleOf } from './uplift-echo.tsx';

const row = { id: '1', scope: {}, currency: null };
const recipe: RecipeBody & { id: string; version: number } = {
  id: '7',
  version: 3,
  name: 'Counter',
  basis: { kind: 'landed' },
  ladder: null,
  uplift: [{ ...row, method: 'markup', value: '35' }],
  guards: [{ kind: 'least_margin', percent: '18', amount: null }],
};
const answers = {
  'GET /recipes': [recipe],
  'PUT /recipes/7': (s: Sent) => ({ ...recipe, ...(s.body as object), version: 4 }),
};
const margin = () => screen.findByRole('textbox', { name: 'Margin per cent, row 1' });
const markup = () => screen.getByRole('textbox', { name: 'Markup per cent, row 1' });

async function type(user: ReturnType<typeof userEvent.setup>, field: HTMLElement, text: string): Promise<void> {
  await user.clear(field);
  await user.type(field, text);
}

describe('markup and margin answer each other', () => {
  it('typing a margin shows the markup, and what was typed is what is kept', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', answers);
    expect(await margin()).toHaveValue('25.93');
    await type(user, await margin(), '35');
    expect(markup()).toHaveValue('53.85');
    expect(screen.getByText('73.85')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    const kept = () => sent.filter((s) => s.method === 'PUT');
    await waitFor(() => expect(kept()).toHaveLength(1));
    expect(kept()[0]).toMatchObject({
      method: 'PUT',
      body: { version: 3, uplift: [{ method: 'margin', value: '35' }] },
    });
  });

  it('a margin of 100 % says why it gives no price', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', answers);
    await type(user, await margin(), '100');
    expect(await screen.findByText(/A margin of 100 % is not possible/)).toBeInTheDocument();
    expect(markup()).toHaveValue('');
  });

  it.each([
    ['markup', '35', '25.93'],
    ['margin', '35', '53.85'],
    ['margin', '100', null],
    ['markup', '-100', null],
    ['markup', 'x', null],
  ] as const)('%s %s is answered by %s', (method, value, other) => expect(answerTo(method, value)).toBe(other));

  it('the sample names markup and margin for every kind of uplift', () => {
    const found = sampleOf('multiply', '1.40', '48.00');
    if ('why' in found) throw new Error(found.why);
    expect([found.price.toFixed(2), found.markup!.toFixed(2), found.margin!.toFixed(2)]).toEqual([
      '67.20',
      '40.00',
      '28.57',
    ]);
    expect(sampleOf('markup', '10', '0')).toEqual({ why: 'The sample costs 0: a markup gives no price.' });
  });
});

describe('a recipe that was changed meanwhile', () => {
  const conflict = {
    ...answers,
    'PUT /recipes/7': (s: Sent) =>
      (s.body as { version: number }).version === 3
        ? new Refusal(409, {
            code: 'changed_meanwhile',
            message: 'The recipe was changed by Oskar while you worked on it.',
            current: { ...recipe, version: 4, uplift: [{ ...row, method: 'markup', value: '40' }] },
          })
        : { ...recipe, version: 5 },
  };

  it('shows both versions by what differs; going on with mine is sent against theirs', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', conflict);
    await margin();
    await type(user, markup(), '50');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    const alert = (await screen.findByText(/changed by Oskar/)).closest<HTMLElement>('[role=alert]')!;
    expect(within(alert).getByText('uplift row 1, value').closest('tr')).toHaveTextContent('uplift row 1, value4050');
    expect(markup()).toHaveValue('50');
    await user.click(screen.getByRole('button', { name: 'Go on with mine' }));
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    // what the check would find is asked beside it, after a pause
    const kept = () => sent.filter((s) => s.method === 'PUT');
    await waitFor(() => expect(kept()).toHaveLength(2));
    expect(kept()[1]!.body).toMatchObject({ version: 4, uplift: [{ value: '50' }] });
  });

  it('or theirs is taken', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', conflict);
    await margin();
    await type(user, markup(), '50');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    await user.click(await screen.findByRole('radio', { name: 'take theirs' }));
    await user.click(screen.getByRole('button', { name: 'Go on with this choice' }));
    expect(markup()).toHaveValue('40');
  });
});

describe('a row of the uplift table', () => {
  it('shows every tie it has, so that it never looks as if it reached everything', async () => {
    const user = userEvent.setup();
    const scope = { item: '10', attributes: { strength: '12' }, band: { from: '5', to: '20' }, lockstep: '4' };
    const sent = visit('/recipes/7', {
      ...answers,
      'POST /items-named': [{ id: '10', sku: 'BL-10', name: 'Braided line', packs: [] }],
      'GET /lockstep': [{ id: '4', version: 1, name: 'Shackles, bow' }],
      'GET /recipes': [
        { ...recipe, uplift: [{ ...row, id: '2', scope, method: 'markup', value: '35' }, ...recipe.uplift] },
      ],
    });
    const first = await screen.findByRole('row', { name: 'Uplift row 1' });
    for (const tie of [
      'BL-10, Braided line',
      'strength 12',
      'a basis from 5 to under 20',
      'in lockstep: Shackles, bow',
    ])
      expect(await within(first).findByText(tie, { exact: false })).toBeInTheDocument();
    await user.click(within(first).getByRole('button', { name: 'Take away “strength 12”, row 1' }));
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    await waitFor(() =>
      expect(sent.find((s) => s.method === 'PUT')!.body).toMatchObject({
        uplift: [{ scope: { item: '10', attributes: null } }, {}],
      }),
    );
  });

  it('an amount in another currency is not worked on the sample as if it were in the list’s', async () => {
    visit('/recipes/7', {
      ...answers,
      'GET /recipes': [{ ...recipe, uplift: [{ ...row, method: 'add', value: '2.50', currency: 'GBP' }] }],
    });
    const first = await screen.findByRole('row', { name: 'Uplift row 1' });
    expect(first).toHaveTextContent('2.50 GBP, exchanged by the day’s rate');
    expect(first).not.toHaveTextContent('50.50');
  });
});

describe('what it was before', () => {
  it('is put into the form again and kept as a new version', async () => {
    const user = userEvent.setup();
    const before = { ...recipe, version: 2, uplift: [{ ...row, method: 'markup', value: '31' }] };
    const entry = { at: '2026-03-02T09:00:00Z', by: 'Oskar', action: 'changed', subject: 'recipes', subjectId: '7' };
    const sent = visit('/recipes/7', { ...answers, 'GET /audit': [{ ...entry, id: '40', before, after: recipe }] });
    await margin();
    await user.click(screen.getByRole('button', { name: 'Earlier versions' }));
    await user.click(await screen.findByRole('button', { name: /^What changed/ }));
    expect(screen.getByText('uplift 1, value').closest('tr')).toHaveTextContent('uplift 1, value3135');
    await user.click(screen.getByRole('button', { name: /^As it was before that/ }));
    expect(markup()).toHaveValue('31');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    const kept = () => sent.filter((s) => s.method === 'PUT');
    await waitFor(() => expect(kept()).toHaveLength(1));
    expect(kept()[0]!.body).toMatchObject({ version: 3, uplift: [{ value: '31' }] });
  });

  it('and where it was never changed, that is said', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', { ...answers, 'GET /audit': [] });
    await margin();
    await user.click(screen.getByRole('button', { name: 'Earlier versions' }));
    expect(await screen.findByText('It was never changed since it is kept here.')).toBeInTheDocument();
  });
});

describe('leaving with changes', () => {
  it('asks first; staying keeps what was typed, and keeping it opens the way', async () => {
    const user = userEvent.setup();
    visit('/recipes/7', { ...answers, 'GET /today': { lines: [], at: null, stale: false } });
    await type(user, await margin(), '35');
    await user.click(screen.getByRole('link', { name: 'Today' }));
    await user.click(await screen.findByRole('button', { name: 'Stay here' }));
    expect(await margin()).toHaveValue('35');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    await waitFor(() => expect(screen.getByRole('button', { name: 'Keep the recipe' })).toBeDisabled());
    await user.click(screen.getByRole('link', { name: 'Today' }));
    expect(await screen.findByRole('heading', { name: 'Today' })).toBeInTheDocument();
  });
});

describe('the rest of the form', () => {
  it('a refused field says what is wrong beside it, and what was typed stays', async () => {
    const user = userEvent.setup();
    const fault = { path: 'guards[0].percent', message: 'a margin must be less than 100 %' };
    visit('/recipes/7', {
      ...answers,
      'PUT /recipes/7': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields need another look.',
        faults: [fault],
      }),
    });
    const percent = await screen.findByRole('textbox', { name: 'least margin, per cent' });
    await type(user, percent, '120');
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    const alerts = await screen.findAllByRole('alert');
    expect(alerts.map((a) => a.textContent)).toContain('percent a margin must be less than 100 %');
    expect(percent).toHaveValue('120');
  });

  it('guards are added and taken away', async () => {
    const user = userEvent.setup();
    const sent = visit('/recipes/7', answers);
    await margin();
    await choose(user, screen.getByRole('combobox', { name: 'Add a guard' }), 'not_below_cost');
    await user.click(screen.getAllByRole('button', { name: 'take away' })[0]!);
    await user.click(screen.getByRole('button', { name: 'Keep the recipe' }));
    const kept = () => sent.filter((s) => s.method === 'PUT');
    await waitFor(() => expect(kept()).toHaveLength(1));
    expect((kept()[0]!.body as RecipeBody).guards).toEqual([{ kind: 'not_below_cost', percent: null, amount: null }]);
  });

  it('one that is new does not claim the lists that have no recipe', async () => {
    const user = userEvent.setup();
    visit('/recipes/new', {
      ...answers,
      'GET /lists': [{ id: '5', version: 1, name: 'Boat fair', currency: 'EUR', recipe: null }],
    });
    await user.type(await screen.findByRole('textbox', { name: 'Name' }), 'Fair');
    expect(await screen.findByText(/No posted price changes by keeping it/)).not.toHaveTextContent('Boat fair');
  });

  it('whoever may only look sees the recipe, and nothing to keep', async () => {
    visit('/recipes/7', answers, ['read', 'see_cost']);
    expect(await margin()).toBeDisabled();
    expect(screen.queryByRole('button', { name: 'Keep the recipe' })).toBeNull();
  });
});
