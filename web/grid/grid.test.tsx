import { act, cleanup, createEvent, fireEvent, render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Column } from './columns.ts';
import type { Edit } from './edits.ts';
import { Grid } from './grid.tsx';
import { useSheet } from './use-sheet.ts';

interface Row {
  id: string;
  name: string;
  cost: string;
  note: string;
}
const keyOf = (r: Row) => r.id;
const read = (t: string) => (/^\d+(\.\d+)?$/.test(t) ? t : null);
const columns: Column<Row>[] = [
  { id: 'id', title: 'SKU', width: 100, value: (r) => r.id, frozen: 'start' },
  { id: 'name', title: 'Name', width: 200, value: (r) => r.name, parse: (t) => ({ ok: true, value: t }) },
  {
    id: 'cost',
    title: 'Cost',
    width: 100,
    numeric: true,
    align: 'end',
    value: (r) => r.cost,
    parse: (t) => (t === '' || read(t) ? { ok: true, value: t } : { ok: false, message: `"${t}" is not a number` }),
  },
  { id: 'note', title: 'Note', width: 120, value: (r) => r.note, frozen: 'end' },
];
const start = (count: number): Row[] =>
  Array.from({ length: count }, (_, i) => ({ id: `S-${i}`, name: `item ${i}`, cost: String(100 - i), note: '' }));
const kept = vi.fn<(edits: readonly Edit[]) => string | null>();

function Bench({ count, at = null }: { count: number; at?: string | null }) {
  const [rows, setRows] = useState(() => start(count));
  const state = useSheet({
    name: 'test',
    columns,
    rows,
    keyOf,
    read,
    onEdits: async (edits) => {
      const refusal = kept(edits);
      if (refusal === null)
        setRows((now) =>
          now.map((r) => edits.filter((e) => e.key === r.id).reduce((row, e) => ({ ...row, [e.column]: e.after }), r)),
        );
      return Promise.resolve(refusal);
    },
  });
  return (
    <>
      <p role="status">{state.notice}</p>
      <Grid state={state} label="Bench" at={at} />
      <button type="button">after</button>
    </>
  );
}

it('stands on the row that an address names, and shows it', () => {
  cleanup();
  const { rerender } = render(<Bench count={1000} at="S-700" />);
  expect(grid().getAttribute('aria-activedescendant')).toMatch(/-700-0$/);
  expect(grid().scrollTop).toBeGreaterThan(600 * 27);
  rerender(<Bench count={1000} at="S-3" />);
  expect(grid().getAttribute('aria-activedescendant')).toMatch(/-3-0$/);
});

it('letters typed over a cell that is only read lead to the next row that begins with them', () => {
  cleanup();
  render(<Bench count={40} />);
  grid().focus();
  for (const key of 's-2') press(key);
  expect(grid().getAttribute('aria-activedescendant')).toMatch(/-2-0$/);
  press('9');
  expect(grid().getAttribute('aria-activedescendant')).toMatch(/-29-0$/);
  expect(kept).not.toHaveBeenCalled();
});

it('a cell that is edited stays its row’s, though rows come to stand in another order meanwhile', async () => {
  cleanup();
  render(<Bench count={5} />);
  fireEvent.pointerDown(cell(1, 2), { button: 0 });
  press('F2');
  const editor = screen.getByLabelText('Cost');
  fireEvent.change(editor, { target: { value: '77' } });
  // ascending, they stand the other way round
  fireEvent.click(screen.getByTitle('Cost: sort'));
  fireEvent.keyDown(screen.getByLabelText('Cost'), { key: 'Enter' });
  await vi.waitFor(() => expect(kept).toHaveBeenCalled());
  expect(kept.mock.calls[0]![0]).toEqual([{ key: 'S-1', column: 'cost', before: '99', after: '77' }]);
});

const grid = () => screen.getByRole('grid');
const cell = (row: number, col: number) => document.querySelector<HTMLElement>(`[data-cell="${row},${col}"]`)!;
const activeCell = () => document.getElementById(grid().getAttribute('aria-activedescendant')!)!.dataset['cell'];
const press = (key: string, more: object = {}) => fireEvent.keyDown(document.activeElement!, { key, ...more });
async function paste(data: Record<string, string>): Promise<void> {
  const event = createEvent.paste(grid(), { clipboardData: { getData: (type: string) => data[type] ?? '' } });
  await act(async () => void fireEvent(grid(), event));
}

beforeEach(() => {
  kept.mockReset().mockReturnValue(null);
  render(<Bench count={1000} />);
  grid().focus();
});

