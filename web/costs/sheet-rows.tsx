import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import {
  ROW_FAULT_TEXT,
  type RowFault,
  SHEET_FIELDS,
  SHEET_FIELD_NAMES,
  type SheetField,
  type SheetView,
} from '#contract/costs.ts';
import { costsApi } from './endpoints.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { counted } from '../kit/words.ts';

/** Leaves rows out, corrects one, or reads it as it came again. */
export function useRowCorrections(sheet: SheetView) {
  const [correct, { isLoading }] = costsApi.useCorrectRowsMutation();
  const send = async (
    rows: readonly { row: number; leaveOut: boolean; cells?: Partial<Record<SheetField, string>> }[],
  ) => {
    try {
      await correct({
        id: sheet.id,
        version: sheet.version,
        rows: rows.map((r) => ({ ...r, cells: r.cells ?? {} })),
      }).unwrap();
      return true;
    } catch (e) {
      toast.error(problemOf(e).message);
      return false;
    }
  };
  return { send, isLoading };
}

/** Rows that cannot be read, each with what can be done about it, and below them what was decided for single rows. */
export function SheetRows({ sheet, may }: { sheet: SheetView; may: boolean }) {
  const [open, setOpen] = useState<number | null>(null);
  const { send, isLoading } = useRowCorrections(sheet);
  const decided = Object.entries(sheet.corrections).map(([row, c]) => ({ row: Number(row), ...c }));
  const rows = [...new Set(sheet.faults.map((f) => f.row))];
  const actions = (f: RowFault) => (
    <span className="flex gap-3 whitespace-nowrap">
      <button type="button" className="text-accent underline" onClick={() => setOpen(f.row)}>
        correct
      </button>
      <button
        type="button"
        className="text-accent underline"
        disabled={isLoading}
        onClick={() => void send([{ row: f.row, leaveOut: true }])}
      >
        leave out
      </button>
      {f.earlier !== undefined ? (
        <button
          type="button"
          className="text-accent underline"
          disabled={isLoading}
          onClick={() => void send([{ row: f.earlier!, leaveOut: true }])}
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
                ? ` The first ${rows.length} of ${sheet.counts.faulty} are shown.`
                : ''}
            </span>
            {may ? (
              <Button disabled={isLoading} onClick={() => void send(rows.map((row) => ({ row, leaveOut: true })))}>
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
          <table className="ruled mt-1 w-full max-w-4xl">
            <tbody>
              {decided.map((d) => (
                <tr key={d.row}>
                  <td className="figure w-16">{d.row}</td>
                  <td>
                    {d.leaveOut
                      ? 'left out'
                      : Object.entries(d.cells ?? {})
                          .map(
                            ([f, text]) => `${SHEET_FIELD_NAMES[f as SheetField]}: ${text === '' ? '(nothing)' : text}`,
                          )
                          .join('; ')}
                  </td>
                  {may ? (
                    <td>
                      <button
                        type="button"
                        className="text-accent underline"
                        disabled={isLoading}
                        onClick={() => void send([{ row: d.row, leaveOut: false }])}
                      >
                        read as it came
                      </button>
                    </td>
                  ) : null}
                </tr>
              ))}
            </tbody>
          </table>
        </>
      ) : null}
      {open !== null ? <CorrectRow sheet={sheet} row={open} onClose={() => setOpen(null)} /> : null}
    </div>
  );
}

/** What is typed here is read like a cell of the file: in the file's form of numbers and days. */
export function CorrectRow({ sheet, row, onClose }: { sheet: SheetView; row: number; onClose: () => void }) {
  const change = sheet.changes.find((c) => c.row === row);
  const faults = sheet.faults.filter((f) => f.row === row);
  const before = sheet.corrections[row]?.cells ?? {};
  const [cells, setCells] = useState<Partial<Record<SheetField, string>>>(before);
  const { send, isLoading } = useRowCorrections(sheet);
  const inFile = (field: SheetField): string => {
    const cells = sheet.faulty[row];
    const at = sheet.match.columns[field];
    if (cells) return at === undefined ? '' : (cells[at] ?? '');
    if (!change) return '';
    const { code, name, after } = change;
    const known = {
      code,
      name,
      cost: after.amount,
      currency: after.currency,
      packUnits: after.packUnits,
      validFrom: after.from,
    };
    return field in known ? known[field as keyof typeof known] : '';
  };
  const first = faults[0]?.field ?? 'cost';
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    if (await send([{ row, leaveOut: false, cells }])) onClose();
  };
  return (
    <Dialog open onClose={onClose} title={`Row ${row} of ${sheet.fileName}`}>
      <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-3">
        <p className="text-faint">
          {change ? `${change.code}, ${change.name}. ` : ''}What is typed here counts instead of the cell in the file
          and is read in the file’s own form of numbers and days; what is left empty is read from the file, where it
          stands in grey.
        </p>
        {faults.length > 0 ? (
          <Trouble>
            {faults.map((f, i) => (
              <p key={i}>
                {f.column} {f.value === '' ? '' : `“${f.value}” `}
                {ROW_FAULT_TEXT[f.code]}
              </p>
            ))}
          </Trouble>
        ) : null}
        <div className="grid grid-cols-2 gap-x-5 gap-y-2">
          {SHEET_FIELDS.map((f) => (
            <Field key={f} label={SHEET_FIELD_NAMES[f]} fault={faultOf(faults, f)}>
              <Input
                name={`cell-${f}`}
                placeholder={inFile(f)}
                autoFocus={f === first}
                value={cells[f] ?? ''}
                invalid={faultOf(faults, f) !== undefined}
                onChange={(e) => {
                  const next = { ...cells };
                  if (e.target.value === '') delete next[f];
                  else next[f] = e.target.value;
                  setCells(next);
                }}
              />
            </Field>
          ))}
        </div>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button
            disabled={isLoading}
            onClick={() => void send([{ row, leaveOut: true }]).then((done) => done && onClose())}
          >
            Leave this row out
          </Button>
          <Button type="submit" weight="main" disabled={isLoading}>
            Read the row this way
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

const faultOf = (faults: readonly RowFault[], field: SheetField): string | undefined => {
  const fault = faults.find((f) => f.field === field);
  return fault ? ROW_FAULT_TEXT[fault.code] : undefined;
};
