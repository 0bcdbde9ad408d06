import {
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  closestCenter,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import {
  SortableContext,
  arrayMove,
  sortableKeyboardCoordinates,
  useSortable,
  verticalListSortingStrategy,
} from '@dnd-kit/sortable';
import { ChevronDown, ChevronUp, GripVertical } from 'lucide-react';
import type { ReactNode } from 'react';

type Row = Readonly<Record<string, unknown>>;

/** So far the pointer goes before a press is a drag, in pixels. */
const FAR = 6;

const ROW = 'flex items-start gap-2 border-t border-rule pt-1.5';

/** Rows in their order; each can be dragged or moved by key to another place, taken away, and another added. */
export function RowList({
  rows,
  one,
  label,
  least = 0,
  unordered = false,
  fresh,
  onRows,
  draw,
}: {
  rows: readonly Row[];
  one: string;
  label: string;
  least?: number;
  /** Their places say nothing: none can be moved. */
  unordered?: boolean | undefined;
  fresh: (rows: readonly Row[]) => Row;
  onRows: (rows: Row[]) => void;
  draw: (row: Row, i: number, put: (row: Row) => void) => ReactNode;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: FAR } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, scrollBehavior: 'auto' }),
  );
  // rows have no names of their own: their places are
  const places = rows.map((_, i) => `place ${i + 1}`);
  const move = (from: number, to: number) => onRows(arrayMove([...rows], from, to));
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && over.id !== active.id) move(places.indexOf(String(active.id)), places.indexOf(String(over.id)));
  };
  const moves = (i: number) => (
    <span className="flex flex-col">
      <button
        type="button"
        aria-label={`Move ${one} ${i + 1} up, ${label}`}
        disabled={i === 0}
        className="px-1 text-accent disabled:text-faint disabled:opacity-45"
        onClick={() => move(i, i - 1)}
      >
        <ChevronUp size={16} aria-hidden />
      </button>
      <button
        type="button"
        aria-label={`Move ${one} ${i + 1} down, ${label}`}
        disabled={i === rows.length - 1}
        className="px-1 text-accent disabled:text-faint disabled:opacity-45"
        onClick={() => move(i, i + 1)}
      >
        <ChevronDown size={16} aria-hidden />
      </button>
    </span>
  );
  const partsOf = (row: Row, i: number) => (
    <>
      {unordered ? null : moves(i)}
      {draw(row, i, (next) => onRows(rows.with(i, next)))}
      <button
        type="button"
        aria-label={`Take ${one} ${i + 1} away, ${label}`}
        disabled={rows.length <= least}
        className="px-1 text-accent disabled:text-faint"
        onClick={() => onRows(rows.filter((_, n) => n !== i))}
      >
        ×
      </button>
    </>
  );
  return (
    <span className="flex flex-col gap-2" role="group" aria-label={label}>
      {rows.length < 2 || unordered ? (
        rows.map((row, i) => (
          <span key={places[i]} className={ROW}>
            {partsOf(row, i)}
          </span>
        ))
      ) : (
        <DndContext
          sensors={sensors}
          collisionDetection={closestCenter}
          onDragEnd={dropped}
          accessibility={{
            screenReaderInstructions: {
              draggable: 'Space picks it up, the arrows move it, Space puts it down, Escape leaves it where it was.',
            },
            announcements: {
              onDragStart: ({ active }) => `${one} at ${active.id} picked up`,
              onDragOver: ({ over }) => (over ? `over ${over.id}` : undefined),
              onDragEnd: ({ over }) => (over ? `${one} put down at ${over.id}` : `${one} left where it was`),
              onDragCancel: () => `${one} left where it was`,
            },
          }}
        >
          <SortableContext items={places} strategy={verticalListSortingStrategy}>
            {rows.map((row, i) => (
              <Movable key={places[i]} place={places[i]!} name={`${one} ${i + 1}, ${label}`}>
                {partsOf(row, i)}
              </Movable>
            ))}
          </SortableContext>
        </DndContext>
      )}
      <button type="button" className="self-start text-accent underline" onClick={() => onRows([...rows, fresh(rows)])}>
        one more {one}
      </button>
    </span>
  );
}

function Movable({ place, name, children }: { place: string; name: string; children: ReactNode }) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: place,
  });
  return (
    <span
      ref={setNodeRef}
      className={`${ROW} bg-sheet ${isDragging ? 'relative z-10 outline outline-accent' : ''}`}
      style={{ transform: transform ? `translateY(${transform.y}px)` : undefined, transition }}
    >
      <button
        ref={setActivatorNodeRef}
        type="button"
        {...attributes}
        {...listeners}
        aria-label={`Drag ${name}`}
        className="mt-1.5 cursor-grab touch-none px-0.5 text-faint hover:text-ink"
      >
        <GripVertical size={16} aria-hidden />
      </button>
      {children}
    </span>
  );
}
