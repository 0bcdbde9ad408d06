import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { QuoteBody, QuoteFigures, QuoteView } from '#contract/quotes.ts';
import { RIGHTS } from '#contract/people.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';

const line: QuoteFigures['lines'][number] = {
  sku: 'BL-10',
  name: 'Braided line 10 mm',
  packName: 'metre',
  quantity: '60',
  listPrice: '1.76',
  unitPrice: '1.41',
  total: '84.60',
  reason: null,
  broken: { name: 'Least margin', outcome: 'ask', least: '1.56', short: '0.15', fromCost: true },
  slices: [],
  otherList: null,
  freeUnits: null,
  dearerThanUsual: null,
  struck: null,
  notStruck: null,
  floorsNotApplied: [],
  shareOfReduction: null,
  netTotal: '84.60',
  profit: '9.73',
  asks: ['Cut lengths'],
  refused: [],
  breakWords: '50 and more: 6 % off',
  buyMore: { buy: '3', saves: '2.10' },
  margin: '11.50',
  steps: [
    {
      kind: 'list_price',
      operation: { op: 'start', value: '1.76' },
      before: null,
      after: '1.76',
      currency: 'EUR',
      per: 'pack',
    },
    {
      kind: 'line_total',
      operation: { op: 'set', value: '84.6' },
      before: '1.76',
      after: '84.6',
      currency: 'EUR',
      per: 'line',
    },
  ],
};
const figures: QuoteFigures = {
  currency: 'EUR',
  taxIn: false,
  decimals: 2,
  lines: [line],
  charges: [
    {
      id: 'c1',
      name: 'Cutting',
      kind: 'rule',
      total: '3.50',
      net: '3.50',
      taxPercent: '20',
      covered: null,
      terms: null,
      period: null,
      steps: [],
    },
  ],
  reduction: null,
  profit: '9.73',
  linesTotal: '84.60',
  taxes: [{ percent: '20', net: '84.60', tax: '16.92' }],
  net: '84.60',
  toPay: '101.52',
  margin: '11.50',
  outcome: 'asks_approval',
};
const quote: QuoteView = {
  id: '9',
  version: 2,
  number: '2026-0009',
  customer: '3',
  customerName: 'Yard',
  listName: 'Yards',
  day: '2026-03-09',
  state: 'draft',
  writtenBy: 'Marit',
  writtenById: '1',
  toPay: null,
  currency: 'EUR',
  group: '1',
  groupName: 'yards',
  list: '5',
  listWhy: 'meant for the customer’s group',
  listLost: [{ name: 'Counter', why: 'comes later: meant for everyone' }],
  listReason: null,
  validUntil: null,
  note: '',
  lines: [
    {
      item: '1',
      pack: '1',
      quantity: '60',
      reductionKind: 'percent_off',
      reductionValue: '15',
      section: null,
      zeroConfirmed: false,
    },
  ],
  country: null,
  region: null,
  regionName: null,
  regionReason: null,
  channel: null,
  charges: [],
  reduction: null,
  estimate: null,
  figures,
  decisions: [],
  hands: [],
};
const item = {
  id: '1',
  version: 1,
  sku: 'BL-10',
  name: 'Braided line 10 mm',
  packs: [
    { id: '1', name: 'metre', units: '1', deposit: null },
    { id: '2', name: 'drum', units: '220', deposit: null },
  ],
};
const answers = {
  'GET /quotes/9': quote,
  'GET /items-found': [item],
  'POST /items-named': [item],
  'GET /customers': [{ id: '3', version: 1, name: 'Yard' }],
  'GET /regions': [],
  'GET /charges': [{ id: '6', version: 1, name: 'Delivery', percent: '8', period: null }],
  'GET /lists': [{ id: '5', version: 1, name: 'Yards', currency: 'EUR', taxIn: false }],
  'POST /quotes/figures': { list: '5', listWhy: '', regionName: null, figures },
};

