import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { AuditRow, PostingLine, PostingSummary, Reversal } from '#contract/lists.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { windowOf } from '../tests/windows.ts';

const posting: PostingSummary = {
  id: '12',
  kind: 'post',
  list: '4',
  listName: 'Counter',
  currency: 'EUR',
  effective: '2026-03-01',
  lastDay: null,
  worksheet: null,
  at: '2026-03-01T10:00:00Z',
  by: 'Marit',
  reason: 'new costs',
  lines: 2,
  up: 1,
  down: 1,
  reverses: null,
  reversedBy: [],
  agreedBy: null,
  reversedLines: 0,
};
const line = (sku: string, before: string | null, after: string | null, changePercent: string | null): PostingLine => ({
  sku,
  name: `Item ${sku}`,
  item: sku,
  pack: '1',
  packName: 'each',
  before,
  after,
  changePercent,
  margin: '31.2500',
  from: '2026-03-01',
  lastDay: null,
  handSet: null,
});
const change: AuditRow = {
  id: '40',
  at: '2026-03-02T09:00:00Z',
  by: 'Oskar',
  action: 'changed',
  subject: 'recipes',
  subjectId: '7',
  before: { uplift: [{ value: '58' }], version: 1 },
  after: { uplift: [{ value: '60' }], version: 2 },
};
const LINES = [line('A1', '10.00', '10.30', '3.00'), line('A2', null, '7.95', null)];
const answers = {
  'GET /postings': [
    { ...posting, id: '13', kind: 'reverse', reverses: '11', reason: 'wrong sheet' },
    posting,
    { ...posting, id: '11', reversedBy: ['13'], reversedLines: 2 },
    { ...posting, id: '10', reversedBy: ['9', '8'], reversedLines: 1 },
  ],
  'GET /postings/12': { ...posting, dated: false },
  'GET /postings/12/lines': (asked: Sent) => windowOf(LINES, asked),
  'POST /postings/12/reversal': { free: 2, changed: 0, inTheWay: [], postings: [] },
  'GET /audit': [change],
};

describe('the ledger', () => {
  it('tells moments on the day that the workspace counts them to, wherever it is read', async () => {
    visit('/ledger', { ...answers, 'GET /postings': [{ ...posting, at: '2026-02-28T23:30:00Z' }] });
    expect((await screen.findByRole('link', { name: '12' })).closest('tr')).toHaveTextContent('01/03/2026 00:30');
  });
  it('shows reversed postings struck, and what reversed what', async () => {
    visit('/ledger', answers);
    const row = async (id: string) => (await screen.findByRole('link', { name: id })).closest('tr')!;
    expect(await row('13')).toHaveTextContent('reverses 11: wrong sheet');
    expect(await row('11')).toHaveTextContent('(reversed by 13)');
    expect(await row('10')).toHaveTextContent('new costs (1 of 2 prices reversed by 9, 8)');
    expect(within(await row('11')).getByText('new costs').tagName).toBe('S');
  });

  it('every other change opens to what was and what is, only where it differs', async () => {
    const user = userEvent.setup();
    visit('/ledger', answers);
    await user.click(await screen.findByRole('button', { name: 'every other change' }));
    await user.click(await screen.findByRole('button', { name: 'before and after' }));
    expect(screen.getByText('uplift 1, value').closest('tr')).toHaveTextContent('uplift 1, value5860');
  });

  it('whoever may not see costs sees postings alone', async () => {
    visit('/ledger', answers, ['read']);
    await screen.findByRole('link', { name: '12' });
    expect(screen.queryByRole('button', { name: 'every other change' })).toBeNull();
  });
});

