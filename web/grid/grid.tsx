import { type Virtualizer, observeElementOffset, useVirtualizer } from '@tanstack/react-virtual';
import {
  type KeyboardEvent,
  type PointerEvent,
  useEffect,
  useId,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useEffectEvent,
} from 'react';
import { flushSync } from 'react-dom';
import { type Cell, type Column, ROW_HEIGHT, editable } from './columns.ts';
import { type Plan, planBlock, planFillDown } from './edits.ts';
import { GridHead } from './grid-head.tsx';
import { AwayRow, GridRow } from './grid-row.tsx';
import { type Selection, blockOf, clamp, moved } from './selection.ts';
import { copiedFrom, useClipboard } from './use-clipboard.ts';
import { useTypedJump } from './use-typed-jump.ts';
import type { SheetState } from './use-sheet.ts';

interface GridProps<Row> {
  readonly state: SheetState<Row>;
  /** What it holds, for those who hear the page. */
  readonly label: string;
  readonly onActive?: (row: Row | null, column: Column<Row> | null) => void;
  /** The rows that the selection reaches over, whenever it changes: those that are at hand, and from which to which it reaches. */
  readonly onSelected?: (rows: readonly Row[], reach: { readonly top: number; readonly bottom: number }) => void;
  /** Enter on a cell that can only be read. */
  readonly onOpen?: (row: Row) => void;
  /** The key of the row that an address names: the selection stands on it. */
  readonly at?: string | null;
  /** Other rows are on their way: those that are shown were asked for before. */
  readonly busy?: boolean;
}

interface Editing<Row> {
  readonly cell: Cell;
  /** The row that is edited, wherever it stands by now, and what stood in the cell. */
  readonly of: Row;
  readonly before: string;
  readonly text: string;
  readonly fault: string | null;
}

type Along = Virtualizer<HTMLDivElement, Element>;

/** Tells of a scroll in one direction alone: in the other nothing is to be drawn anew. */
const offsetAlong = (along: Along, told: (offset: number, isScrolling: boolean) => void) =>
  observeElementOffset(along, (offset, isScrolling) => {
    if (offset !== along.scrollOffset || along.isScrolling) told(offset, isScrolling);
  });