describe('writing a quote', () => {
  it('asks for figures only when a line is whole, and keeps what was typed', async () => {
    const user = userEvent.setup();
    const sent = visit('/quotes/new', { ...answers, 'POST /quotes': quote });
    await user.type(await screen.findByRole('combobox', { name: 'Customer' }), 'yar{Enter}');
    expect(await screen.findByRole('button', { name: 'Take away Yard, Customer' })).toHaveFocus();
    expect(sent).toEqual([]);
    await user.type(screen.getByRole('combobox', { name: 'Add an item: code, name or barcode' }), 'bl-10');
    await user.keyboard('{Enter}');
    // how many is the next thing that is typed
    await waitFor(() => expect(screen.getByRole('textbox', { name: 'Quantity, line 1' })).toHaveFocus());
    await waitFor(() => expect(sent.at(-1)?.path).toBe('/quotes/figures'));
    await user.clear(screen.getByRole('textbox', { name: 'Quantity, line 1' }));
    const asked = sent.length;
    expect(screen.getByRole('button', { name: 'Keep the quote' })).toBeDisabled();
    expect(sent).toHaveLength(asked);
    await user.type(screen.getByRole('textbox', { name: 'Quantity, line 1' }), '60');
    await waitFor(() => expect((sent.at(-1)!.body as QuoteBody).lines[0]!.quantity).toBe('60'));
    await user.click(screen.getByRole('button', { name: 'Keep the quote' }));
    await waitFor(() =>
      expect(sent.at(-1)).toMatchObject({
        method: 'POST',
        path: '/quotes',
        body: { customer: '3', list: null, lines: [{ item: '1', pack: '1', quantity: '60' }] },
      }),
    );
  });

  it('a change that another made meanwhile is shown beside mine, chosen field by field, and kept', async () => {
    const user = userEvent.setup();
    let kept = quote;
    const theirs = { ...quote, version: 3, note: 'their note', hands: [{ by: 'Oskar', at: '', did: 'changed it' }] };
    const sent = visit('/quotes/9', {
      ...answers,
      'GET /quotes/9': () => kept,
      'PUT /quotes/9': (s: Sent) => {
        const { version } = s.body as { version: number };
        if (version === 3) return { ...theirs, version: 4 };
        kept = theirs;
        return new Refusal(409, { code: 'changed_meanwhile', message: 'The quote was changed by Oskar.' });
      },
    });
    await user.type(await screen.findByLabelText('Note on the quote'), 'my note');
    const quantity = screen.getByRole('textbox', { name: 'Quantity, line 1' });
    await user.clear(quantity);
    await user.type(quantity, '75');
    await user.click(screen.getByRole('button', { name: 'Keep the quote' }));
    expect(await screen.findByText('Meanwhile · Oskar changed it.')).toBeInTheDocument();
    const noteChoice = screen.getByRole('group', { name: 'note' });
    expect(noteChoice).toHaveTextContent('their notemy note');
    await user.click(within(noteChoice).getByRole('radio', { name: 'take theirs' }));
    await user.click(screen.getByRole('button', { name: 'Go on with this choice' }));
    await user.click(screen.getByRole('button', { name: 'Keep the quote' }));
    await waitFor(() =>
      expect(sent.filter((s) => s.method === 'PUT').at(-1)!.body).toMatchObject({
        version: 3,
        note: 'their note',
        lines: [{ quantity: '75' }],
      }),
    );
  });

  it('a scanned barcode adds a line in the pack that it stands for', async () => {
    const user = userEvent.setup();
    const coded = { ...item, packs: [item.packs[0], { ...item.packs[1], barcode: '4006381333931' }] };
    visit('/quotes/new', { ...answers, 'GET /items-found': [coded], 'POST /items-named': [coded] });
    await user.type(await screen.findByRole('combobox', { name: /^Add an item/ }), '4006381333931{Enter}');
    await waitFor(() => expect(screen.getByLabelText('Pack, line 1')).toHaveValue('2'));
  });

  it('another list than the customer’s own asks why', async () => {
    const user = userEvent.setup();
    visit('/quotes/9', answers);
    await user.type(await screen.findByRole('combobox', { name: 'Price list' }), 'yards{Enter}');
    expect(await screen.findByLabelText('Why another list')).toBeInTheDocument();
  });
});

