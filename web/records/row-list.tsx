import { ChevronDown, ChevronUp } from 'lucide-react';
import type { ReactNode } from 'react';

type Row = Readonly<Record<string, unknown>>;

/** Rows in their order; each can be moved up and down, taken away, and another added. */
export function RowList({
  rows,
  one,
  label,
  least = 0,
  fresh,
  onRows,
  draw,
}: {
  rows: readonly Row[];
  one: string;
  label: string;
  least?: number;
  fresh: (rows: readonly Row[]) => Row;
  onRows: (rows: Row[]) => void;
  draw: (row: Row, i: number, put: (row: Row) => void) => ReactNode;
}) {
  const move = (i: number, by: -1 | 1) => {
    const next = [...rows];
    [next[i], next[i + by]] = [next[i + by]!, next[i]!];
    onRows(next);
  };
  return (
    <span className="flex flex-col gap-2" role="group" aria-label={label}>
      {rows.map((row, i) => (
        <span key={i} className="flex items-start gap-2 border-t border-rule pt-1.5">
          <span className="flex flex-col">
            <button
              type="button"
              aria-label={`Move ${one} ${i + 1} up, ${label}`}
              disabled={i === 0}
              className="px-1 text-accent disabled:text-faint disabled:opacity-45"
              onClick={() => move(i, -1)}
            >
              <ChevronUp size={16} aria-hidden />
            </button>
            <button
              type="button"
              aria-label={`Move ${one} ${i + 1} down, ${label}`}
              disabled={i === rows.length - 1}
              className="px-1 text-accent disabled:text-faint disabled:opacity-45"
              onClick={() => move(i, 1)}
            >
              <ChevronDown size={16} aria-hidden />
            </button>
          </span>
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
        </span>
      ))}
      <button type="button" className="self-start text-accent underline" onClick={() => onRows([...rows, fresh(rows)])}>
        one more {one}
      </button>
    </span>
  );
}
