import type { KeyboardEvent, ReactNode } from 'react';
import { memo } from 'react';
import { type Column, ROW_HEIGHT } from './columns.ts';
import type { Sheet } from './edits.ts';
import { FrozenColumns } from './frozen-columns.tsx';
import { type Block, inBlock } from './selection.ts';
import type { SheetState } from './use-sheet.ts';

export interface EditorState {
  readonly col: number;
  readonly text: string;
  readonly fault: string | null;
  readonly onKey: (e: KeyboardEvent<HTMLInputElement>) => void;
  readonly onText: (text: string) => void;
  readonly onLeave: () => void;
}

interface RowProps<Row> {
  readonly id: string;
  readonly index: number;
  readonly top: number;
  readonly sheet: Sheet<Row>;
  readonly parts: SheetState<Row>['parts'];
  readonly startWidth: number;
  readonly first: number;
  readonly last: number;
  readonly offset: number;
  /** The selected block where it touches this row. */
  readonly block: Block | null;
  /** The active cell's column where it is in this row. */
  readonly active: number | null;
  readonly editor: EditorState | null;
}

const TONES = { proposed: 'bg-proposed', warn: 'bg-warn-ground', stop: 'bg-stop-ground' } as const;

function RowBody<Row>({
  id,
  index,
  top,
  sheet,
  parts,
  startWidth,
  first,
  last,
  offset,
  block,
  active,
  editor,
}: RowProps<Row>) {
  const row = sheet.rowAt(index)!;
  const cell = (
    column: Column<Row>,
    col: number,
    style: { left: number } | { right: number },
    frozen: boolean,
  ): ReactNode => {
    const value = sheet.valueAt(index, col);
    const chosen = block !== null && inBlock(block, index, col);
    const isActive = active === col;
    const tone = column.tone?.(row);
    const editing = editor?.col === col ? editor : null;
    return (
      <div
        key={column.id}
        role="gridcell"
        id={`${id}-${index}-${col}`}
        data-cell={`${index},${col}`}
        aria-colindex={col + 1}
        aria-selected={chosen}
        aria-readonly={column.parse === undefined || undefined}
        title={editing || column.draw ? undefined : value}
        className={`absolute top-0 overflow-hidden border-b border-rule px-2 leading-[26px] text-ellipsis whitespace-nowrap ${column.align === 'end' ? 'text-right' : ''} ${
          chosen && !isActive ? 'bg-chosen' : tone ? TONES[tone] : frozen ? 'bg-sheet' : ''
        } ${isActive ? 'outline-2 -outline-offset-2 outline-rule-strong group-focus-within/grid:outline-accent' : ''} ${frozen && 'left' in style ? 'border-r' : ''}`}
        style={{ ...style, width: column.width, height: ROW_HEIGHT }}
      >
        {editing ? (
          <Editor {...editing} label={column.title} align={column.align} />
        ) : column.draw ? (
          column.draw(row, value)
        ) : (
          value
        )}
      </div>
    );
  };
  const middleParts: ReactNode[] = [];
  let at = offset;
  for (let i = first; i <= last; i++) {
    const column = parts.middle[i];
    if (!column) break;
    middleParts.push(cell(column, parts.start.length + i, { left: startWidth + at }, false));
    at += column.width;
  }
  return (
    <div role="row" aria-rowindex={index + 2} className="absolute left-0 w-full" style={{ top, height: ROW_HEIGHT }}>
      <FrozenColumns parts={parts} cell={(column, col, place) => cell(column, col, place, true)} />
      {middleParts}
    </div>
  );
}

/** The place of a row that is being fetched. */
export function AwayRow({ id, index, top }: { id: string; index: number; top: number }) {
  return (
    <div role="row" aria-rowindex={index + 2} className="absolute left-0 w-full" style={{ top, height: ROW_HEIGHT }}>
      <div
        role="gridcell"
        id={id}
        data-cell={`${index},0`}
        className="h-full border-b border-rule px-2 leading-[26px] text-faint"
      >
        …
      </div>
    </div>
  );
}

/** Rows outside a change are not drawn again. */
export const GridRow = memo(RowBody) as typeof RowBody;

function Editor({
  text,
  fault,
  onKey,
  onText,
  onLeave,
  label,
  align,
}: EditorState & { label: string; align?: 'start' | 'end' | undefined }) {
  return (
    <>
      <input
        autoFocus
        aria-label={label}
        aria-invalid={fault !== null}
        title={fault ?? undefined}
        value={text}
        onChange={(e) => onText(e.target.value)}
        onKeyDown={onKey}
        onBlur={onLeave}
        className={`absolute inset-0 w-full border-2 bg-sheet px-1.5 outline-none ${fault ? 'border-stop' : 'border-accent'} ${align === 'end' ? 'figure text-right' : ''}`}
      />
      {fault ? (
        <span role="alert" className="fixed z-30 mt-7 border border-stop bg-stop-ground px-2 py-0.5 text-xs text-stop">
          {fault}
        </span>
      ) : null}
    </>
  );
}
