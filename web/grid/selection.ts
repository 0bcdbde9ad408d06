import type { Cell } from './columns.ts';

/** One rectangle of cells: the anchor stays, the active cell moves. */
export interface Selection {
  readonly anchor: Cell;
  readonly active: Cell;
}

export interface Size {
  readonly rows: number;
  readonly cols: number;
}

export interface Block {
  readonly top: number;
  readonly bottom: number;
  readonly left: number;
  readonly right: number;
}

export function blockOf({ anchor, active }: Selection): Block {
  return {
    top: Math.min(anchor.row, active.row),
    bottom: Math.max(anchor.row, active.row),
    left: Math.min(anchor.col, active.col),
    right: Math.max(anchor.col, active.col),
  };
}

export function inBlock(b: Block, row: number, col: number): boolean {
  return row >= b.top && row <= b.bottom && col >= b.left && col <= b.right;
}

export function clamp({ row, col }: Cell, size: Size): Cell {
  return { row: Math.max(0, Math.min(size.rows - 1, row)), col: Math.max(0, Math.min(size.cols - 1, col)) };
}

export interface Key {
  readonly key: string;
  readonly ctrl: boolean;
  readonly shift: boolean;
}

/**
 * Where a key takes the active cell; null: the key is not one of movement, or Tab leaves the grid.
 * `filled` says whether a cell holds something: Ctrl with an arrow goes to the edge of a filled stretch.
 */
export function moved(
  s: Selection,
  k: Key,
  size: Size,
  page: number,
  filled: (row: number, col: number) => boolean,
): Selection | null {
  if (size.rows === 0 || size.cols === 0) return null;
  const { row, col } = s.active;
  const to = target(k, row, col, size, page, filled);
  if (!to) return null;
  const active = clamp(to, size);
  const extends_ = k.shift && k.key !== 'Tab' && k.key !== 'Enter';
  return { active, anchor: extends_ ? s.anchor : active };
}

function target(
  k: Key,
  row: number,
  col: number,
  size: Size,
  page: number,
  filled: (row: number, col: number) => boolean,
): Cell | null {
  const jump = (dr: number, dc: number): Cell =>
    k.ctrl ? edge(row, col, dr, dc, size, filled) : { row: row + dr, col: col + dc };
  switch (k.key) {
    case 'ArrowUp':
      return jump(-1, 0);
    case 'ArrowDown':
      return jump(1, 0);
    case 'ArrowLeft':
      return jump(0, -1);
    case 'ArrowRight':
      return jump(0, 1);
    case 'Home':
      return k.ctrl ? { row: 0, col: 0 } : { row, col: 0 };
    case 'End':
      return k.ctrl ? { row: size.rows - 1, col: size.cols - 1 } : { row, col: size.cols - 1 };
    case 'PageUp':
      return { row: row - page, col };
    case 'PageDown':
      return { row: row + page, col };
    case 'Enter':
      return { row: row + (k.shift ? -1 : 1), col };
    case 'Tab': {
      const next = col + (k.shift ? -1 : 1);
      // past the last cell of the row the focus goes on to the next control
      return next < 0 || next >= size.cols ? null : { row, col: next };
    }
    default:
      return null;
  }
}

function edge(
  row: number,
  col: number,
  dr: number,
  dc: number,
  size: Size,
  filled: (row: number, col: number) => boolean,
): Cell {
  let [r, c] = [row, col];
  const within = (y: number, x: number) => y >= 0 && y < size.rows && x >= 0 && x < size.cols;
  const start = within(r + dr, c + dc) && filled(r, c) && filled(r + dr, c + dc);
  while (within(r + dr, c + dc)) {
    const next = filled(r + dr, c + dc);
    if (start && !next) break;
    [r, c] = [r + dr, c + dc];
    if (!start && next) break;
  }
  return { row: r, col: c };
}
