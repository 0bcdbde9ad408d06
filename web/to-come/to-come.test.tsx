import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ChangeToCome } from '#contract/to-come.ts';
import { NOTHING_FOUND, foundThings } from '../tests/found.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const floor = {
  ...{ id: '3', version: 2, name: 'Rope', kind: 'margin', value: '20', currency: null, item: null, category: null },
  ...{ brand: null, group: null, outcome: 'ask', active: true },
};
const planned: ChangeToCome = {
  ...{ id: '8', version: 1, register: 'floors', record: '3', name: 'Rope', day: '2026-04-01', reason: 'season' },
  ...{ change: { value: '22' }, was: { value: '20' }, by: 'Liv', at: '2026-03-01T09:00:00Z', trouble: null },
};
const answers = {
  'GET /floors': [floor],
  'GET /changes-to-come': [planned],
  'GET /findings': foundThings([]),
  'POST /findings/of-change': NOTHING_FOUND,
  'POST /changes-to-come': planned,
  'DELETE /changes-to-come/8': { removed: true },
};
const kept = (sent: readonly Sent[]) => sent.filter((s) => !s.path.startsWith('/findings'));
const open = async () => {
  await userEvent.click(await screen.findByRole('button', { name: 'change Rope' }));
  return screen.findByRole('dialog');
};
const type = async (label: string, text: string) => {
  const field = screen.getByLabelText(new RegExp(`^${label}`));
  await userEvent.clear(field);
  await userEvent.type(field, text);
};

describe('a change to come', () => {
  it('is planned from the form with its day and reason, and only what was typed is in it', async () => {
    const sent = visit('/setup/floors', { ...answers, 'GET /changes-to-come': [] });
    await open();
    await type('Value', '25');
    await userEvent.click(screen.getByLabelText('from a day to come'));
    await type('First day in force', '16/03/2026');
    await type('Why', 'freight goes up');
    await userEvent.click(screen.getByRole('button', { name: 'Keep for 16/03/2026' }));
    expect(await screen.findByText(/Until then nothing changes/)).toBeInTheDocument();
    const { id: record, version, ...body } = floor;
    expect(kept(sent)).toMatchObject([
      {
        method: 'POST',
        path: '/changes-to-come',
        body: { register: 'floors', record, version, day: '2026-03-16', reason: 'freight goes up', upon: [] },
      },
    ]);
    expect((kept(sent)[0]!.body as { body: object }).body).toMatchObject({ ...body, value: '25' });
  });

  it('that waits is told in the table and above the form; what it overtakes is said before it is kept', async () => {
    visit('/setup/floors', answers);
    expect(await screen.findByText('changes on 01/04/2026')).toBeInTheDocument();
    const dialog = await open();
    const told = within(within(dialog).getByRole('region', { name: 'Changes to come' }));
    expect(told.getByText('From 01/04/2026')).toBeInTheDocument();
    expect(told.getAllByRole('listitem')[0]).toHaveTextContent(/Value: 20 → 22/);
    expect(told.queryByRole('status')).toBeNull();
    await type('Value', '21');
    expect(await told.findByRole('status')).toHaveTextContent('from 01/04/2026 on what is planned holds');
    // what was typed would be lost by beginning anew
    expect(told.queryByRole('button', { name: 'go on from what stands then' })).toBeNull();
  });

  it('is gone on from: the form begins with what stands then, and says so to the server', async () => {
    const sent = visit('/setup/floors', answers);
    await open();
    await userEvent.click(screen.getByRole('button', { name: 'go on from what stands then' }));
    expect(screen.getByLabelText(/^Value/)).toHaveValue('22');
    await type('First day in force', '01/05/2026');
    await type('Value', '20');
    await type('Why', 'back again');
    await userEvent.click(screen.getByRole('button', { name: 'Keep for 01/05/2026' }));
    await waitFor(() => expect(kept(sent)).toHaveLength(1));
    expect(kept(sent)[0]!.body).toMatchObject({ day: '2026-05-01', upon: ['8'], body: { value: '20' } });
  });

  it('removes a record on its day, and keeps what was typed when it is refused', async () => {
    const sent = visit('/setup/floors', {
      ...answers,
      'GET /changes-to-come': [],
      'POST /changes-to-come': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields need another look.',
        faults: [{ path: 'reason', message: 'is needed' }],
      }),
    });
    await open();
    await userEvent.click(screen.getByLabelText('from a day to come'));
    await userEvent.click(screen.getByRole('button', { name: 'Remove on 10/03/2026' }));
    expect(await screen.findByText('is needed')).toBeInTheDocument();
    expect(kept(sent)[0]!.body).toMatchObject({ day: '2026-03-10', body: null });
    expect(screen.getByRole('dialog')).toBeInTheDocument();
  });

  it('stands in the list of all with who and why; one that failed stands first and says why', async () => {
    const failed = { ...planned, id: '9', name: 'Old', day: '2026-05-01', trouble: 'The floor 9 does not exist.' };
    const sent = visit('/changes-to-come', { ...answers, 'GET /changes-to-come': [planned, failed] });
    const lines = within(await screen.findByRole('table'))
      .getAllByRole('row')
      .slice(1);
    expect(lines[0]).toHaveTextContent('It could not be carried out: The floor 9 does not exist.');
    expect(lines[1]).toHaveTextContent(/01\/04\/2026floor RopeValue: 20 → 22seasonLiv/);
    expect(within(lines[1]!).getByRole('link', { name: 'Rope' })).toHaveAttribute('href', '/setup/floors?open=3');
    await userEvent.click(screen.getByRole('button', { name: 'Drop the change of Rope for 01/04/2026' }));
    await waitFor(() =>
      expect(sent).toMatchObject([{ method: 'DELETE', path: '/changes-to-come/8', body: { version: 1 } }]),
    );
  });

  it('is only looked at by who may not edit rules', async () => {
    visit('/changes-to-come', answers, ['read', 'see_cost']);
    expect(await screen.findByText('season')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Drop/ })).toBeNull();
  });
});
