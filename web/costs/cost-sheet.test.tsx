import { fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { type RowMoves, type SheetRow, type SheetRows, takingOf } from '#contract/cost-rows.ts';
import { type CostChange, type CostSupplier, type SheetEffect, type SheetView, needsLook } from '#contract/costs.ts';
import { choose } from '../tests/choose.ts';
import { Refusal, visit } from '../tests/visit.tsx';
import { windowOf } from '../tests/windows.ts';

const change = (row: number, kind: CostChange['kind'], more: Partial<CostChange> = {}): CostChange => ({
  row,
  code: `R${row}`,
  item: '1',
  sku: `BL-${row}`,
  name: 'Braided line',
  kind,
  before: { amount: '214.50', currency: 'GBP', packUnits: '220', from: '2026-01-01' },
  after: { amount: '220.00', currency: 'GBP', packUnits: '220', from: '2026-03-09' },
  changePercent: '2.56',
  flags: [],
  ...more,
});
const changes = [
  change(2, 'up'),
  change(3, 'down', {
    flags: ['decimal_shift'],
    because: { decimal_shift: { times: '10' } },
    changePercent: '-90',
    after: { amount: '21.45', currency: 'GBP', packUnits: '220', from: '2026-03-09' },
  }),
  change(4, 'unknown', { item: null, sku: null, before: null, changePercent: null }),
];
const sheet: SheetView = {
  id: '2',
  version: 3,
  supplier: '1',
  supplierName: 'Rope works',
  fileName: 'costs.csv',
  state: 'waiting',
  arrivedAt: '2026-03-08T10:00:00Z',
  broughtBy: 'Marit',
  takenInAt: null,
  byItself: false,
  reason: null,
  origin: 'file',
  bytes: 120,
  layout: { like: null, gone: [], fresh: [], rewritten: false },
  pages: [],
  said: { count: 0, rows: [] },
  faulty: { 5: { cells: ['R5', 'auf Anfrage', '220'], said: null } },
  taking: takingOf(changes),
  takenFrom: null,
  match: {
    encoding: 'utf-8',
    delimiter: ';',
    page: null,
    skip: 0,
    headerRows: 1,
    known: 'leave',
    decimal: ',',
    thousands: '.',
    dates: 'iso',
    columns: { code: 0, cost: 1 },
    quantityColumns: [],
    validFrom: '2026-03-09',
    newItems: 'leave_out',
    category: null,
    taxClass: null,
  },
  header: ['Code', 'Preis', 'Inhalt'],
  sample: [['R2', '220,00', '220']],
  rowCount: 4,
  faults: [{ row: 5, column: 'Preis', value: 'auf Anfrage', code: 'not_a_number', field: 'cost' }],
  counts: { new: 0, up: 1, down: 1, unchanged: 0, unknown: 1, faulty: 1, leftOut: 0, held: 0, taken: 0, suspicious: 1 },
};
const effect: SheetEffect = {
  state: '3/1.2.3',
  day: '2026-03-15',
  prices: 5,
  lists: [{ list: '1', name: 'Counter', prices: 5, rises: 3, falls: 2, least: '-88.20', most: '2.10' }],
};
const moves: Record<number, RowMoves> = {
  2: { prices: 3, lists: 1, least: '1.90', most: '2.10' },
  3: { prices: 2, lists: 1, least: '-88.20', most: '-80.00' },
};
/** A server's answer to a question for rows; what they would move once it is asked by the state of that. */
const rowsOf =
  (all: readonly SheetRow[]) =>
  (of: { path: string }): SheetRows => {
    const query = new URLSearchParams(of.path.split('?')[1]);
    const show = query.get('show');
    const fit = all.filter((c) => show === null || (show === 'flagged' ? needsLook(c) : c.kind === show));
    const known = query.get('moves') === effect.state;
    const rows = fit.map((c) => (known && moves[c.row] ? { ...c, moves: moves[c.row]! } : c));
    return { ...windowOf(rows, of), version: sheet.version };
  };
const suppliers: CostSupplier[] = [
  {
    id: '1',
    name: 'Rope works',
    currency: 'GBP',
    follow: false,
    posts: [],
    lastArrival: '2026-03-08T10:00:00Z',
    waiting: 1,
  },
];
const answers = {
  'GET /cost-sheets': [sheet],
  'GET /cost-sheets/2': sheet,
  'GET /cost-sheets/2/rows': rowsOf(changes),
  'GET /cost-sheets/2/effect': effect,
  'GET /cost-suppliers': suppliers,
  'GET /connections': [],
  'GET /suppliers': [{ id: '1', version: 1, name: 'Rope works', currency: 'GBP' }],
  'GET /categories': [{ id: '6', version: 1, name: 'rope' }],
  'GET /tax-rates': [{ id: '1', version: 1, taxClass: 'standard' }],
};

describe('a cost sheet before it is taken in', () => {
  it('counts what would change, and shows what needs a look', async () => {
    const user = userEvent.setup();
    visit('/costs/2', answers);
    for (const name of ['1 up', '1 down', '1 unknown code', '1 need a look', '1 cannot be read'])
      await screen.findByRole('button', { name });
    await user.click(screen.getByRole('button', { name: '1 need a look' }));
    expect(await screen.findByText('1 row')).toBeInTheDocument();
    expect(screen.getByText(/decimal mark shifted/)).toBeInTheDocument();
  });

  it('names every row that cannot be read: row, column, value and why', async () => {
    const user = userEvent.setup();
    visit('/costs/2', answers);
    await user.click(await screen.findByRole('button', { name: '1 cannot be read' }));
    const line = screen.getByText('auf Anfrage').closest('tr')!;
    expect(
      within(line)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual(['5', 'Preis', 'auf Anfrage', 'is not a number in the chosen form', 'correctleave out']);
  });

  it('warns once more before it takes in, and says what waits', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'POST /cost-sheets/2/take-in': { costs: 2, newItems: 0, leftOut: 0, waiting: 2, worksheet: null, later: false },
    });
    await user.click(await screen.findByRole('button', { name: 'Take in …' }));
    const dialog = await screen.findByRole('dialog');
    expect(dialog).toHaveTextContent('1 row: decimal mark shifted?');
    expect(dialog).toHaveTextContent(
      'row 3, BL-3: 214.50 GBP for 220 → 21.45 GBP for 220; decimal mark shifted? near 10 times as much or as little',
    );
    expect(dialog).toHaveTextContent('1row cannot be read');
    expect(dialog).toHaveTextContent('5 computed prices on 1 list');
    await user.click(within(dialog).getByRole('button', { name: 'Take in 2 costs' }));
    await waitFor(() => expect(sent[0]!.body).toEqual({ version: 3, rows: null, rest: 'waits' }));
    expect(await screen.findByText('2 costs taken in, 2 rows wait on.')).toBeInTheDocument();
  });

  it('says which prices it would move, beside each row and list by list', async () => {
    const user = userEvent.setup();
    visit('/costs/2', answers);
    await user.click(await screen.findByRole('button', { name: '5 prices on 1 list would move' }));
    const line = (await screen.findByRole('link', { name: 'Counter' })).closest('tr')!;
    expect(
      within(line)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual(['Counter', '5', '3', '2', '▼ −88.20 %', '▲ +2.10 %']);
  });

  it('a row is taken in alone, held with a reason, or let go again', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'POST /cost-sheets/2/take-in': { costs: 1, newItems: 0, leftOut: 0, waiting: 3, worksheet: null, later: false },
      'PUT /cost-sheets/2/rows': sheet,
    });
    await user.click(await screen.findByRole('button', { name: 'Take in row 2' }));
    await waitFor(() => expect(sent[0]!.body).toEqual({ version: 3, rows: [2], rest: 'waits' }));
    await user.click(screen.getByRole('button', { name: 'Hold …' }));
    await user.type(within(await screen.findByRole('dialog')).getByLabelText('Why'), 'asked{Enter}');
    await waitFor(() =>
      expect(sent[1]!.body).toEqual({
        version: 3,
        rows: [{ row: 2, decision: 'held', reason: 'asked', cells: {}, add: null }],
      }),
    );
  });

  it('rows that were never on screen are fetched before they are decided; those that can be are', async () => {
    const user = userEvent.setup();
    const many = Array.from({ length: 700 }, (_, i) => change(i + 2, i % 100 === 0 ? 'unchanged' : 'up'));
    const sent = visit('/costs/2', {
      ...answers,
      'GET /cost-sheets/2/rows': rowsOf(many),
      'PUT /cost-sheets/2/rows': sheet,
    });
    const grid = await screen.findByRole('grid', { name: 'What the sheet would change' });
    grid.focus();
    await user.keyboard('{Control>}a{/Control}');
    expect(screen.getByRole('button', { name: 'Take in what can be of 700' })).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Leave out 700 rows …' }));
    const dialog = await screen.findByRole('dialog', { name: 'Leave out 693 rows' });
    await user.click(within(dialog).getByRole('button', { name: 'Leave out 693 rows' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    const { rows } = sent[0]!.body as { rows: { row: number; decision: string }[] };
    expect(rows.map((r) => r.row)).toEqual(many.flatMap((c) => (c.kind === 'up' ? [c.row] : [])));
  });

  it('what is decided names the version of the rows that are seen, not one that came meanwhile', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'GET /cost-sheets/2': { ...sheet, version: 4 },
      'POST /cost-sheets/2/take-in': new Refusal(409, { code: 'changed_meanwhile', message: 'Changed meanwhile.' }),
    });
    await user.click(await screen.findByRole('button', { name: 'Take in row 2' }));
    await waitFor(() => expect(sent[0]!.body).toEqual({ version: 3, rows: [2], rest: 'waits' }));
    expect(await screen.findByText('Changed meanwhile.')).toBeInTheDocument();
  });

  it('an unknown code is matched to an item that the server finds, for this file and later ones', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'GET /cost-sheets/2/rows': rowsOf([changes[2]!]),
      'GET /items-found': [
        {
          id: '7',
          sku: 'BL-12',
          name: 'Braided line 12 mm',
          packs: [{ id: '8', name: 'metre', units: '1', barcode: null }],
        },
      ],
      'POST /cost-sheets/2/codes': sheet,
    });
    await user.click(await screen.findByRole('button', { name: 'Row 4 …' }));
    const dialog = await screen.findByRole('dialog');
    await user.type(within(dialog).getByRole('combobox', { name: /our item/ }), 'bl-12');
    await user.click(await screen.findByRole('option', { name: /BL-12/ }));
    await waitFor(() => expect(sent[0]!.body).toEqual({ version: 3, code: 'R4', item: '7' }));
  });

  it('one laid out otherwise than the last says how', async () => {
    const like = { id: '1', fileName: 'february.csv', arrivedAt: '2026-02-08T10:00:00Z' };
    const layout = { like, gone: ['Menge'], fresh: ['Inhalt'], rewritten: true };
    visit('/costs/2', { ...answers, 'GET /cost-sheets/2': { ...sheet, layout } });
    const said = await screen.findByRole('alert');
    expect(said).toHaveTextContent(
      'Laid out otherwise than february.csv, 08/02/2026: without “Menge”; with “Inhalt”; numbers or days are written otherwise; look at how it is read.',
    );
  });

  it('one bad row is corrected, another left out, and either can be read as it came again', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'GET /cost-sheets/2': {
        ...sheet,
        said: { count: 1, rows: [{ row: 7, said: { decision: 'left_out' }, taken: false }] },
      },
      'PUT /cost-sheets/2/rows': sheet,
    });
    await user.click(await screen.findByRole('button', { name: /1 cannot be read/ }));
    await user.click(screen.getByRole('button', { name: 'correct' }));
    const dialog = await screen.findByRole('dialog');
    const cost = within(dialog).getByRole('textbox', { name: /^cost per cost pack/ });
    expect(cost).toHaveFocus();
    expect(cost).toHaveAttribute('placeholder', 'auf Anfrage');
    await user.type(cost, '221,00');
    await user.click(within(dialog).getByRole('button', { name: 'Read the row this way' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    await user.click(screen.getByRole('button', { name: 'leave out' }));
    await user.click(screen.getByRole('button', { name: 'read as it came' }));
    const said = (row: number, decision: string, cells = {}) => [{ row, decision, reason: null, cells, add: null }];
    await waitFor(() =>
      expect(sent.map((s) => (s.body as { rows: unknown }).rows)).toEqual([
        said(5, 'read', { cost: '221,00' }),
        said(5, 'left_out'),
        said(7, 'read'),
      ]),
    );
  });

  it('a corrected match is sent whole; unknown codes can become new items', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', { ...answers, 'PUT /cost-sheets/2/match': sheet });
    await user.click(await screen.findByRole('button', { name: 'How the file is read' }));
    await choose(user, screen.getByLabelText('units in the cost pack'), '2');
    await choose(user, screen.getByLabelText('Numbers are written like'), '.,');
    await choose(user, screen.getByLabelText('Codes nobody knows'), 'add');
    await user.type(screen.getByRole('combobox', { name: 'New items go into the category' }), 'rop{Enter}');
    await choose(user, screen.getByLabelText('with the tax class'), 'standard');
    await user.click(screen.getByRole('button', { name: 'Read the file this way' }));
    await waitFor(() => expect(sent).toHaveLength(1));
    expect(sent[0]!.body).toMatchObject({
      version: 3,
      match: {
        columns: { code: 0, cost: 1, packUnits: 2 },
        decimal: '.',
        thousands: ',',
        newItems: 'add',
        category: '6',
        taxClass: 'standard',
      },
    });
  });

  it('one that was taken in can only be read', async () => {
    visit('/costs/2', { ...answers, 'GET /cost-sheets/2': { ...sheet, state: 'taken_in' } });
    await screen.findByText(/· taken in/);
    expect(screen.queryByRole('button', { name: 'Take in …' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Turn down …' })).toBeNull();
  });

  it('one that was taken in can be taken back whole, once somebody has said yes', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs/2', {
      ...answers,
      'GET /cost-sheets/2': {
        ...sheet,
        state: 'taken_in',
        counts: { ...sheet.counts, taken: 2 },
      },
      'POST /cost-sheets/2/take-back': { costs: 2 },
    });
    await user.click(await screen.findByRole('button', { name: 'Take back …' }));
    const dialog = await screen.findByRole('dialog');
    expect(dialog).toHaveTextContent('Its 2 costs count for nothing any more');
    await user.click(within(dialog).getByRole('button', { name: 'Take the whole sheet back' }));
    await waitFor(() => expect(sent[0]).toMatchObject({ path: '/cost-sheets/2/take-back', body: { version: 3 } }));
  });
});

