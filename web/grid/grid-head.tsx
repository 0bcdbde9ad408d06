import type { VirtualItem } from '@tanstack/react-virtual';
import type { PointerEvent, ReactNode } from 'react';
import type { Column } from './columns.ts';
import { FrozenColumns } from './frozen-columns.tsx';
import type { SheetState } from './use-sheet.ts';

/** The head: a band of groups, the titles (click sorts, the edge resizes), and a filter for every column. */
export function GridHead<Row>({
  state,
  height,
  middle,
}: {
  state: SheetState<Row>;
  height: number;
  middle: readonly VirtualItem[];
}) {
  const { parts } = state;
  return (
    <div
      role="row"
      aria-rowindex={1}
      className="sticky top-0 z-20 border-b border-rule-strong bg-paper"
      style={{ height }}
    >
      {middle.map((v) => {
        const column = parts.middle[v.index];
        return column ? (
          <HeadCell
            key={column.id}
            state={state}
            column={column}
            col={parts.start.length + v.index}
            style={{ left: v.start }}
            height={height}
            groupFrom={parts.middle[v.index - 1]?.group}
          />
        ) : null;
      })}
      <FrozenColumns
        parts={parts}
        cell={(column, col, place) => (
          <HeadCell
            key={column.id}
            state={state}
            column={column}
            col={col}
            style={place}
            height={height}
            groupFrom={undefined}
          />
        )}
      />
    </div>
  );
}

function HeadCell<Row>({
  state,
  column,
  col,
  style,
  height,
  groupFrom,
}: {
  state: SheetState<Row>;
  column: Column<Row>;
  col: number;
  style: object;
  height: number;
  groupFrom: string | undefined;
}): ReactNode {
  const { sort } = state;
  const mine = sort?.column === column.id;
  const resize = (e: PointerEvent<HTMLSpanElement>) => {
    e.preventDefault();
    e.stopPropagation();
    const from = e.clientX;
    const width = column.width;
    const move = (m: globalThis.PointerEvent) =>
      state.setArrangement((a) => ({
        ...a,
        widths: { ...a.widths, [column.id]: Math.max(40, width + m.clientX - from) },
      }));
    const stop = () => {
      removeEventListener('pointermove', move);
      removeEventListener('pointerup', stop);
    };
    addEventListener('pointermove', move);
    addEventListener('pointerup', stop);
  };
  const grouped = height > 60;
  return (
    <div
      role="columnheader"
      aria-colindex={col + 1}
      aria-sort={mine ? (sort.down ? 'descending' : 'ascending') : 'none'}
      className="absolute top-0 flex flex-col justify-end bg-paper"
      style={{ ...style, width: column.width, height: height - 1 }}
    >
      {grouped ? (
        <div className="h-[21px] overflow-visible px-2 text-xs whitespace-nowrap text-faint">
          {column.group && column.group !== groupFrom ? column.group : ''}
        </div>
      ) : null}
      <div className="relative flex">
        <button
          type="button"
          tabIndex={-1}
          className={`min-w-0 flex-1 truncate px-2 py-0.5 text-[0.8125rem] font-medium hover:bg-chosen ${column.align === 'end' ? 'text-right' : 'text-left'}`}
          title={`${column.title}: sort`}
          onClick={() =>
            state.setSort(
              !mine ? { column: column.id, down: false } : sort.down ? null : { column: column.id, down: true },
            )
          }
        >
          {column.title}
          {mine ? (sort.down ? ' ↓' : ' ↑') : ''}
        </button>
        <span
          onPointerDown={resize}
          className="absolute top-0 right-0 h-full w-1.5 cursor-col-resize hover:bg-accent"
        />
      </div>
      <input
        aria-label={`Filter ${column.title}`}
        title={column.numeric ? 'part of the figure, or >10, <=3, =0; = for empty' : 'a part of the text; = for empty'}
        value={state.filters[column.id] ?? ''}
        onChange={(e) => state.setFilters((f) => ({ ...f, [column.id]: e.target.value }))}
        className={`mx-1 mb-1 h-[22px] border-0 border-b border-rule bg-transparent px-1 text-xs ${column.align === 'end' ? 'text-right' : ''}`}
      />
    </div>
  );
}
