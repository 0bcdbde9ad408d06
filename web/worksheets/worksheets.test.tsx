import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { Worksheet, WorksheetPrice } from '#contract/worksheets.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { windowOf } from '../tests/windows.ts';

const counter = {
  list: '4',
  name: 'Counter',
  currency: 'EUR',
  decimals: 2,
  rises: 250,
  falls: 1,
  unchanged: 49,
  first: 0,
  guarded: 2,
  held: 0,
  without: 3,
  postings: [],
};
const draft: Worksheet = {
  id: '9',
  reason: 'new costs',
  day: '2026-03-09',
  state: 'draft',
  total: 303,
  done: 303,
  trouble: null,
  madeBy: 'Marit',
  madeAt: '2026-03-09T08:00:00Z',
  endedAt: '2026-03-09T08:00:05Z',
  outdated: false,
  costSheet: null,
  bill: null,
  byItself: null,
  request: null,
  underWay: null,
  lists: [counter, { ...counter, list: '5', name: 'Kuwait', currency: 'KWD', decimals: 3, rises: 1, without: 0 }],
};
const price = (more: Partial<WorksheetPrice>): WorksheetPrice => ({
  item: '1',
  pack: '1',
  sku: 'BL-10',
  name: 'Line 10 mm',
  packName: 'metre',
  before: '2.40',
  after: '2.80',
  changePercent: '16.67',
  markup: '62.10',
  margin: '38.31',
  flag: null,
  guards: [],
  wouldFallTo: null,
  reason: null,
  ...more,
});
const answers = {
  'GET /worksheets': [draft],
  'GET /worksheets/9': draft,
  'GET /worksheets/9/lists/4/prices': (s: Sent) =>
    windowOf(
      s.path.includes('show=without')
        ? [price({ after: null, changePercent: null, reason: 'No cost is known for BL-10.' })]
        : [
            price({ guards: ['least margin'], flag: 'bit' }),
            price({ pack: '2', sku: 'BL-12', after: '2.10', changePercent: '-12.5' }),
          ],
      s,
    ),
  'GET /worksheets/9/lists/5/prices': (s: Sent) =>
    windowOf([price({ before: '1.250', after: '1.255', changePercent: '0.4' })], s),
  'GET /lists': [
    { id: '4', version: 1, name: 'Counter', recipe: '7', active: true },
    { id: '5', version: 1, name: 'Kuwait', recipe: '7', active: true },
    { id: '6', version: 1, name: 'Old', recipe: null, active: true },
  ],
};

