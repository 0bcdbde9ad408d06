import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { PostingRequest, RequestedPrice } from '#contract/posting-requests.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { windowOf } from '../tests/windows.ts';

const request: PostingRequest = {
  id: '7',
  state: 'waiting',
  reason: 'spring costs',
  effective: '2026-03-09',
  lastDay: null,
  by: 'Ansel',
  at: '2026-03-09T08:00:00.000Z',
  own: false,
  lists: [{ list: '4', name: 'Counter', currency: 'EUR', prices: 2, beyond: '5' }],
  prices: 2,
  worksheet: null,
  decided: null,
  postings: [],
};
const price = (n: number): RequestedPrice => ({
  list: '4',
  listName: 'Counter',
  item: String(n),
  pack: `7${n}`,
  sku: `A${n}`,
  name: `Item A${n}`,
  packName: 'each',
  before: '10.00',
  after: '12.00',
  changePercent: '20',
  margin: '31.5',
  handSet: null,
});
const answers = (one: PostingRequest) => ({
  'GET /posting-requests': [one],
  'GET /posting-requests/7': one,
  'GET /posting-requests/7/prices': (asked: Sent) => ({ ...windowOf([price(1), price(2)], asked), request: '7' }),
  'GET /postings': [],
});
const posted: PostingRequest = {
  ...request,
  state: 'posted',
  decided: { by: 'Marit', at: '2026-03-09T09:00:00.000Z', why: null },
  postings: ['31'],
};

describe('a posting that waits for a second person', () => {
  it('is found in the ledger, is looked at price by price, and agreed to', async () => {
    const user = userEvent.setup();
    let now = request;
    const sent = visit('/ledger?part=requests', {
      ...answers(request),
      'GET /posting-requests/7': () => now,
      'POST /posting-requests/7/agree': () => (now = posted),
    });
    const line = (await screen.findByRole('link', { name: '7' })).closest('tr')!;
    expect(line).toHaveTextContent('waits for you, or somebody else');
    await user.click(within(line).getByRole('link', { name: '7' }));
    expect(await screen.findByText('Item A2')).toBeInTheDocument();
    expect(screen.getByText(/some move by more than 5 %/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Agree: post 2 prices' }));
    expect(await screen.findByText('2 prices posted (posting 31).')).toBeInTheDocument();
    expect(sent.map((s) => s.path)).toEqual(['/posting-requests/7/agree']);
    await waitFor(() => expect(screen.queryByRole('button', { name: /^Agree/ })).toBeNull());
  });

  it('is refused with a reason that whoever asked is told', async () => {
    const user = userEvent.setup();
    const sent = visit('/ledger/requests/7', { ...answers(request), 'POST /posting-requests/7/refuse': request });
    await user.click(await screen.findByRole('button', { name: 'Refuse …' }));
    const dialog = await screen.findByRole('dialog');
    expect(within(dialog).getByRole('button', { name: 'Refuse' })).toBeDisabled();
    await user.type(within(dialog).getByLabelText(/^Why/), 'after the season');
    await user.click(within(dialog).getByRole('button', { name: 'Refuse' }));
    await waitFor(() => expect(sent.map((s) => s.body)).toEqual([{ why: 'after the season' }]));
  });

  it('of one’s own can be withdrawn, not agreed to', async () => {
    visit('/ledger/requests/7', answers({ ...request, own: true }));
    expect(await screen.findByRole('button', { name: 'Withdraw' })).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: /^Agree/ })).toBeNull();
  });

  it('whose prices are others by now says so, and stays', async () => {
    const user = userEvent.setup();
    const refusal = new Refusal(409, { code: 'prices_changed_meanwhile', message: 'Since you looked, 1 changed.' });
    visit('/ledger/requests/7', { ...answers(request), 'POST /posting-requests/7/agree': () => refusal });
    await user.click(await screen.findByRole('button', { name: 'Agree: post 2 prices' }));
    expect(await screen.findByText('Since you looked, 1 changed.')).toBeInTheDocument();
  });

  it('of a worksheet leads to its prices', async () => {
    visit('/ledger/requests/7', answers({ ...request, worksheet: '3' }));
    expect(await screen.findByRole('link', { name: 'worksheet 3' })).toHaveAttribute('href', '/worksheets/3');
    expect(screen.getByRole('link', { name: 'Counter' })).toHaveAttribute('href', '/worksheets/3?list=4');
  });
});
