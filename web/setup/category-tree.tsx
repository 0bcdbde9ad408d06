import {
  DndContext,
  type DragEndEvent,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { type KeyboardEvent, useMemo, useRef, useState } from 'react';
import { type NumberForm, show } from '../kit/number-form.ts';
import { type ItemsIn, type TreeRow, branchOf, itemsIn, laidOut } from './tree.ts';

/** So far the pointer goes before a press is a drag, in pixels. */
const FAR = 6;
const TOP = 'top';

/**
 * Categories as the tree they are: dragged to another place, or moved by key. Nothing is kept by it: `onMove` proposes the
 * new place, and what follows from it is looked at first.
 */
export function CategoryTree<R extends TreeRow>({
  rows,
  items,
  form,
  may,
  onMove,
  onOpen,
}: {
  rows: readonly R[];
  /** How many items lie in each. */
  items: ReadonlyMap<string, number>;
  form: NumberForm;
  may: boolean;
  onMove: (row: R, parent: string | null) => void;
  onOpen: (row: R) => void;
}) {
  const [closed, setClosed] = useState<ReadonlySet<string>>(new Set());
  const shown = useMemo(() => laidOut(rows, closed), [rows, closed]);
  const counts = useMemo(() => itemsIn(rows, items), [rows, items]);
  const [at, setAt] = useState(0);
  const list = useRef<HTMLUListElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: FAR } }));
  const focused = Math.min(at, shown.length - 1);
  const go = (to: number) => {
    const next = Math.max(0, Math.min(shown.length - 1, to));
    setAt(next);
    list.current?.querySelectorAll<HTMLElement>('[role="treeitem"]')[next]?.focus();
  };
  const fold = (id: string, close: boolean) => {
    const next = new Set(closed);
    if (close) next.add(id);
    else next.delete(id);
    setClosed(next);
  };
  const move = (row: R, parent: string | null) => {
    if (!may || parent === row.parent) return;
    if (parent !== null && branchOf(rows, row.id).has(parent)) return;
    onMove(row, parent);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    const here = shown[focused];
    if (!here) return;
    const { row, children, open } = here;
    const parentAt = shown.findIndex((s) => s.row.id === row.parent);
    const keys: Readonly<Record<string, () => void>> = {
      ArrowDown: () => go(focused + 1),
      ArrowUp: () => go(focused - 1),
      Home: () => go(0),
      End: () => go(shown.length - 1),
      ArrowRight: () => {
        if (!e.ctrlKey) return children > 0 && !open ? fold(row.id, false) : children > 0 ? go(focused + 1) : undefined;
        // below the one that stands above it on the same level
        const elder = shown
          .slice(0, focused)
          .reverse()
          .find((s) => s.row.parent === row.parent);
        if (elder) move(row, elder.row.id);
      },
      ArrowLeft: () => {
        if (e.ctrlKey) return parentAt >= 0 ? move(row, shown[parentAt]!.row.parent) : undefined;
        if (children > 0 && open) fold(row.id, true);
        else if (parentAt >= 0) go(parentAt);
      },
      Enter: () => onOpen(row),
    };
    const act = keys[e.key];
    if (!act) return;
    e.preventDefault();
    act();
  };
  const dropped = ({ active, over }: DragEndEvent) => {
    const row = rows.find((r) => r.id === active.id);
    if (row && over && over.id !== row.id) move(row, over.id === TOP ? null : String(over.id));
  };
  return (
    <DndContext sensors={sensors} onDragEnd={dropped}>
      {may ? (
        <p className="mb-2 text-xs text-faint">
          Drag a category to where it lies, or with the keyboard: Ctrl + → below the one above it, Ctrl + ← out of the
          one it lies in, Enter to change it.
        </p>
      ) : null}
      <TopZone may={may} />
      <ul ref={list} role="tree" aria-label="Categories" className="max-w-2xl select-none" onKeyDown={onKeyDown}>
        {shown.map((s, i) => (
          <Node
            key={s.row.id}
            row={s.row}
            level={s.level}
            items={counts.get(s.row.id)!}
            form={form}
            fold={s.children === 0 ? null : s.open ? 'open' : 'closed'}
            tabbed={i === focused}
            may={may}
            onFocus={() => setAt(i)}
            onFold={() => fold(s.row.id, s.open)}
            onOpen={() => onOpen(s.row)}
          />
        ))}
      </ul>
    </DndContext>
  );
}

function TopZone({ may }: { may: boolean }) {
  const { setNodeRef, isOver, active } = useDroppable({ id: TOP, disabled: !may });
  return (
    <div ref={setNodeRef} className={`max-w-2xl px-2 py-1 text-xs ${isOver ? 'bg-proposed' : 'text-faint'}`}>
      {active ? 'to the top: below none' : ' '}
    </div>
  );
}

function Node({
  row,
  level,
  fold,
  items,
  form,
  tabbed,
  may,
  onFocus,
  onFold,
  onOpen,
}: {
  row: TreeRow;
  level: number;
  fold: 'open' | 'closed' | null;
  items: ItemsIn;
  form: NumberForm;
  tabbed: boolean;
  may: boolean;
  onFocus: () => void;
  onFold: () => void;
  onOpen: () => void;
}) {
  const n = (count: number) => show(String(count), form);
  const drag = useDraggable({ id: row.id, disabled: !may });
  const drop = useDroppable({ id: row.id, disabled: !may });
  const shift = drag.transform ? { transform: `translate(${drag.transform.x}px, ${drag.transform.y}px)` } : {};
  const Fold = fold === 'open' ? ChevronDown : ChevronRight;
  return (
    <li
      ref={(el) => {
        drag.setNodeRef(el);
        drop.setNodeRef(el);
      }}
      role="treeitem"
      aria-level={level}
      {...(fold === null ? {} : { 'aria-expanded': fold === 'open' })}
      aria-selected={tabbed}
      tabIndex={tabbed ? 0 : -1}
      onFocus={onFocus}
      {...drag.listeners}
      className={`flex items-center gap-1 border-b border-rule py-1 pr-2 ${drop.isOver && !drag.isDragging ? 'bg-proposed' : ''} ${drag.isDragging ? 'relative z-10 bg-sheet opacity-80' : ''}`}
      style={{ paddingLeft: `${(level - 1) * 1.5 + 0.25}rem`, ...shift }}
    >
      {fold === null ? (
        <span className="w-5" />
      ) : (
        <button
          type="button"
          tabIndex={-1}
          aria-label={`${fold === 'open' ? 'fold' : 'unfold'} ${row.name}`}
          onClick={onFold}
        >
          <Fold size={16} aria-hidden />
        </button>
      )}
      <span className="flex-1">{row.name}</span>
      <span className="pr-3 text-faint">
        {items.all === 0 ? 'no item' : `${n(items.all)} ${items.all === 1 ? 'item' : 'items'}`}
        {items.own !== items.all && items.own > 0 ? `, ${n(items.own)} of them here` : ''}
      </span>
      {may ? (
        <button
          type="button"
          tabIndex={-1}
          aria-label={`change ${row.name}`}
          className="text-accent underline"
          onPointerDown={(e) => e.stopPropagation()}
          onClick={onOpen}
        >
          change
        </button>
      ) : null}
    </li>
  );
}