describe('a worksheet', () => {
  it('shows posted beside proposed, the change with sign and shape, and what bound a price', async () => {
    visit('/worksheets/9', answers);
    const row = (await screen.findByText('BL-10')).closest('[role=row]')!;
    expect(row).toHaveTextContent('2.40');
    expect(row).toHaveTextContent('▲ +16.67');
    expect(row).toHaveTextContent('least margin');
    expect(screen.getByText('BL-12').closest('[role=row]')).toHaveTextContent('▼ −12.50');
    expect(screen.getByText('2 prices')).toBeInTheDocument();
    await userEvent.click(within(row as HTMLElement).getByText('Line 10 mm'));
    const why = await screen.findByRole('link', { name: 'BL-10 on the list, and why' });
    expect(why).toHaveAttribute('href', '/lists/4?day=2026-03-09&at=1-1');
  });

  it('narrows its prices by words, and says so where none fits', async () => {
    const user = userEvent.setup();
    visit('/worksheets/9', answers);
    await user.type(await screen.findByRole('searchbox', { name: 'Find in prices' }), 'BL-12');
    expect(await screen.findByText('1 of 2 prices')).toBeInTheDocument();
    expect(screen.queryByText('BL-10')).toBeNull();
    await user.type(screen.getByRole('searchbox', { name: 'Find in prices' }), 'x');
    expect(await screen.findByText('0 of 2 prices')).toBeInTheDocument();
  });

  it('leads from a count to the prices it counts, with the reason where there is none', async () => {
    const user = userEvent.setup();
    visit('/worksheets/9', answers);
    const list = (await screen.findByRole('button', { name: 'Counter' })).closest('tr')!;
    await user.click(within(list).getByRole('button', { name: '3' }));
    expect(await screen.findByText('No cost is known for BL-10.')).toBeInTheDocument();
    expect(screen.getByRole('combobox', { name: 'Which prices' })).toHaveTextContent('without a price');
  });

  it('cuts no digit of a currency with three decimals', async () => {
    const user = userEvent.setup();
    visit('/worksheets/9', answers);
    await user.click(await screen.findByRole('button', { name: 'Kuwait' }));
    expect(await screen.findByText('1.255')).toBeInTheDocument();
    expect(screen.getByText('1.250')).toBeInTheDocument();
  });

  it('is posted on the lists that are chosen, in the share that is chosen, with a reason', async () => {
    const user = userEvent.setup();
    const sent = visit('/worksheets/9', { ...answers, 'POST /worksheets/9/postings': { ...draft, state: 'posting' } });
    await user.click(await screen.findByRole('button', { name: 'Post …' }));
    const dialog = within(screen.getByRole('dialog'));
    await choose(user, dialog.getByRole('combobox', { name: 'Which are posted' }), 'rises');
    await user.click(dialog.getByRole('checkbox', { name: /Kuwait/ }));
    await user.type(dialog.getByRole('textbox', { name: /^Why/ }), ' of March');
    await user.click(dialog.getByRole('button', { name: 'Post on 1 list' }));
    await waitFor(() =>
      expect(sent[0]?.body).toEqual({
        reason: 'new costs of March',
        lists: ['4'],
        share: 'rises',
        lastDay: null,
        asComputed: false,
      }),
    );
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
  });

  it('that is not up to date any more is only posted when somebody says that it is meant so', async () => {
    const user = userEvent.setup();
    const sent = visit('/worksheets/9', {
      ...answers,
      'POST /worksheets/9/postings': (s: Sent) =>
        (s.body as { asComputed: boolean }).asComputed
          ? { ...draft, state: 'posting' as const }
          : new Refusal(409, { code: 'worksheet_outdated', message: 'Something has changed.' }),
      'POST /worksheets': { ...draft, id: '10' },
      'GET /worksheets/10': { ...draft, id: '10' },
    });
    await user.click(await screen.findByRole('button', { name: 'Post …' }));
    await user.click(screen.getByRole('button', { name: 'Post on 2 lists' }));
    expect(await screen.findByText(/has changed since this worksheet was computed/)).toBeInTheDocument();
    expect(screen.getByRole('button', { name: 'Post on 2 lists' })).toBeDisabled();
    await user.click(screen.getByRole('checkbox', { name: 'or post it as it was computed' }));
    expect(screen.getByRole('button', { name: 'Post on 2 lists' })).toBeEnabled();
    await user.click(screen.getByRole('button', { name: 'Have its prices proposed anew' }));
    await waitFor(() => expect(sent.at(-1)?.path).toBe('/worksheets'));
  });

  it('says why it was not posted, and leads to what was', async () => {
    visit('/worksheets/9', {
      ...answers,
      'GET /worksheets/9': {
        ...draft,
        trouble: '3 prices have been posted by others since.',
        lists: [{ ...counter, postings: [{ id: '31', stands: true }] }, draft.lists[1]!],
      },
    });
    expect(await screen.findByText(/It was left as it was: 3 prices/)).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'posting 31' })).toHaveAttribute('href', '/ledger/31');
  });

  it('what it posted goes back on all its lists at once, with a reason', async () => {
    const user = userEvent.setup();
    const posted = {
      ...draft,
      state: 'posted' as const,
      lists: [
        { ...counter, postings: [{ id: '31', stands: true }] },
        { ...draft.lists[1]!, postings: [{ id: '32', stands: false }] },
      ],
    };
    const sent = visit('/worksheets/9', {
      ...answers,
      'GET /worksheets/9': posted,
      'POST /worksheets/9/reversals': { ...posted, state: 'reversing', underWay: { postings: 1, written: 0 } },
    });
    await user.click(await screen.findByRole('button', { name: 'Reverse …' }));
    const dialog = within(screen.getByRole('dialog'));
    // the one that is reversed already is no part of it
    expect(dialog.getAllByRole('listitem').map((l) => l.textContent)).toEqual(['Counter, posting 31']);
    const go = dialog.getByRole('button', { name: 'Reverse 1 posting' });
    expect(go).toBeDisabled();
    await user.type(dialog.getByRole('textbox', { name: /^Why/ }), 'wrong rates');
    await user.click(go);
    await waitFor(() => expect(sent[0]?.body).toEqual({ reason: 'wrong rates', leaveChanged: false }));
  });

  it('can be cancelled while it is posted, and says how far it is', async () => {
    const user = userEvent.setup();
    const going = { ...draft, state: 'posting' as const, underWay: { postings: 2, written: 1 } };
    const sent = visit('/worksheets/9', {
      ...answers,
      'GET /worksheets/9': going,
      'POST /worksheets/9/cancel': draft,
    });
    expect(await screen.findByText(/1 of 2 postings written; nothing is in force before all are/)).toBeVisible();
    await user.click(screen.getByRole('button', { name: 'Cancel the posting' }));
    await waitFor(() => expect(sent[0]?.path).toBe('/worksheets/9/cancel'));
  });

  it('is discarded only after a second look, and the server’s refusal is shown', async () => {
    const user = userEvent.setup();
    const sent = visit('/worksheets/9', {
      ...answers,
      'DELETE /worksheets/9': new Refusal(409, {
        code: 'worksheet_under_way',
        message: 'The worksheet is being computed: cancel that first.',
      }),
    });
    await user.click(await screen.findByRole('button', { name: 'Discard' }));
    expect(sent).toHaveLength(0);
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Discard' }));
    expect(await screen.findByText(/cancel that first/)).toBeInTheDocument();
  });

  it('shows how far a computation is, and cancels it', async () => {
    const user = userEvent.setup();
    let state: Worksheet['state'] = 'computing';
    const sent = visit('/worksheets/9', {
      ...answers,
      'GET /worksheets/9': () => ({ ...draft, state, total: 1200000, done: 300000 }),
      'POST /worksheets/9/cancel': () => {
        state = 'cancelled';
        return { ...draft, state };
      },
    });
    expect(await screen.findByRole('progressbar')).toHaveAttribute('aria-valuenow', '25');
    expect(screen.getByText('300,000 of 1,200,000 prices')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Cancel the computation' }));
    expect(await screen.findByText(/no price was written down/)).toBeInTheDocument();
    expect(sent.map((s) => s.path)).toEqual(['/worksheets/9/cancel']);
  });

  it('says why a computation failed', async () => {
    visit('/worksheets/9', {
      ...answers,
      'GET /worksheets/9': { ...draft, state: 'failed', trouble: 'the disk is full' },
    });
    expect(await screen.findByText(/could not be computed: the disk is full/)).toBeInTheDocument();
  });
});

