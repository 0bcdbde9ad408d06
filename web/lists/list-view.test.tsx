import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it } from 'vitest';
import type { BuildUp, ListPrices } from '#contract/lists.ts';
import { RIGHTS } from '#contract/people.ts';
import { type Answers, Refusal, type Sent, visit } from '../tests/visit.tsx';
import { listAnswers } from '../tests/windows.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

const row = (
  sku: string,
  posted: string | null,
  proposed: string | null,
  more: Partial<ListPriceRow> = {},
): ListPriceRow => ({
  item: sku,
  pack: `7${sku}`,
  sku: `A${sku}`,
  name: `Item A${sku}`,
  category: 'rope',
  packName: 'each',
  posted,
  postedFrom: posted && '2026-01-01',
  proposed,
  reason: proposed === null ? `No cost is known for A${sku}.` : null,
  cost: '5',
  uplift: 'markup 62 %',
  changePercent: posted && proposed ? '3.00' : null,
  marginBefore: '30.00',
  marginAfter: '32.00',
  flag: null,
  bit: [],
  wouldFallTo: null,
  handSet: null,
  lastDay: null,
  asks: posted,
  source: posted === null ? null : 'posted',
  from: null,
  dated: null,
  usual: null,
  taxFactor: '1.2',
  depositShown: '0',
  ...more,
});
const list: ListPrices['list'] = {
  id: '4',
  version: 1,
  name: 'Counter',
  currency: 'EUR',
  taxIn: true,
  decimals: 2,
  recipe: '7',
  recipeName: 'Recipe',
};
const rows = [
  row('1', '10.00', '10.30'),
  row('2', '20.00', '20.00', { changePercent: '0.00' }),
  row('3', null, '7.95'),
  row('4', '50.00', '78.99', { flag: 'floor_above_ceiling', bit: ['least margin', 'not above RRP'] }),
  row('5', '9.00', null),
];
const buildUp: BuildUp = {
  item: { id: '1', sku: 'A1', name: 'Item A1' },
  pack: { id: '71', name: 'each', units: '1' },
  list: { id: '4', name: 'Counter', currency: 'EUR', taxIn: true },
  day: '2026-03-09',
  posted: {
    price: '10.00',
    from: '2026-01-01',
    lastDay: null,
    posting: '12',
    by: 'Marit',
    at: '2026-01-01T10:00:00Z',
    reason: 'first prices',
    handSet: null,
  },
  postedSteps: [
    {
      kind: 'cost',
      operation: { op: 'start', value: '4.80' },
      before: null,
      after: '4.8',
      currency: 'EUR',
      per: 'unit',
    },
  ],
  computed: {
    price: '10.30',
    recipePrice: '10.30',
    net: '8.5833',
    markup: '71.67',
    margin: '41.75',
    taxInPrice: '1.72',
    costSteps: [],
    steps: [
      {
        kind: 'cost',
        operation: { op: 'start', value: '5' },
        before: null,
        after: '5',
        currency: 'EUR',
        per: 'unit',
        lost: [{ name: 'Dear supplier', why: 'not the preferred supplier', figure: '6' }],
      },
      {
        kind: 'uplift',
        operation: { op: 'times', value: '1.62' },
        before: '5',
        after: '8.1',
        currency: 'EUR',
        per: 'pack',
        rule: { kind: 'recipe', id: '7', version: 3, name: 'Recipe' },
        facts: { uplift: 'markup 62 %' },
      },
      {
        kind: 'guard',
        operation: { op: 'set', value: '10.30' },
        before: '8.1',
        after: '10.3',
        currency: 'EUR',
        per: 'pack',
        flag: 'bit',
        facts: { 'least price': '10.3' },
      },
    ],
  },
  reason: null,
};
const answers = {
  'GET /lists': [{ id: '4', version: 1, name: 'Counter', currency: 'EUR', taxIn: true }],
  ...listAnswers(list, rows),
  'GET /lists/4/build-up/1/71': buildUp,
  'GET /lists/4/build-up/2/72': buildUp,
};

const cell = (r: number, c: number) => document.querySelector<HTMLElement>(`[data-cell="${r},${c}"]`)!;
const openPosting = async (user: ReturnType<typeof userEvent.setup>) => {
  await user.click(await screen.findByRole('button', { name: /^Post \d+ (changes?|typed prices?) …$/ }));
  return screen.findByRole('dialog');
};

