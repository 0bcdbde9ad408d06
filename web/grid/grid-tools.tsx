import { DropdownMenu, Popover } from 'radix-ui';
import type { ReactNode } from 'react';
import { useNumberForm } from '../frame/preferences.ts';
import { Button } from '../kit/controls.tsx';
import { show } from '../kit/number-form.ts';
import { type Column, moveColumn } from './columns.ts';
import { csvOf, download, downloadXlsx } from './files.ts';
import type { Sheet } from './edits.ts';
import type { SheetState } from './use-sheet.ts';

const CHOICE = 'cursor-default px-3 py-1.5 outline-none data-[highlighted]:bg-chosen';

/** Above a grid: find in all columns, how many rows there are, and which columns are shown in which order. */
export function GridTools<Row>({
  state,
  columns,
  what,
  one = what.replace(/s$/, ''),
  fileName = what,
  children,
}: {
  state: SheetState<Row>;
  columns: readonly Column<Row>[];
  what: string;
  /** One of them; absent: `what` without its s. */
  one?: string;
  /** Of a file with what is shown, without its ending. */
  fileName?: string;
  /** What can be done with the selected row. */
  children?: ReactNode;
}) {
  const { arrangement, setArrangement } = state;
  const form = useNumberForm();
  // what is shown goes out, as it is sorted and filtered
  const write = async (as: 'csv' | 'xlsx', sheet: Sheet<Row>) => {
    const name = `${fileName}.${as}`;
    try {
      if (as === 'xlsx') await downloadXlsx(name, sheet);
      else download(name, new Blob([csvOf(sheet, form)], { type: 'text/csv;charset=utf-8' }));
    } catch {
      state.setNotice('The file could not be made. Nothing is lost: try again, or with fewer rows.');
    }
  };
  const save = (as: 'csv' | 'xlsx') => state.reach(0, shown - 1, (sheet) => void write(as, sheet));
  const { total } = state;
  const shown = state.sheet.size.rows;
  const all = `${show(String(total), form)} ${total === 1 ? one : what}`;
  const filtered = state.everywhere !== '' || Object.values(state.filters).some((f) => f !== '');
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 px-5 py-1.5 text-sm">
      <input
        type="search"
        aria-label={`Find in ${what}`}
        placeholder={`Find in ${what}`}
        value={state.everywhere}
        onChange={(e) => state.setEverywhere(e.target.value)}
        className="field w-56"
      />
      <span className="text-faint" role="status">
        {shown === total ? all : `${show(String(shown), form)} of ${all}`}
      </span>
      {filtered ? (
        <button
          type="button"
          className="text-accent underline"
          onClick={() => (state.setFilters({}), state.setEverywhere(''))}
        >
          show all
        </button>
      ) : null}
      <span className="min-w-0 flex-1 truncate text-warn" role="status" title={state.notice ?? undefined}>
        {state.notice}
      </span>
      {children}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger asChild>
          <Button disabled={shown === 0}>To a file</Button>
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className="z-30 border border-rule-strong bg-sheet py-1">
            <DropdownMenu.Item className={CHOICE} onSelect={() => save('xlsx')}>
              Workbook (XLSX)
            </DropdownMenu.Item>
            <DropdownMenu.Item className={CHOICE} onSelect={() => save('csv')}>
              Text table (CSV)
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <Popover.Root>
        <Popover.Trigger asChild>
          <Button>Columns</Button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="end"
            sideOffset={4}
            className="z-30 max-h-[60vh] overflow-auto border border-rule-strong bg-sheet p-3"
          >
            {arrangement.order.map((id) => {
              const column = columns.find((c) => c.id === id);
              if (!column) return null;
              return (
                <div key={id} className="flex items-center gap-2 py-0.5">
                  <label className="flex flex-1 items-center gap-2">
                    <input
                      type="checkbox"
                      checked={!arrangement.hidden.has(id)}
                      onChange={(e) => {
                        const hidden = new Set(arrangement.hidden);
                        if (e.target.checked) hidden.delete(id);
                        else hidden.add(id);
                        setArrangement({ ...arrangement, hidden });
                      }}
                    />
                    {column.title}
                  </label>
                  <button
                    type="button"
                    aria-label={`Move ${column.title} to the left`}
                    className="px-1 text-accent"
                    onClick={() => setArrangement(moveColumn(arrangement, id, -1))}
                  >
                    ←
                  </button>
                  <button
                    type="button"
                    aria-label={`Move ${column.title} to the right`}
                    className="px-1 text-accent"
                    onClick={() => setArrangement(moveColumn(arrangement, id, 1))}
                  >
                    →
                  </button>
                </div>
              );
            })}
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}