/** A grid that behaves like a spreadsheet. Every key has its effect at once; nothing waits for a frame. */
export function Grid<Row>({ state, label, onActive, onSelected, onOpen, at = null, busy = false }: GridProps<Row>) {
  const { sheet, parts, away } = state;
  const { size, columns } = sheet;
  const id = useId();
  const root = useRef<HTMLDivElement>(null);
  const [chosen, setSelection] = useState<Selection>({ anchor: { row: 0, col: 0 }, active: { row: 0, col: 0 } });
  const [editing, setEditing] = useState<Editing<Row> | null>(null);
  const dragging = useRef(false);
  // filtering may leave fewer rows than the selection speaks of
  const selection = useMemo(
    (): Selection => ({ anchor: clamp(chosen.anchor, size), active: clamp(chosen.active, size) }),
    [chosen, size],
  );
  const block = blockOf(selection);

  const startWidth = parts.start.reduce((w, c) => w + c.width, 0);
  const endWidth = parts.end.reduce((w, c) => w + c.width, 0);
  const middleWidth = parts.middle.reduce((w, c) => w + c.width, 0);
  const headHeight = columns.some((c) => c.group) ? 76 : 54;

  const rowVirtual = useVirtualizer({
    count: size.rows,
    getScrollElement: () => root.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 4,
    observeElementOffset: offsetAlong,
    scrollPaddingStart: headHeight,
    paddingEnd: 8,
  });
  const colVirtual = useVirtualizer({
    horizontal: true,
    count: parts.middle.length,
    getScrollElement: () => root.current,
    estimateSize: (i) => parts.middle[i]!.width,
    overscan: 3,
    observeElementOffset: offsetAlong,
    paddingStart: startWidth,
  });
  useLayoutEffect(() => colVirtual.measure(), [colVirtual, parts.middle]);

  const reveal = ({ row, col }: Cell) => {
    const box = root.current;
    if (!box) return;
    const top = row * ROW_HEIGHT;
    if (top < box.scrollTop) box.scrollTop = top;
    else if (top + ROW_HEIGHT > box.scrollTop + box.clientHeight - headHeight)
      box.scrollTop = top + ROW_HEIGHT - box.clientHeight + headHeight + 2;
    const at = col - parts.start.length;
    if (at < 0 || at >= parts.middle.length) return;
    const left = parts.middle.slice(0, at).reduce((w, c) => w + c.width, 0);
    const right = left + parts.middle[at]!.width;
    if (left < box.scrollLeft) box.scrollLeft = left;
    else if (right > box.scrollLeft + box.clientWidth - startWidth - endWidth)
      box.scrollLeft = right - box.clientWidth + startWidth + endWidth;
  };
  // once the row is there: a list that is still being read, or filtered, may not have it yet
  const followed = useRef<string | null>(null);
  const goTo = useEffectEvent((row: number) => {
    const cell = { row, col: selection.active.col };
    setSelection({ anchor: cell, active: cell });
    reveal(cell);
  });
  useLayoutEffect(() => {
    if (at === null || at === followed.current) return void (followed.current = at);
    if (away) {
      if (size.rows === 0) return;
      followed.current = at;
      // where it cannot be told, one stands where one stood
      away.placeOf(at).then(
        (row) => row !== null && goTo(row),
        () => undefined,
      );
      return;
    }
    for (let row = 0; row < sheet.size.rows; row++) {
      if (sheet.keyOf(sheet.rowAt(row)!) !== at) continue;
      followed.current = at;
      return goTo(row);
    }
  }, [at, sheet, size.rows, away]);
  const select = (next: Selection) => {
    flushSync(() => setSelection(next));
    reveal(next.active);
    const row = sheet.rowAt(next.active.row) ?? null;
    // what the selection itself reports is no address to go to
    if (row) followed.current = sheet.keyOf(row);
    onActive?.(row, columns[next.active.col] ?? null);
    if (!onSelected) return;
    const { top, bottom } = blockOf(next);
    onSelected(
      Array.from({ length: bottom - top + 1 }, (_, i) => sheet.rowAt(top + i)).filter((r) => r !== undefined),
      { top, bottom },
    );
  };

  const typed = useTypedJump(state, selection.active, (row, col) =>
    select({ anchor: { row, col }, active: { row, col } }),
  );
  const begin = (text: string | null) => {
    const { row, col } = selection.active;
    const column = columns[col];
    const of = sheet.rowAt(row);
    if (!column || of === undefined || !editable(column, of)) return false;
    const value = sheet.valueAt(row, col);
    flushSync(() =>
      setEditing({
        cell: selection.active,
        of,
        before: value,
        text: text ?? column.typed?.(value) ?? value,
        fault: null,
      }),
    );
    return true;
  };
  /** Keeps what was typed; an entry that cannot be read stays open with what is wrong. */
  const commit = (then: 'down' | 'up' | 'right' | 'left' | 'stay'): boolean => {
    if (!editing) return true;
    const { row, col } = editing.cell;
    // rows may have come to stand in another order while one was typing
    const edited = { ...sheet, rowAt: () => editing.of, valueAt: () => editing.before };
    const plan = planBlock(edited, { top: row, bottom: row, left: col, right: col }, () => editing.text);
    const fault = plan.refused[0];
    if (fault) {
      setEditing({ ...editing, fault: fault.message });
      return false;
    }
    flushSync(() => setEditing(null));
    root.current?.focus({ preventScroll: true });
    state.carryOut(plan);
    const steps = { down: [1, 0], up: [-1, 0], right: [0, 1], left: [0, -1], stay: [0, 0] }[then];
    const to = clamp({ row: row + steps[0]!, col: col + steps[1]! }, size);
    select({ anchor: to, active: to });
    return true;
  };

  const onKeyDown = (e: KeyboardEvent<HTMLDivElement>) => {
    // keys typed into an input inside the grid (filter, editor) belong to it
    if (e.target !== root.current || e.nativeEvent.isComposing) return;
    const ctrl = e.ctrlKey || e.metaKey;
    const take = () => e.preventDefault();
    if (ctrl && !e.altKey) {
      const key = e.key.toLowerCase();
      if (key === 'z' && !e.shiftKey) return (take(), state.undo());
      if (key === 'y' || (key === 'z' && e.shiftKey)) return (take(), state.redo());
      if (key === 'd')
        return (
          take(),
          state.reach(block.top, block.bottom, (rows) =>
            state.carryOut(planFillDown(rows, block, (r, c) => copiedFrom(rows, r, c))),
          )
        );
      if (key === 'a')
        return (
          take(),
          select({ anchor: { row: 0, col: 0 }, active: clamp({ row: size.rows - 1, col: size.cols - 1 }, size) })
        );
    }
    if (e.altKey) return;
    if (e.key === 'F2') return (take(), void begin(null));
    if (e.key === 'Delete' || e.key === 'Backspace')
      return (take(), state.reach(block.top, block.bottom, (rows) => state.carryOut(planBlock(rows, block, () => ''))));
    if (e.key === 'Enter' && !ctrl && size.rows > 0) {
      const { row, col } = selection.active;
      const of = sheet.rowAt(row);
      if (of !== undefined && !e.shiftKey && editable(columns[col]!, of)) return (take(), void begin(null));
      if (of !== undefined && !e.shiftKey && onOpen) return (take(), onOpen(of));
    }
    if (ctrl && away && (e.key === 'ArrowUp' || e.key === 'ArrowDown')) {
      const { row, col } = selection.active;
      const anchor = e.shiftKey ? selection.anchor : null;
      take();
      const jump = { to: 'edge' as const, column: columns[col]!.id, row, down: e.key === 'ArrowDown', text: '' };
      away.seek(jump).then(
        (to) => to !== null && select({ anchor: anchor ?? { row: to, col }, active: { row: to, col } }),
        () => undefined,
      );
      return;
    }
    const page = Math.max(1, Math.floor(((root.current?.clientHeight ?? 300) - headHeight) / ROW_HEIGHT) - 1);
    const next = moved(
      selection,
      { key: e.key, ctrl, shift: e.shiftKey },
      size,
      page,
      (r, c) => sheet.valueAt(r, c) !== '',
    );
    // a first column that is always in sight: what stands beside it comes back with it
    if (next && e.key === 'Home' && root.current) root.current.scrollLeft = 0;
    if (next) return (take(), select(next));
    if (e.key.length !== 1 || ctrl) return;
    if (begin(e.key)) return take();
    // these two open the help and the search, wherever one is
    if (e.key !== '?' && e.key !== '/') typed(e.key);
  };

  const onEditorKey = (e: KeyboardEvent<HTMLInputElement>) => {
    if (e.nativeEvent.isComposing) return;
    e.stopPropagation();
    if (!['Enter', 'Tab', 'Escape'].includes(e.key)) return;
    e.preventDefault();
    if (e.key === 'Enter') commit(e.shiftKey ? 'up' : 'down');
    else if (e.key === 'Tab') commit(e.shiftKey ? 'left' : 'right');
    else {
      flushSync(() => setEditing(null));
      root.current?.focus({ preventScroll: true });
    }
  };

  const covered = ({ covers: { top, left, bottom, right } }: Plan) =>
    select({ anchor: { row: top, col: left }, active: { row: bottom, col: right } });
  const { onCopy, onPaste } = useClipboard(state, block, covered);

  const cellFrom = (e: PointerEvent<HTMLDivElement>): Cell | null => {
    const found = (e.target as HTMLElement).closest<HTMLElement>('[data-cell]');
    const [row, col] = (found?.dataset['cell'] ?? '').split(',').map(Number);
    return row === undefined || col === undefined || Number.isNaN(row) ? null : { row, col };
  };
  const onPointerDown = (e: PointerEvent<HTMLDivElement>) => {
    const cell = cellFrom(e);
    if (!cell || e.button !== 0 || (e.target as HTMLElement).closest('input,button,a')) return;
    if (editing && !commit('stay')) return e.preventDefault();
    dragging.current = true;
    root.current?.focus({ preventScroll: true });
    select(e.shiftKey ? { anchor: selection.anchor, active: cell } : { anchor: cell, active: cell });
    e.preventDefault();
  };
  const onPointerMove = (e: PointerEvent<HTMLDivElement>) => {
    if (!dragging.current || e.buttons === 0) return void (dragging.current = false);
    const cell = cellFrom(e);
    if (cell && (cell.row !== selection.active.row || cell.col !== selection.active.col))
      select({ anchor: selection.anchor, active: cell });
  };

  const middle = colVirtual.getVirtualItems();
  const drawn = rowVirtual.getVirtualItems();
  const [firstDrawn, lastDrawn] = [drawn[0]?.index ?? 0, drawn.at(-1)?.index ?? 0];
  useEffect(() => away?.look(firstDrawn, lastDrawn), [away, firstDrawn, lastDrawn]);
  const lastMiddle = middle[middle.length - 1];
  return (
    <div
      ref={root}
      role="grid"
      tabIndex={0}
      aria-label={label}
      aria-busy={busy}
      aria-rowcount={size.rows + 1}
      aria-colcount={size.cols}
      aria-multiselectable="true"
      aria-activedescendant={size.rows > 0 ? `${id}-${selection.active.row}-${selection.active.col}` : undefined}
      className={`group/grid relative min-h-48 flex-1 overflow-auto bg-sheet outline-none select-none ${busy ? 'opacity-70' : ''}`}
      onKeyDown={onKeyDown}
      onCopy={onCopy}
      onCut={onCopy}
      onPaste={onPaste}
      onPointerDown={onPointerDown}
      onPointerMove={onPointerMove}
      onPointerUp={() => (dragging.current = false)}
      onDoubleClick={(e) => (e.target as HTMLElement).closest('[data-cell]') && begin(null)}
    >
      <div
        style={{
          width: startWidth + middleWidth + endWidth,
          minWidth: '100%',
          height: rowVirtual.getTotalSize() + headHeight,
          position: 'relative',
        }}
      >
        <GridHead state={state} height={headHeight} middle={middle} />
        {drawn.map((v) => {
          const row = sheet.rowAt(v.index);
          if (row === undefined)
            return (
              <AwayRow
                key={`away ${v.index}`}
                id={`${id}-${v.index}-${selection.active.col}`}
                index={v.index}
                top={v.start + headHeight}
              />
            );
          return (
            <GridRow
              key={sheet.keyOf(row)}
              id={id}
              index={v.index}
              top={v.start + headHeight}
              sheet={sheet}
              parts={parts}
              startWidth={startWidth}
              first={middle[0]?.index ?? 0}
              last={lastMiddle?.index ?? -1}
              offset={(middle[0]?.start ?? startWidth) - startWidth}
              block={v.index >= block.top && v.index <= block.bottom ? block : null}
              active={v.index === selection.active.row ? selection.active.col : null}
              editor={
                editing && sheet.keyOf(editing.of) === sheet.keyOf(row)
                  ? {
                      col: editing.cell.col,
                      text: editing.text,
                      fault: editing.fault,
                      onKey: onEditorKey,
                      onText: (text) => setEditing({ ...editing, text, fault: null }),
                      // clicking elsewhere keeps what was typed, unless it cannot be read
                      onLeave: () => commit('stay'),
                    }
                  : null
              }
            />
          );
        })}
      </div>
    </div>
  );
}