beforeEach(() => localStorage.clear());

describe('a list, posted beside computed', () => {
  it('says beforehand that a lockstep group stands in the ledger once', async () => {
    const user = userEvent.setup();
    const key = 'POST /lists/4/to-post';
    const once = (sent: Sent) => ({ ...((answers as Answers)[key] as (s: Sent) => object)(sent), posts: 1 });
    visit('/lists/4', { ...answers, [key]: once });
    expect(await openPosting(user)).toHaveTextContent(
      'in EUR. Lockstep groups are posted once for all of their items: 1 in the ledger. It can be reversed.',
    );
  });
  it('posts what differs, with what was seen; held and uncomputed prices are left out', async () => {
    const user = userEvent.setup();
    const sent = visit('/lists/4', {
      ...answers,
      'POST /lists/4/shown-postings': { postings: ['31'], lines: 2, request: null },
    });
    const dialog = await openPosting(user);
    expect(dialog).toHaveTextContent('This changes 2 of the 5 prices on one list, in EUR. It can be reversed.');
    expect(within(dialog).getByRole('button', { name: 'Post 2 prices' })).toBeDisabled();
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'new costs');
    await user.click(within(dialog).getByRole('button', { name: 'Post 2 prices' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toEqual({
      arranged: { sort: '', down: false, filters: [], find: '', show: 'all' },
      typed: [],
      what: 'changes',
      confirmed: false,
      effective: '2026-03-09',
      lastDay: null,
      reason: 'new costs',
      typedReason: '',
      // whatever has changed since refuses it
      state: '1.2.3/2026-03-09',
    });
  });

  it('that needs a second person says so before, and that it waits after', async () => {
    const user = userEvent.setup();
    const would = (answers as Answers)['POST /lists/4/to-post'] as (sent: Sent) => object;
    visit('/lists/4', {
      ...answers,
      'POST /lists/4/to-post': (sent: Sent) => ({ ...would(sent), secondPerson: true }),
      'POST /lists/4/shown-postings': { postings: [], lines: 2, request: '7' },
    });
    const dialog = await openPosting(user);
    expect(await within(dialog).findByRole('alert')).toHaveTextContent('A second person has to agree');
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'new costs');
    await user.click(within(dialog).getByRole('button', { name: 'Ask for 2 prices to be posted' }));
    expect(await screen.findByText('2 prices on Counter wait for a second person (request 7).')).toBeInTheDocument();
  });

  it('typed prices are released together, from the look that shows them', async () => {
    const user = userEvent.setup();
    const typed = rows.map((r, n) => (n < 2 ? { ...r, handSet: 'fair' } : r));
    const would = listAnswers(list, typed)['POST /lists/4/to-post'] as (sent: Sent) => object;
    // stands typed at 10.00; its recipe makes 12.00, which leaves 50 % on a cost of 5 with a fifth of tax
    const row = { ...typed[0]!, proposed: '10.00', changePercent: '0.00' };
    const sent = visit('/lists/4?show=hand', {
      ...answers,
      ...listAnswers(list, typed),
      'POST /lists/4/to-post': (asked: Sent) => ({
        ...would(asked),
        ...((asked.body as { what: string }).what === 'releases'
          ? { largest: [{ row, after: '12.00', typed: false }] }
          : {}),
      }),
      'POST /lists/4/shown-postings': { postings: ['31'], lines: 2, request: null },
    });
    await user.click(await screen.findByRole('button', { name: 'Release 2 typed prices …' }));
    const dialog = await screen.findByRole('dialog');
    expect(dialog).toHaveTextContent('They follow their recipe again');
    const line = await within(dialog).findByRole('row', { name: /A1/ });
    expect(line).toHaveTextContent(/10\.00.*12\.00.*\+20\.00.*30\.00.*50\.00/);
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'the fair is over');
    await user.click(within(dialog).getByRole('button', { name: /^Release \d+ prices?$/ }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({ what: 'releases', typed: [], arranged: { show: 'hand' } });
  });

  it('what has changed since is shown with both figures, and the dialog stays', async () => {
    const user = userEvent.setup();
    const moved = { sku: 'A1', seen: { before: '10.00', after: '10.30' }, now: { before: '10.00', after: '11.15' } };
    visit('/lists/4', {
      ...answers,
      'POST /lists/4/shown-postings': new Refusal(409, {
        code: 'prices_changed_meanwhile',
        message: 'Since you looked, 1 of these prices have changed.',
        current: [moved],
      }),
    });
    const dialog = await openPosting(user);
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'new costs');
    await user.click(within(dialog).getByRole('button', { name: 'Post 2 prices' }));
    expect(await within(dialog).findByText('11.15')).toBeInTheDocument();
    expect(within(dialog).getByLabelText('Why (stands in the ledger)')).toHaveValue('new costs');
  });

  it('a price typed over the computed one says that it was typed, until when, and why', async () => {
    const user = userEvent.setup();
    const sent = visit('/lists/4', {
      ...answers,
      'POST /lists/4/shown-postings': { postings: ['31'], lines: 3, request: null },
    });
    await screen.findByText('Item A2');
    fireEvent.pointerDown(cell(1, 4), { button: 0 });
    await user.keyboard('19.50{Enter}');
    await waitFor(() => expect(cell(1, 4)).toHaveTextContent('19.50'));
    const dialog = await openPosting(user);
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'fair');
    // one's own goes first: what the recipes propose goes along only where that is chosen
    expect(within(dialog).getByRole('radio', { name: 'My 1 typed price' })).toBeChecked();
    expect(within(dialog).getByRole('button', { name: 'Post 1 price' })).toBeInTheDocument();
    await user.click(within(dialog).getByRole('radio', { name: 'Both, 3 prices' }));
    const post = await within(dialog).findByRole('button', { name: 'Post 3 prices' });
    await user.type(within(dialog).getByLabelText('Last day'), '20.3.2026{Tab}');
    await user.type(within(dialog).getByLabelText(/Why 1 price is typed/), 'boat fair');
    await user.click(post);
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({
      typed: [{ item: '2', pack: '72', after: '19.50' }],
      reason: 'fair',
      typedReason: 'boat fair',
      lastDay: '2026-03-20',
    });
  });

  it('prices that would hurt are named with their limits, and posted only once that is confirmed', async () => {
    const user = userEvent.setup();
    const would = (answers as Answers)['POST /lists/4/to-post'] as (sent: Sent) => { harms: object };
    const at = { sku: 'A2', name: 'Item A2', packName: 'each', after: '4.60', harm: 'below_cost', at: '39.70' };
    const sent = visit('/lists/4', {
      ...answers,
      'POST /lists/4/to-post': (asked: Sent) => {
        const usual = would(asked);
        return { ...usual, harms: { ...usual.harms, below_cost: 1, under_map: 2 }, harmed: [at] };
      },
      'POST /lists/4/shown-postings': { postings: ['31'], lines: 2, request: null },
    });
    const dialog = await openPosting(user);
    expect(await within(dialog).findByRole('row', { name: /A2.*4\.60.*39\.70/ })).toBeInTheDocument();
    await user.type(within(dialog).getByLabelText('Why (stands in the ledger)'), 'fair');
    const post = within(dialog).getByRole('button', { name: 'Post 2 prices' });
    expect(post).toBeDisabled();
    await user.click(
      within(dialog).getByRole('checkbox', {
        name: /1 price falls below its landed cost · 2 prices fall under the MAP/,
      }),
    );
    await user.click(post);
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({ confirmed: true });
  });

  it('a price typed as it is computed was not typed, and undoing leaves nothing behind', async () => {
    const user = userEvent.setup();
    visit('/lists/4', answers);
    await screen.findByText('Item A1');
    fireEvent.pointerDown(cell(0, 4), { button: 0 });
    await user.keyboard('11{Enter}');
    expect(await screen.findByRole('button', { name: 'Drop 1 typed price' })).toBeInTheDocument();
    await user.keyboard('{Control>}z{/Control}');
    await waitFor(() => expect(screen.queryByRole('button', { name: /^Drop/ })).toBeNull());
    fireEvent.pointerDown(cell(0, 4), { button: 0 });
    await user.keyboard('10.3{Enter}');
    expect(screen.queryByRole('button', { name: /^Drop/ })).toBeNull();
  });

  it('a price of 0 or less is not taken, and says so', async () => {
    const user = userEvent.setup();
    visit('/lists/4', answers);
    await screen.findByText('Item A1');
    fireEvent.pointerDown(cell(0, 4), { button: 0 });
    await user.keyboard('0{Enter}');
    expect(await screen.findByText('a price must be more than 0')).toBeInTheDocument();
  });

  it('only what the filter shows is posted', async () => {
    const user = userEvent.setup();
    visit('/lists/4', answers);
    await user.type(await screen.findByRole('searchbox', { name: 'Find in prices' }), 'A3');
    expect(await screen.findByRole('button', { name: 'Post 1 change …' })).toBeEnabled();
  });

  it('the look at held prices says which guards stand against each other', async () => {
    const user = userEvent.setup();
    visit('/lists/4', answers);
    await user.click(await screen.findByRole('button', { name: '1 held' }));
    await waitFor(() => expect(cell(0, 0)).toHaveTextContent('A4'));
    expect(cell(1, 0)).toBeNull();
  });

  it('a seller sees what is posted, and neither cost, margin nor a way to post', async () => {
    visit('/lists/4', answers, ['read', 'write_quotes']);
    await screen.findByText('Item A1');
    const heads = screen.getAllByRole('columnheader').map((h) => h.querySelector('button')?.textContent);
    expect(new Set(heads)).toEqual(
      new Set(['SKU', 'Item', 'Pack', 'asked, EUR', 'where it is from', 'posted, EUR', 'from']),
    );
    expect(screen.queryByRole('button', { name: /^Post/ })).toBeNull();
  });

  it('a day gone by is shown as it was, and nothing can be posted on it', async () => {
    visit('/lists/4?day=2026-02-01', answers);
    expect(await screen.findByText('as it was on that day')).toBeInTheDocument();
    await screen.findByText('Item A1');
    expect(screen.queryByRole('button', { name: /^Post/ })).toBeNull();
  });
});

