import { useState } from 'react';
import { ROW_FAULT_TEXT, type RowFault, type SheetCorrection, type SheetView } from '#contract/costs.ts';
import { SHEET_FIELD_NAMES, type SheetField } from '#contract/sheet-match.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button } from '../kit/controls.tsx';
import { countedIn } from '../kit/words.ts';
import { useRowDecisions } from './row-decisions.ts';
import { RowDialog } from './row-dialog.tsx';

const saidOf = ({ decision, reason, cells, add }: SheetCorrection): string =>
  [
    decision === 'left_out' ? 'left out' : decision === 'held' ? 'held' : '',
    reason ?? '',
    ...Object.entries(cells ?? {}).map(
      ([f, text]) => `${SHEET_FIELD_NAMES[f as SheetField]}: ${text === '' ? '(nothing)' : text}`,
    ),
    add ? 'made into an item' : '',
  ]
    .filter((t) => t !== '')
    .join('; ');

/** Rows that cannot be read, each with what can be done about it, and below them what was decided for single rows. */
export function SheetRows({ sheet, may }: { sheet: SheetView; may: boolean }) {
  const { whole, counted } = countedIn(useNumberForm());
  const [open, setOpen] = useState<number | null>(null);
  const { send, isLoading } = useRowDecisions(sheet);
  const decided = sheet.said.rows;
  const rows = [...new Set(sheet.faults.map((f) => f.row))];
  const leaveOut = (row: number) => ({ row, decision: 'left_out' as const });
  const actions = (f: RowFault) => (
    <span className="flex gap-3 whitespace-nowrap">
      <button type="button" className="text-accent underline" onClick={() => setOpen(f.row)}>
        correct
      </button>
      <button
        type="button"
        className="text-accent underline"
        disabled={isLoading}
        onClick={() => void send([leaveOut(f.row)])}
      >
        leave out
      </button>
      {f.earlier !== undefined ? (
        <button
          type="button"
          className="text-accent underline"
          disabled={isLoading}
          onClick={() => void send([leaveOut(f.earlier!)])}
        >
          take this one
        </button>
      ) : null}
    </span>
  );
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      {sheet.faults.length === 0 ? (
        <p className="text-faint">Every row can be read.</p>
      ) : (
        <>
          <p className="mb-2 flex max-w-4xl items-center gap-4 text-faint">
            <span className="flex-1">
              These rows are not taken in. Correct them here or in the file, leave them out, or change how the file is
              read.
              {sheet.counts.faulty > rows.length
                ? ` The first ${whole(rows.length)} of ${whole(sheet.counts.faulty)} are shown.`
                : ''}
            </span>
            {may ? (
              <Button disabled={isLoading} onClick={() => void send(rows.map(leaveOut))}>
                Leave out {counted(rows.length, 'row')}
              </Button>
            ) : null}
          </p>
          <table className="ruled w-full max-w-4xl">
            <thead>
              <tr>
                <th className="figure">Row</th>
                <th>Column</th>
                <th>Value</th>
                <th>Why</th>
                {may ? <th></th> : null}
              </tr>
            </thead>
            <tbody>
              {sheet.faults.map((f, i) => (
                <tr key={i}>
                  <td className="figure">{f.row}</td>
                  <td>{f.column}</td>
                  <td className="figure !text-left">
                    {f.value === '' ? <span className="text-faint">(nothing)</span> : f.value}
                  </td>
                  <td className="text-stop">{ROW_FAULT_TEXT[f.code]}</td>
                  {may ? <td>{actions(f)}</td> : null}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {decided.length > 0 ? (
        <>
          <h2 className="mt-5">Decided row by row</h2>
          {sheet.said.count > decided.length ? (
            <p className="flex max-w-4xl items-center gap-4 text-faint">
              <span className="flex-1">
                The first {decided.length} of {sheet.said.count} are shown.
              </span>
              {may ? (
                <Button
                  disabled={isLoading}
                  onClick={() => void send(decided.flatMap((d) => (d.taken ? [] : [{ row: d.row, decision: 'read' }])))}
                >
                  Read these as they came
                </Button>
              ) : null}
            </p>
          ) : null}
          <table className="ruled mt-1 w-full max-w-4xl">
            <tbody>
              {decided.map(({ row, said, taken }) => (
                <tr key={row}>
                  <td className="figure w-16">{row}</td>
                  <td>{saidOf(said)}</td>
                  {may ? (
                    <td>
                      {taken ? (
                        <span className="text-faint">taken in</span>
                      ) : (
                        <button
                          type="button"
                          className="text-accent underline"
                          disabled={isLoading}
                          onClick={() => void send([{ row, decision: 'read' }])}
                        >
                          read as it came
                        </button>
                      )}
                    </td>
                  ) : null}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : null}
      {open !== null ? <RowDialog sheet={sheet} row={open} onClose={() => setOpen(null)} /> : null}
    </div>
  );
}