describe('one posting', () => {
  it('shows before and after of every price', async () => {
    visit('/ledger/12', answers);
    expect(await screen.findByText('Item A1')).toBeInTheDocument();
    const shown = [...document.querySelectorAll('[data-cell^="0,"]')].map((c) => c.textContent);
    expect(shown).toEqual(expect.arrayContaining(['A1', '10.00', '10.30', '▲ +3.00', '31.25']));
    expect(document.querySelector('[data-cell="1,3"]')).toHaveTextContent('none');
  });

  it('is reversed only with a reason; a refusal says what to do first', async () => {
    const user = userEvent.setup();
    const sent = visit('/ledger/12', {
      ...answers,
      'POST /postings/12/reverse': new Refusal(422, {
        code: 'cannot_reverse',
        message: 'Reverse what came after it first.',
      }),
    });
    await user.click(await screen.findByRole('button', { name: 'Reverse …' }));
    const reverse = await screen.findByRole('button', { name: 'Reverse 2 prices' });
    expect(reverse).toBeDisabled();
    await user.type(screen.getByLabelText('Why'), 'wrong sheet');
    await user.click(reverse);
    await waitFor(() =>
      expect(sent).toEqual([
        {
          method: 'POST',
          path: '/postings/12/reverse',
          body: { reason: 'wrong sheet', lines: null, leaveChanged: false },
        },
      ]),
    );
    expect(await screen.findByRole('alert')).toHaveTextContent('Reverse what came after it first.');
    expect(screen.getByLabelText('Why')).toHaveValue('wrong sheet');
  });

  it('names the prices that came to others since, with the posting to go to, and puts back all but those', async () => {
    const user = userEvent.setup();
    const sent = visit('/ledger/12', {
      ...answers,
      'POST /postings/12/reversal': {
        free: 1,
        changed: 1,
        inTheWay: [
          {
            item: 'A2',
            pack: '1',
            sku: 'A2',
            name: 'Item A2',
            packName: 'each',
            price: '8.45',
            posting: '19',
            effective: '2026-03-05',
            reason: 'fair',
          },
        ],
        postings: [{ posting: '19', reason: 'fair', prices: 1 }],
      } satisfies Reversal,
      'POST /postings/12/reverse': { posting: '20', lines: 1 },
    });
    await user.click(await screen.findByRole('button', { name: 'Reverse …' }));
    const dialog = await screen.findByRole('dialog');
    expect(await within(dialog).findByRole('link', { name: 'posting 19' })).toHaveAttribute('href', '/ledger/19');
    expect(within(dialog).getByText('A2').closest('tr')).toHaveTextContent('A2Item A2each8.4519');
    await user.type(screen.getByLabelText('Why'), 'wrong sheet');
    await user.click(within(dialog).getByRole('button', { name: 'Reverse the other 1 price' }));
    await waitFor(() => expect(sent[0]!.body).toEqual({ reason: 'wrong sheet', lines: null, leaveChanged: true }));
  });

  it('only the prices that were chosen are put back', async () => {
    const user = userEvent.setup();
    const sent = visit('/ledger/12', {
      ...answers,
      'POST /postings/12/reverse': { posting: '20', lines: 1 },
    });
    await screen.findByText('Item A2');
    expect(screen.queryByRole('button', { name: /chosen/ })).toBeNull();
    await user.pointer({ keys: '[MouseLeft]', target: screen.getByText('Item A2') });
    await user.click(await screen.findByRole('button', { name: 'Reverse 1 chosen price …' }));
    expect(await screen.findByRole('dialog', { name: 'Reverse 1 price of posting 12' })).toBeVisible();
    await user.type(screen.getByLabelText('Why'), 'too dear');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: /^Reverse/ }));
    await waitFor(() =>
      expect(sent[0]!.body).toEqual({
        reason: 'too dear',
        lines: [{ item: 'A2', pack: '1' }],
        leaveChanged: false,
      }),
    );
  });

  it('a reversal, and one that was reversed, are not offered to be reversed', async () => {
    visit('/ledger/12', {
      ...answers,
      'GET /postings/12': { ...posting, reversedBy: ['14'], reversedLines: 2, dated: false },
    });
    await screen.findByText(/reversed by/);
    expect(screen.queryByRole('button', { name: 'Reverse …' })).toBeNull();
  });
});