describe('proposing prices', () => {
  it('asks why, offers the lists that have a recipe, and leaves out what is unticked', async () => {
    const user = userEvent.setup();
    const sent = visit('/worksheets', { ...answers, 'POST /worksheets': draft });
    expect(await screen.findByText('new costs')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Propose prices' }));
    expect(screen.getByRole('button', { name: 'Propose' })).toBeDisabled();
    expect(screen.queryByRole('checkbox', { name: 'Old' })).toBeNull();
    await user.click(await screen.findByRole('checkbox', { name: 'Kuwait' }));
    await user.type(screen.getByRole('textbox', { name: 'Why' }), 'rates of the week');
    await user.click(screen.getByRole('button', { name: 'Propose' }));
    await waitFor(() =>
      expect(sent[0]?.body).toEqual({
        reason: 'rates of the week',
        day: '2026-03-09',
        lists: ['4'],
        costSheet: null,
        bill: null,
      }),
    );
    expect(await screen.findByText('Worksheet 9: new costs')).toBeInTheDocument();
  });

  it('keeps what was typed when the server refuses it', async () => {
    const user = userEvent.setup();
    const message = 'No active price list has a recipe: give one to a list under Price lists.';
    visit('/worksheets', { ...answers, 'POST /worksheets': new Refusal(422, { code: 'nothing_to_propose', message }) });
    await user.click(await screen.findByRole('button', { name: 'Propose prices' }));
    await user.type(screen.getByRole('textbox', { name: 'Why' }), 'rates');
    await user.click(await screen.findByRole('button', { name: 'Propose' }));
    expect(await screen.findByText(message, { exact: false })).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Why' })).toHaveValue('rates');
  });

  it('is for those who may post; others only look', async () => {
    visit('/worksheets', answers, ['read', 'see_cost']);
    expect(await screen.findByText('new costs')).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Propose prices' })).toBeNull();
  });
});