describe('a line under a floor', () => {
  it('says which floor, by how much, what it takes, and what buying more would save', async () => {
    visit('/quotes/9', answers);
    const words = await screen.findByText(/Floor “Least margin”/);
    expect(words).toHaveTextContent('the least is 1.56 EUR, short by 0.15; needs the approval of a second person.');
    expect(screen.getByText('3 more would cost 2.10 EUR less in all.')).toBeInTheDocument();
    expect(screen.getByText(/50 and more: 6 % off/)).toBeInTheDocument();
  });

  it('asks for approval against the version that was seen; a refusal is shown', async () => {
    const user = userEvent.setup();
    const sent = visit('/quotes/9', {
      ...answers,
      'POST /quotes/9/ask': new Refusal(409, {
        code: 'changed_meanwhile',
        message: 'Quote 2026-0009 was changed by someone else',
      }),
    });
    await user.click(await screen.findByRole('button', { name: 'Ask for approval' }));
    expect(sent[0]).toMatchObject({ path: '/quotes/9/ask', body: { version: 2 } });
    expect(await screen.findByText(/was changed by someone else/)).toBeInTheDocument();
    expect(screen.queryByRole('button', { name: 'Issue' })).toBeNull();
  });

  it('whoever wrote it is not offered to approve it; a second person is', async () => {
    visit('/quotes/9', { ...answers, 'GET /quotes/9': { ...quote, state: 'waiting' } });
    await screen.findByText(/Waiting for approval: one line is under a floor/);
    expect(screen.queryByRole('button', { name: 'Approve' })).toBeNull();
  });

  it('the second person’s yes carries the note', async () => {
    const user = userEvent.setup();
    const waiting: QuoteView = { ...quote, state: 'waiting', writtenById: '8' };
    const sent: Sent[] = visit(
      '/quotes/9',
      { ...answers, 'GET /quotes/9': waiting, 'POST /quotes/9/decide': { ...waiting, state: 'approved' } },
      ['read', 'see_cost', 'approve'],
    );
    await user.type(await screen.findByLabelText('Note'), 'this once');
    await user.click(screen.getByRole('button', { name: 'Approve' }));
    await waitFor(() =>
      expect(sent[0]).toMatchObject({
        path: '/quotes/9/decide',
        body: { version: 2, decision: 'approved', note: 'this once' },
      }),
    );
  });
});

describe('an issued quote', () => {
  it('cannot be changed, only copied, and explains every line', async () => {
    const user = userEvent.setup();
    visit('/quotes/9', { ...answers, 'GET /quotes/9': { ...quote, state: 'issued' } });
    await screen.findByRole('button', { name: 'Copy to a new quote' });
    expect(screen.queryByRole('textbox', { name: 'Quantity, line 1' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Why: build-up of line 1' }));
    expect(await screen.findByText('Build-up of line 1')).toBeInTheDocument();
    expect(screen.getByText('Counter').closest('s')).not.toBeNull();
  });

  it('a seller without the right sees no margin', async () => {
    visit(
      '/quotes/9',
      {
        ...answers,
        'GET /quotes/9': { ...quote, figures: { ...figures, margin: null, lines: [{ ...line, margin: null }] } },
      },
      RIGHTS.filter((r) => r !== 'see_cost'),
    );
    await screen.findByText(/Floor “Least margin”/);
    expect(screen.queryByRole('columnheader', { name: 'margin, %' })).toBeNull();
    expect(screen.queryByText('margin of the whole')).toBeNull();
  });
});

describe('what is for the whole of a quote', () => {
  it('a charge is put on a part of it, with a reduction on the whole and what the customer was told', async () => {
    const user = userEvent.setup();
    const sent = visit('/quotes/9', {
      ...answers,
      'GET /quotes/9': {
        ...quote,
        figures: {
          ...figures,
          reduction: { asked: '20.00', given: '12.00', possible: '12.00', goods: '84.60', refused: 'too deep' },
        },
      },
      'PUT /quotes/9': quote,
    });
    // more than the floors leave says so, with what is possible
    expect(await screen.findByText(/12\.00 possible/)).toHaveTextContent('too deep');
    await user.click(screen.getByRole('checkbox', { name: 'in parts' }));
    await user.type(screen.getByRole('combobox', { name: 'Part of the quote, line 1' }), 'rigging');
    await choose(user, screen.getByLabelText('A charge to add'), '6');
    await user.click(screen.getByRole('button', { name: 'Add the charge' }));
    await user.click(
      within(screen.getByRole('group', { name: 'Delivery: on' })).getByRole('checkbox', { name: 'rigging' }),
    );
    await choose(user, screen.getByLabelText('Reduction on the whole'), 'percent_off');
    await user.clear(screen.getByLabelText('Value of the reduction on the whole'));
    await user.type(screen.getByLabelText('Value of the reduction on the whole'), '5');
    await user.type(screen.getByLabelText(/^The customer was told/), '90');
    expect(await screen.findByText('the sum is more by')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Keep the quote' }));
    await waitFor(() => expect(sent.at(-1)?.method).toBe('PUT'));
    expect(sent.at(-1)!.body).toMatchObject({
      lines: [{ section: 'rigging' }],
      charges: [{ charge: '6', sections: ['rigging'], periods: null }],
      reduction: { kind: 'percent_off', value: '5', sections: [] },
      estimate: '90',
    });
  });
});
