import { act, cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { ItemChange, ItemConflict, ItemRow } from '#contract/items.ts';
import { Refusal, type Sent, visit } from '../tests/visit.tsx';
import { windowOf } from '../tests/windows.ts';

const item = (id: string, more: Partial<ItemRow> = {}): ItemRow => ({
  id,
  sku: `BL-${id}`,
  name: `Braided line ${id}`,
  category: '1',
  categoryName: 'rope',
  brand: 'Kelwick',
  model: null,
  supplier: '1',
  supplierName: 'Rope works',
  supplierCode: `R${id}`,
  unit: 'metre',
  weightKg: '0.064',
  taxClass: 'standard',
  rrp: null,
  map: null,
  packs: [
    { id: '1', name: 'metre', units: '1', deposit: null, barcode: null },
    { id: '2', name: 'drum', units: '220', deposit: null, barcode: null },
  ],
  attributes: {},
  landed: '1.2469658',
  costReason: null,
  costFrom: '2026-01-01',
  ...more,
});
const answers = {
  'GET /items': (asked: Sent) =>
    windowOf([item('10'), item('12', { landed: null, costReason: 'No cost is known for BL-12.' })], asked),
  'GET /categories': [
    { id: '1', version: 1, name: 'rope' },
    { id: '2', version: 1, name: 'chain' },
  ],
};
const cell = (r: number, c: number) => document.querySelector<HTMLElement>(`[data-cell="${r},${c}"]`)!;
const pick = (r: number, c: number) => act(() => void fireEvent.pointerDown(cell(r, c), { button: 0 }));

describe('items in the grid', () => {
  it('two quick edits of one item follow each other, each with what it saw', async () => {
    const user = userEvent.setup();
    const sent = visit('/items', { ...answers, 'POST /items/changes': { items: 1 } });
    await screen.findByText('Braided line 10');
    pick(0, 1);
    await user.keyboard('Line{Enter}');
    pick(0, 3);
    await user.keyboard('Own brand{Enter}');
    await waitFor(() => expect(sent).toHaveLength(2));
    expect(sent.map((s: Sent) => (s.body as { changes: object[] }).changes[0])).toEqual([
      { item: '10', field: 'name', seen: 'Braided line 10', value: 'Line' },
      { item: '10', field: 'brand', seen: 'Kelwick', value: 'Own brand' },
    ]);
  });

  it('a category is typed by its name, and one that does not exist is refused on the spot', async () => {
    const user = userEvent.setup();
    const sent = visit('/items', { ...answers, 'POST /items/changes': { items: 1 } });
    await screen.findByText('Braided line 10');
    pick(0, 2);
    await user.keyboard('anvils{Enter}');
    expect(await screen.findByText('there is no category "anvils"')).toBeInTheDocument();
    await user.keyboard('{Escape}');
    await user.keyboard('Chain{Enter}');
    await waitFor(() => expect(sent).toHaveLength(1));
    expect((sent[0]!.body as { changes: object[] }).changes).toEqual([
      { item: '10', field: 'category', seen: '1', value: '2' },
    ]);
  });

  it('what the server refuses goes back, with its reason', async () => {
    const user = userEvent.setup();
    visit('/items', {
      ...answers,
      'POST /items/changes': new Refusal(422, {
        code: 'fields_wrong',
        message: 'Some fields cannot be kept.',
        faults: [{ path: 'BL-10, name, ""', message: 'must not be empty' }],
      }),
    });
    await screen.findByText('Braided line 10');
    pick(0, 1);
    await user.keyboard('Mine{Enter}');
    await waitFor(() => expect(screen.getAllByText(/must not be empty/).length).toBeGreaterThan(0));
    expect(cell(0, 1)).toHaveTextContent('Braided line 10');
  });

  it('another person’s value is never overwritten, by undo neither: both are shown, one is chosen, and it goes on', async () => {
    const user = userEvent.setup();
    const asked: ItemChange[][] = [];
    visit('/items', {
      ...answers,
      'POST /items/changes': (s: Sent) => {
        const { changes } = s.body as { changes: ItemChange[] };
        asked.push(changes);
        return changes[0]!.seen === 'Theirs' || asked.length === 1
          ? { items: 1 }
          : new Refusal(409, {
              code: 'changed_meanwhile',
              message: 'Item BL-10 was changed by Oskar.',
              current: [
                { item: '10', sku: 'BL-10', field: 'name', now: 'Theirs', value: changes[0]!.value, by: 'Oskar' },
              ] satisfies ItemConflict[],
            });
      },
    });
    await screen.findByText('Braided line 10');
    pick(0, 1);
    await user.keyboard('Mine{Enter}');
    await waitFor(() => expect(asked).toHaveLength(1));
    await user.keyboard('{Control>}z{/Control}');
    const dialog = await screen.findByRole('dialog', { name: 'Somebody else changed this meanwhile' });
    expect(asked[1]).toEqual([{ item: '10', field: 'name', seen: 'Mine', value: 'Braided line 10' }]);
    expect(dialog).toHaveTextContent('BL-10nameTheirsOskarBraided line 10');
    await user.click(within(dialog).getByRole('radio', { name: 'Braided line 10' }));
    await user.click(within(dialog).getByRole('button', { name: 'Go on with this choice' }));
    await waitFor(() => expect(asked).toHaveLength(3));
    expect(asked[2]).toEqual([{ item: '10', field: 'name', seen: 'Theirs', value: 'Braided line 10' }]);
  });

  it('the columns stay as they were arranged, also after the page was left', async () => {
    const user = userEvent.setup();
    visit('/items', answers);
    await screen.findByText('Braided line 10');
    await user.click(screen.getByRole('button', { name: 'Columns' }));
    await user.click(screen.getByRole('checkbox', { name: 'Brand' }));
    cleanup();
    visit('/items', answers);
    await screen.findByText('Braided line 10');
    expect(screen.queryByRole('button', { name: /^Brand/ })).toBeNull();
    expect(screen.getByRole('button', { name: /^Model/ })).toBeInTheDocument();
  });

  it('packs are in words, and a cost that is missing says so', async () => {
    visit('/items', answers);
    await screen.findByText('Braided line 10');
    expect(screen.getAllByText('metre, drum of 220').length).toBeGreaterThan(0);
    expect(screen.getByText('no cost')).toHaveAttribute('title', 'No cost is known for BL-12.');
  });

  it('a search from elsewhere opens on what was found', async () => {
    visit('/items?find=BL-12', answers);
    expect(await screen.findByText('1 of 2 items')).toBeInTheDocument();
  });

  it('of many only those that are looked at are fetched; a fill reaches those that are not, each with what was seen', async () => {
    const user = userEvent.setup();
    const many = Array.from({ length: 2_500 }, (_, i) => item(String(1_000 + i), { brand: `Brand ${i}` }));
    const asked: number[] = [];
    const sent = visit('/items', {
      ...answers,
      'GET /items': (one: Sent) => {
        const window = windowOf(many, one);
        asked.push(window.rows.length);
        return window;
      },
      'POST /items/changes': { items: 2_499 },
    });
    await screen.findByText('Braided line 1000');
    expect(Math.max(...asked)).toBeLessThan(400);
    pick(0, 3);
    const wanted = screen.getByRole('grid');
    await user.keyboard('{Control>}{End}{/Control}');
    fireEvent.scroll(wanted);
    expect(await screen.findByText('Braided line 3499')).toBeInTheDocument();
    expect(asked.reduce((sum, n) => sum + n, 0)).toBeLessThan(1_500);
    await user.keyboard('{Control>}{Home}{/Control}');
    fireEvent.scroll(wanted);
    await screen.findByText('Braided line 1000');
    for (let col = 0; col < 3; col++) await user.keyboard('{ArrowRight}');
    fireEvent.keyDown(wanted, { key: 'End', ctrlKey: true, shiftKey: true });
    fireEvent.keyDown(wanted, { key: 'd', ctrlKey: true });
    await waitFor(() => expect(sent).toHaveLength(1));
    const { changes } = sent[0]!.body as { changes: ItemChange[] };
    const brands = changes.filter((c) => c.field === 'brand');
    expect(brands).toHaveLength(2_499);
    expect(brands.at(-1)).toEqual({ item: '3499', field: 'brand', seen: 'Brand 2499', value: 'Brand 0' });
    expect(Math.max(...asked)).toBeLessThanOrEqual(2_000);
  });

  it('a fill over rows that stand in another order by now is not carried out, and says so', async () => {
    const many = Array.from({ length: 900 }, (_, i) => item(String(1_000 + i), { brand: `Brand ${i}` }));
    let state = '1';
    const sent = visit('/items', {
      ...answers,
      'GET /items': (one: Sent) => ({ ...windowOf(many, one), arrangement: state }),
    });
    await screen.findByText('Braided line 1000');
    pick(0, 3);
    state = '2';
    fireEvent.keyDown(screen.getByRole('grid'), { key: 'End', ctrlKey: true, shiftKey: true });
    fireEvent.keyDown(screen.getByRole('grid'), { key: 'd', ctrlKey: true });
    expect(await screen.findByText(/nothing was done/)).toBeInTheDocument();
    expect(sent).toEqual([]);
  });

  it('columns can be hidden and moved', async () => {
    const user = userEvent.setup();
    visit('/items', answers);
    await screen.findByText('Braided line 10');
    await user.click(screen.getByRole('button', { name: 'Columns' }));
    await user.click(screen.getByRole('checkbox', { name: 'Brand' }));
    await waitFor(() => expect(screen.queryByRole('button', { name: /^Brand/ })).toBeNull());
    await user.click(screen.getByRole('button', { name: 'Move Supplier to the left' }));
    expect(
      screen
        .getAllByRole('checkbox')
        .map((c) => c.parentElement!.textContent)
        .indexOf('Supplier'),
    ).toBe(4);
  });

  it('a seller reads items without their costs, and changes nothing', async () => {
    const user = userEvent.setup();
    const sent = visit(
      '/items',
      { ...answers, 'GET /items': (asked: Sent) => windowOf([item('10', { landed: null })], asked) },
      ['read', 'write_quotes'],
    );
    await screen.findByText('Braided line 10');
    expect(screen.queryByRole('button', { name: /^Landed/ })).toBeNull();
    pick(0, 1);
    await user.keyboard('x{Enter}');
    expect(sent).toEqual([]);
  });
});

describe('the costs of an item', () => {
  const typed = {
    id: '31',
    supplierName: 'Rope works',
    amount: '210.00',
    currency: 'GBP',
    quantityPrices: [],
    packUnits: '220',
    validFrom: '2026-03-01',
    origin: 'typed',
    released: false,
    enteredBy: 'Ada',
    enteredAt: '2026-03-01T10:00:00Z',
  };
  const withCosts = {
    ...answers,
    'GET /items/10/costs': [{ ...typed, id: '30', origin: 'file', amount: '214.50', validFrom: '2026-01-01' }, typed],
    'GET /suppliers': [{ id: '1', version: 1, name: 'Rope works', currency: 'GBP' }],
    'POST /costs': { id: '32' },
    'POST /costs/31/release': { released: true },
  };
  const open = async (user: ReturnType<typeof userEvent.setup>) => {
    await screen.findByText('Braided line 10');
    pick(0, 0);
    await user.click(screen.getByRole('button', { name: 'Costs of BL-10' }));
    return screen.findByRole('dialog');
  };

  it('show where each came from; a typed one holds until it is released', async () => {
    const user = userEvent.setup();
    const sent = visit('/items', withCosts);
    const dialog = await open(user);
    await waitFor(() => expect(dialog).toHaveTextContent('typed, holds against files'));
    expect(dialog).toHaveTextContent('from a file');
    await user.click(screen.getByRole('button', { name: 'release' }));
    await waitFor(() =>
      expect(sent).toEqual([{ method: 'POST', path: '/costs/31/release', body: { released: true } }]),
    );
  });

  it('can be typed, in the supplier’s currency', async () => {
    const user = userEvent.setup();
    const sent = visit('/items', withCosts);
    await open(user);
    await user.type(await screen.findByLabelText('Cost per cost pack, GBP'), '212.40');
    // the pack of the last cost stands there already
    expect(screen.getByLabelText('Units in the cost pack')).toHaveValue('220');
    await user.click(screen.getByRole('button', { name: 'Type this cost' }));
    await waitFor(() =>
      expect(sent[0]).toMatchObject({
        path: '/costs',
        body: {
          item: '10',
          supplier: '1',
          amount: '212.40',
          currency: 'GBP',
          packUnits: '220',
          validFrom: '2026-03-09',
        },
      }),
    );
  });
});