describe('bringing one in', () => {
  it('a file that cannot be read says what to do, and the choice is kept', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs?bring=1', {
      ...answers,
      'POST /cost-sheets': new Refusal(422, {
        code: 'sheet_unreadable',
        message: 'The file cannot be read as a table: it is empty.',
      }),
    });
    await user.type(await screen.findByRole('combobox', { name: 'Supplier' }), 'rope{Enter}');
    await screen.findByRole('button', { name: 'Take away Rope works, Supplier' });
    const file = new File([''], 'empty.csv', { type: 'text/csv' });
    fireEvent.change(document.querySelector('input[type=file]')!, { target: { files: [file] } });
    await user.click(screen.getByRole('button', { name: 'Read the file' }));
    expect(await screen.findByText(/cannot be read as a table/)).toBeInTheDocument();
    expect(sent[0]!.path).toBe('/cost-sheets?supplier=1&file=empty.csv');
    expect(screen.getByRole('button', { name: 'Take away Rope works, Supplier' })).toBeInTheDocument();
  });
});

describe('the inbox', () => {
  it('says of every arrival what is in it, and whose costs follow by themselves', async () => {
    const user = userEvent.setup();
    const settled = { ...sheet, id: '1', fileName: 'last.csv', state: 'set_aside' as const, reason: 'last year’s' };
    const sent = visit('/costs', {
      ...answers,
      'GET /cost-sheets': [sheet, settled],
      'GET /bills': [],
      'PUT /cost-suppliers/1': { follow: true },
    });
    const waits = within(await screen.findByRole('region', { name: 'Waits' })).getAllByRole('row')[1]!;
    expect(
      within(waits)
        .getAllByRole('cell')
        .map((c) => c.textContent),
    ).toEqual(['costs.csv', 'Rope works', expect.any(String), '1', '1', '', '1', '1', '1', 'waits']);
    expect(within(screen.getByRole('region', { name: 'Settled' })).getByText('turned down: last year’s')).toBeVisible();
    await user.click(screen.getByRole('checkbox', { name: 'Costs of Rope works follow by themselves' }));
    await waitFor(() => expect(sent[0]).toMatchObject({ path: '/cost-suppliers/1', body: { follow: true } }));
  });

  it('cells pasted from a spreadsheet come in like a file', async () => {
    const user = userEvent.setup();
    const sent = visit('/costs?bring=1', { ...answers, 'POST /cost-sheets': { id: '2', byItself: false } });
    await user.type(await screen.findByRole('combobox', { name: 'Supplier' }), 'rope{Enter}');
    await screen.findByRole('button', { name: 'Take away Rope works, Supplier' });
    await user.click(screen.getByLabelText(/or cells/));
    await user.paste('Code\tCost\nR1\t2.50');
    await user.click(screen.getByRole('button', { name: 'Read the cells' }));
    await waitFor(() => expect(sent[0]!.path).toMatch(/^\/cost-sheets\?supplier=1&file=pasted.*\.tsv$/));
  });
});
