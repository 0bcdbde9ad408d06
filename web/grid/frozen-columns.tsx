import type { ReactNode } from 'react';
import type { Column } from './columns.ts';
import type { SheetState } from './use-sheet.ts';

type Place = { readonly left: number } | { readonly right: number };

/** Draws the cells of the columns that stay at the edges while the rest is scrolled. */
export function FrozenColumns<Row>({
  parts,
  cell,
}: {
  parts: SheetState<Row>['parts'];
  cell: (column: Column<Row>, col: number, place: Place) => ReactNode;
}) {
  const before = (columns: readonly Column<Row>[]) => columns.reduce((sum, c) => sum + c.width, 0);
  const firstOfEnd = parts.start.length + parts.middle.length;
  return (
    <>
      <div className="sticky left-0 z-10 h-0 w-0">
        {parts.start.map((c, i) => cell(c, i, { left: before(parts.start.slice(0, i)) }))}
      </div>
      {parts.end.length > 0 ? (
        <div className="sticky right-0 z-10 ml-auto h-0 w-0">
          {parts.end.map((c, i) => cell(c, firstOfEnd + i, { right: before(parts.end.slice(i + 1)) }))}
        </div>
      ) : null}
    </>
  );
}
