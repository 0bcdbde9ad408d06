import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ShownFinding } from '#contract/findings.ts';
import { NOTHING_FOUND, foundThings } from '../tests/found.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const tie: ShownFinding = {
  code: 'reductions_tie',
  message: 'Two reductions are equally specific.',
  places: [{ title: 'Winter', to: '/setup/reductions?open=4' }],
  morePlaces: 0,
  lists: [],
  items: 3,
  customers: null,
  example: [{ fact: 'values', value: '5; 4' }],
};
const reduction = {
  id: '4',
  version: 1,
  name: 'Winter',
  customer: null,
  group: '2',
  scope: {},
  lists: [],
  kind: 'percent_off',
  value: '5',
  onTop: false,
  zeroConfirmed: false,
  from: null,
  to: null,
};
const answers = {
  'GET /reductions': [reduction],
  'GET /customer-groups': [{ id: '2', version: 1, name: 'yards', rank: 1 }],
  'GET /findings': foundThings([tie]),
};

/** An answer that keeps what it was asked. */
function listening(answer: unknown) {
  const asked: Sent[] = [];
  const listen = (sent: Sent) => {
    asked.push(sent);
    return answer;
  };
  return { asked, listen };
}
const beside = () => screen.findByRole('region', { name: 'What the check finds' });

describe('a record that is being changed', () => {
  it('shows what is wrong with it now, then what keeping it would settle and add', async () => {
    const user = userEvent.setup();
    const told = {
      adds: { count: 1, findings: [{ ...tie, message: 'A dated price lies above.' }] },
      settles: { count: 1, findings: [tie] },
    };
    const { asked, listen } = listening(told);
    visit('/setup/reductions?open=4', { ...answers, 'POST /findings/of-change': listen });
    expect(await beside()).toHaveTextContent('The check finds 1 thing here:Two reductions are equally specific.');
    await user.clear(screen.getByRole('textbox', { name: 'Value' }));
    await user.type(screen.getByRole('textbox', { name: 'Value' }), '7');
    expect(await beside()).toHaveTextContent('Looking what the check would find');
    await waitFor(() => expect(within(screen.getByRole('dialog')).getByText('adds:')).toBeInTheDocument());
    expect(await beside()).toHaveTextContent(/adds: A dated price lies above\..*settles: Two reductions/);
    // asked after the pause, with the record as it is typed
    expect(asked.at(-1)!.body).toMatchObject({ register: 'reductions', id: '4', body: { value: '7' } });
  });
  it('that cannot be kept as it is typed says so, and waits for more', async () => {
    const user = userEvent.setup();
    const refusal = new Refusal(422, { code: 'fields_wrong', message: 'Some fields need another look.' });
    visit('/setup/reductions?open=4', { ...answers, 'POST /findings/of-change': () => refusal });
    await user.type(await screen.findByRole('textbox', { name: 'Value' }), '0');
    expect(await screen.findByText('As it is typed it cannot be kept yet.')).toBeInTheDocument();
  });
  it('of a person is never asked about: what is typed there stays there until it is kept', async () => {
    const user = userEvent.setup();
    const { asked, listen } = listening({});
    const sent = visit('/setup/people?open=new', { 'GET /people': [], 'POST /findings/of-change': listen });
    await user.type(await screen.findByLabelText('Name'), 'Eve');
    await user.type(screen.getByLabelText(/^Password/), 'quite a long password');
    expect(screen.queryByRole('region', { name: 'What the check finds' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Cancel' }));
    expect([...sent, ...asked]).toEqual([]);
  });
  it('says nothing to whoever may not see costs', async () => {
    visit('/setup/reductions?open=4', answers, ['read', 'edit_rules']);
    await screen.findByRole('dialog');
    expect(screen.queryByRole('region', { name: 'What the check finds' })).toBeNull();
  });

  it('tells on asking how many prices of which lists it would move, and how far', async () => {
    const user = userEvent.setup();
    const { asked, listen } = listening({
      day: '2026-03-09',
      prices: 12,
      lists: [{ list: '1', name: 'Counter', prices: 12, rises: 12, falls: 0, least: '1.20', most: '3.40' }],
    });
    visit('/setup/reductions?open=4', {
      ...answers,
      'POST /findings/of-change': NOTHING_FOUND,
      'POST /findings/moves-of-change': listen,
    });
    const value = await screen.findByRole('textbox', { name: 'Value' });
    await user.clear(value);
    await user.type(value, '7');
    await user.click(await screen.findByRole('button', { name: 'Which prices would move?' }));
    const line = (await screen.findByRole('link', { name: 'Counter' })).closest('tr')!;
    expect(line).toHaveTextContent('Counter12120▲ +1.20 %▲ +3.40 %');
    expect(asked.at(-1)!.body).toMatchObject({ id: '4', body: { value: '7' } });
  });
});