describe('the build-up of a price', () => {
  const panel = () => screen.findByRole('complementary', { name: 'Build-up' });

  it('goes from cost to the final figure, with rules as links, guards that bit, and suppliers that lost', async () => {
    visit('/lists/4', answers);
    await screen.findByText('Item A1');
    act(() => void fireEvent.pointerDown(cell(0, 3), { button: 0 }));
    const aside = await panel();
    expect(await within(aside).findByRole('link', { name: 'Recipe' })).toHaveAttribute('href', '/recipes/7');
    expect(within(aside).getByText(/changed the price; before 8.1/)).toBeInTheDocument();
    expect(within(aside).getByText('Dear supplier 6').closest('s')).not.toBeNull();
    expect(within(aside).getByText('71.67')).toBeInTheDocument();
    expect(within(aside).getByRole('link', { name: 'posting 12' })).toHaveAttribute('href', '/ledger/12');
  });

  it('can be read as it was when the price was posted', async () => {
    const user = userEvent.setup();
    visit('/lists/4?at=1-71', answers, RIGHTS);
    const aside = await panel();
    await user.click(await within(aside).findByRole('button', { name: 'as posted' }));
    expect(within(aside).getByText('4.80')).toBeInTheDocument();
    expect(within(aside).queryByText('71.67')).toBeNull();
  });
});

