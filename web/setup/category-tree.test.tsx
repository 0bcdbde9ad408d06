import { act, fireEvent, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { CategoryTree } from './category-tree.tsx';
import { branchOf, itemsIn, laidOut } from './tree.ts';

const rows = [
  { id: '1', name: 'rope', parent: null },
  { id: '2', name: 'braid', parent: '1' },
  { id: '3', name: 'twine', parent: '1' },
  { id: '4', name: 'anchors', parent: null },
  { id: '5', name: 'thin', parent: '3' },
];

it('a tree reads from top to bottom by name, and shows nothing below what is folded', () => {
  const read = (closed: string[]) => laidOut(rows, new Set(closed)).map((s) => `${s.level} ${s.row.name}`);
  expect(read([])).toEqual(['1 anchors', '1 rope', '2 braid', '2 twine', '3 thin']);
  expect(read(['1'])).toEqual(['1 anchors', '1 rope']);
  expect([...branchOf(rows, '1')].sort()).toEqual(['1', '2', '3', '5']);
});

it('a category is moved by keyboard alone, never into itself, and what is proposed is only proposed', () => {
  const onMove = vi.fn();
  const onOpen = vi.fn();
  render(<CategoryTree rows={rows} items={new Map()} form="point" may onMove={onMove} onOpen={onOpen} />);
  const names = () => screen.getAllByRole('treeitem').map((i) => i.querySelector('span.flex-1')!.textContent);
  const press = (key: string, more = {}) => fireEvent.keyDown(document.activeElement!, { key, ...more });
  const item = (name: string) => screen.getAllByRole('treeitem').find((i) => i.textContent!.includes(name))!;
  act(() => item('twine').focus());
  press('ArrowRight', { ctrlKey: true });
  expect(onMove).toHaveBeenLastCalledWith(rows[2], '2');
  press('ArrowLeft', { ctrlKey: true });
  expect(onMove).toHaveBeenLastCalledWith(rows[2], null);
  press('ArrowLeft');
  expect(names()).toEqual(['anchors', 'rope', 'braid', 'twine']);
  press('ArrowLeft');
  press('Enter');
  expect(onOpen).toHaveBeenLastCalledWith(rows[0]);
  // the first of its level has none above it
  act(() => item('anchors').focus());
  press('ArrowRight', { ctrlKey: true });
  press('ArrowLeft', { ctrlKey: true });
  expect(onMove).toHaveBeenCalledTimes(2);
});

it('tells how many items lie in a category, and how many with everything below it', () => {
  const counts = itemsIn(rows, new Map(Object.entries({ '1': 2, '3': 4, '5': 8 })));
  expect(counts.get('1')).toEqual({ own: 2, all: 14 });
  expect(counts.get('3')).toEqual({ own: 4, all: 12 });
  expect(counts.get('4')).toEqual({ own: 0, all: 0 });
});
