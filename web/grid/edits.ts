import { type Column, editable } from './columns.ts';
import type { Block, Size } from './selection.ts';

export interface Edit {
  /** The row's own key, so that sorting or filtering in between does no harm. */
  readonly key: string;
  readonly column: string;
  readonly before: string;
  readonly after: string;
}

export interface Refusal {
  readonly row: number;
  readonly column: string;
  readonly text: string;
  readonly message: string;
}

export interface Plan {
  readonly edits: readonly Edit[];
  readonly refused: readonly Refusal[];
  /** Cells that are only read and were left alone. */
  readonly skipped: number;
  readonly covers: Block;
}

export interface Sheet<Row> {
  readonly columns: readonly Column<Row>[];
  readonly size: Size;
  /** Undefined: it is not at hand. */
  readonly rowAt: (row: number) => Row | undefined;
  readonly keyOf: (row: Row) => string;
  /** The value now standing in a cell, edits included. */
  readonly valueAt: (row: number, col: number) => string;
}

/** Puts texts into a block of cells: read-only cells are skipped, what a column cannot read is refused, and named. */
export function planBlock<Row>(sheet: Sheet<Row>, block: Block, textAt: (row: number, col: number) => string): Plan {
  const edits: Edit[] = [];
  const refused: Refusal[] = [];
  let skipped = 0;
  for (let r = block.top; r <= block.bottom; r++) {
    const row = sheet.rowAt(r);
    if (row === undefined) continue;
    for (let c = block.left; c <= block.right; c++) {
      const column = sheet.columns[c]!;
      if (!editable(column, row)) {
        skipped++;
        continue;
      }
      const text = textAt(r, c);
      const parsed = column.parse!(text, row);
      if (!parsed.ok) refused.push({ row: r, column: column.title, text, message: parsed.message });
      else {
        const before = sheet.valueAt(r, c);
        if (before !== parsed.value)
          edits.push({ key: sheet.keyOf(row), column: column.id, before, after: parsed.value });
      }
    }
  }
  return { edits, refused, skipped, covers: block };
}

/**
 * A paste: one value fills the selection; a block is repeated when the selection is a whole multiple of it, else it is
 * put down once from the selection's corner and cut at the grid's edge.
 */
export function planPaste<Row>(sheet: Sheet<Row>, selected: Block, cells: readonly (readonly string[])[]): Plan {
  const height = cells.length;
  const width = Math.max(1, ...cells.map((r) => r.length));
  const tall = selected.bottom - selected.top + 1;
  const wide = selected.right - selected.left + 1;
  const repeatDown = tall % height === 0 ? tall : height;
  const repeatAcross = wide % width === 0 ? wide : width;
  const block: Block = {
    top: selected.top,
    left: selected.left,
    bottom: Math.min(sheet.size.rows - 1, selected.top + repeatDown - 1),
    right: Math.min(sheet.size.cols - 1, selected.left + repeatAcross - 1),
  };
  return planBlock(sheet, block, (r, c) => cells[(r - block.top) % height]![(c - block.left) % width] ?? '');
}

/** Fill down: the first row of the block into the rows below it. */
export function planFillDown<Row>(sheet: Sheet<Row>, block: Block, copied: (row: number, col: number) => string): Plan {
  if (block.bottom === block.top) return { edits: [], refused: [], skipped: 0, covers: block };
  return planBlock(sheet, { ...block, top: block.top + 1 }, (_, c) => copied(block.top, c));
}

/** Undo and redo: one entry for one operation, with old and new values. */
export class History {
  private readonly done: (readonly Edit[])[] = [];
  private readonly undone: (readonly Edit[])[] = [];

  record(edits: readonly Edit[]): void {
    if (edits.length === 0) return;
    this.done.push(edits);
    this.undone.length = 0;
    if (this.done.length > 200) this.done.shift();
  }

  undo(): readonly Edit[] | null {
    const last = this.done.pop();
    if (!last) return null;
    this.undone.push(last);
    return last.map((e) => ({ ...e, before: e.after, after: e.before }));
  }

  redo(): readonly Edit[] | null {
    const next = this.undone.pop();
    if (!next) return null;
    this.done.push(next);
    return next;
  }
}