it('a list that cannot be computed says why', async () => {
  const sent: Sent[] = visit('/lists/4', {
    ...answers,
    'GET /lists/4/prices': new Refusal(404, { code: 'not_found', message: 'The price list 4 does not exist.' }),
  });
  expect(await screen.findByRole('alert')).toHaveTextContent('The price list 4 does not exist.');
  expect(sent).toEqual([]);
});

describe('what a list asks', () => {
  it('says where each price is from: inherited ones and those of some days are told apart', async () => {
    const user = userEvent.setup();
    const dated = { from: '2026-03-01', to: '2026-03-20' };
    visit(
      '/lists/4',
      {
        ...listAnswers(list, [
          row('1', '10.00', null, { asks: '9.00', source: 'entry', dated, usual: '10.00' }),
          row('2', null, null, { asks: '7.50', source: 'parent', from: 'Trade' }),
          row('3', null, null),
        ]),
      },
      ['read'],
    );
    expect(
      await screen.findByText('entry of this list from 01/03/2026 until 20/03/2026, else 10.00'),
    ).toBeInTheDocument();
    expect(screen.getByText('inherited from Trade')).toHaveClass('text-faint');
    expect(screen.getByText('not sold')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: /inherited/ }));
    await waitFor(() => expect(screen.queryByText('not sold')).toBeNull());
    expect(screen.getByText('inherited from Trade')).toBeInTheDocument();
  });
});