describe('a grid under somebody’s fingers', () => {
  it('every key moves at once: ten fast arrows are ten cells', () => {
    for (let i = 0; i < 10; i++) press('ArrowDown');
    expect(activeCell()).toBe('10,0');
    press('ArrowRight');
    expect(activeCell()).toBe('10,1');
  });

  it('typing edits the active cell, Enter keeps it and goes down', async () => {
    const user = userEvent.setup();
    press('ArrowRight');
    await user.keyboard('rope{Enter}');
    expect(kept).toHaveBeenCalledWith([{ key: 'S-0', column: 'name', before: 'item 0', after: 'rope' }]);
    expect(cell(0, 1)).toHaveTextContent('rope');
    expect(activeCell()).toBe('1,1');
    expect(document.activeElement).toBe(grid());
  });

  it('F2 edits what stands there, Escape leaves it', async () => {
    const user = userEvent.setup();
    press('ArrowRight');
    press('F2');
    expect(screen.getByRole('textbox', { name: 'Name' })).toHaveValue('item 0');
    await user.keyboard(' x{Escape}');
    expect(cell(0, 1)).toHaveTextContent('item 0');
    expect(kept).not.toHaveBeenCalled();
  });

  it('an entry that cannot be read stays open with what is wrong, and is not lost', async () => {
    const user = userEvent.setup();
    press('ArrowRight');
    press('ArrowRight');
    await user.keyboard('12,5x{Enter}');
    const editor = screen.getByRole('textbox', { name: 'Cost' });
    expect(editor).toHaveValue('12,5x');
    expect(within(cell(0, 2)).getByRole('alert')).toHaveTextContent('"12,5x" is not a number');
    await user.clear(editor);
    await user.keyboard('12.5{Enter}');
    expect(cell(0, 2)).toHaveTextContent('12.5');
  });

  it('a cell that can only be read takes no typing', async () => {
    await userEvent.setup().keyboard('z');
    expect(screen.queryByRole('textbox', { name: 'SKU' })).toBeNull();
  });

  it('a pasted block lands cell for cell; Ctrl Z takes it back as one, Ctrl Y does it again', async () => {
    press('ArrowRight');
    await paste({ 'text/plain': 'a\t1\r\nb\t2\r\n' });
    expect(kept.mock.calls[0]![0]).toHaveLength(4);
    expect([cell(0, 1), cell(1, 2)].map((c) => c.textContent)).toEqual(['a', '2']);
    await act(async () => void press('z', { ctrlKey: true }));
    expect([cell(0, 1), cell(1, 2)].map((c) => c.textContent)).toEqual(['item 0', '99']);
    await act(async () => void press('y', { ctrlKey: true }));
    expect([cell(0, 1), cell(1, 2)].map((c) => c.textContent)).toEqual(['a', '2']);
  });

  it('a paste that the server refuses goes back, and says why', async () => {
    kept.mockReturnValue('Item S-0 was changed by someone else');
    press('ArrowRight');
    await paste({ 'text/html': '<table><tr><td>new</td></tr></table>' });
    expect(cell(0, 1)).toHaveTextContent('item 0');
    expect(screen.getByRole('status')).toHaveTextContent('changed by someone else');
  });

  it('copies the selection as text and as a table', () => {
    press('ArrowRight');
    press('ArrowRight', { shiftKey: true });
    press('ArrowDown', { shiftKey: true });
    const data: Record<string, string> = {};
    fireEvent.copy(grid(), { clipboardData: { setData: (type: string, text: string) => (data[type] = text) } });
    expect(data['text/plain']).toBe('item 0\t100\r\nitem 1\t99');
    expect(data['text/html']).toContain('<td>99</td>');
  });

  it('Ctrl D fills down, Delete empties, over a selection that reaches into the frozen columns', async () => {
    press('ArrowDown', { shiftKey: true });
    press('ArrowRight', { shiftKey: true });
    await act(async () => void press('d', { ctrlKey: true }));
    expect(cell(1, 1)).toHaveTextContent('item 0');
    expect(cell(1, 0)).toHaveTextContent('S-1');
    await act(async () => void press('Delete'));
    expect([cell(0, 1).textContent, cell(1, 1).textContent, cell(0, 0).textContent]).toEqual(['', '', 'S-0']);
  });

  it('keys typed into the filter belong to the filter', async () => {
    const user = userEvent.setup();
    await user.type(screen.getByRole('textbox', { name: 'Filter Cost' }), '>98');
    expect(grid()).toHaveAttribute('aria-rowcount', '3');
    await user.keyboard('{ArrowDown}{Delete}{Backspace}{Backspace}{Backspace}');
    expect(grid()).toHaveAttribute('aria-rowcount', '1001');
    expect(kept).not.toHaveBeenCalled();
  });

  it('sorts by a click on the head, says so, and edits the right row afterwards', async () => {
    const user = userEvent.setup();
    await user.click(screen.getByRole('button', { name: /^Cost/ }));
    expect(screen.getByRole('columnheader', { name: /^Cost/ })).toHaveAttribute('aria-sort', 'ascending');
    grid().focus();
    press('ArrowRight');
    await user.keyboard('last{Enter}');
    expect(kept.mock.calls[0]![0][0]).toMatchObject({ key: 'S-999', after: 'last' });
  });

  it('draws only what is seen, and tells where each row stands', () => {
    expect(document.querySelectorAll('[role=gridcell]').length).toBeLessThan(400);
    act(() => press('End', { ctrlKey: true }));
    expect(grid()).toHaveAttribute('aria-activedescendant', expect.stringMatching(/-999-3$/));
    expect(screen.getAllByRole('row')[1]).toHaveAttribute('aria-rowindex');
  });
});
