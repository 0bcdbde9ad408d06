import { useState } from 'react';
import { toast } from 'sonner';
import type { SheetView } from '#contract/costs.ts';
import { MOST_SKIPPED, SHEET_FIELDS, SHEET_FIELD_NAMES, type SheetMatch } from '#contract/sheet-match.ts';
import { costsApi } from './endpoints.ts';
import { QuantityColumns } from './quantity-columns.tsx';
import { useFreshSheet } from './fresh-sheet.ts';
import { useRegister } from '../records/use-register.ts';
import { RecordOne } from '../records/record-picker.tsx';
import { problemOf } from '../api.ts';
import { DateField } from '../kit/date-field.tsx';
import { Button, Field, Input, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';

/** How a file is read: its columns matched to ours, number form, days, encoding. The first rows stand below, as they are in the file. */
export function SheetMatchForm({
  sheet,
  editable,
  onKept,
}: {
  sheet: SheetView;
  editable: boolean;
  onKept: () => void;
}) {
  const [match, setMatch] = useState<SheetMatch>(sheet.match);
  const [keep, { isLoading, error }] = costsApi.useMatchSheetMutation();
  const fresh = useFreshSheet(sheet.id);
  const { rows: taxes } = useRegister('tax-rates');
  const set = (change: Partial<SheetMatch>) => setMatch((m) => ({ ...m, ...change }));
  const submit = async () => {
    try {
      await keep({ id: sheet.id, version: sheet.version, match }).unwrap();
      await fresh();
      toast.success('The file was read again.');
      onKept();
    } catch {
      /* shown above the form */
    }
  };
  const columnOptions = [
    ['', 'not in the file'] as const,
    ...sheet.header.map((h, i) => [String(i), h === '' ? `column ${i + 1}` : h] as const),
  ];
  return (
    <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      <fieldset
        disabled={!editable}
        className="grid max-w-5xl grid-cols-[repeat(auto-fill,minmax(14rem,1fr))] gap-x-5 gap-y-3"
      >
        {SHEET_FIELDS.map((field) => (
          <Field key={field} label={SHEET_FIELD_NAMES[field]}>
            <Select
              name={`column-${field}`}
              value={match.columns[field] === undefined ? '' : String(match.columns[field])}
              options={columnOptions}
              onValue={(chosen) => {
                const columns = { ...match.columns };
                if (chosen === '') delete columns[field];
                else columns[field] = Number(chosen);
                set({ columns });
              }}
            />
          </Field>
        ))}
        <QuantityColumns
          columns={columnOptions}
          value={match.quantityColumns ?? []}
          onValue={(quantityColumns) => set({ quantityColumns })}
        />
        {sheet.pages.length > 0 ? (
          <Field label="Sheet of the workbook">
            <Select
              name="page"
              value={match.page ?? ''}
              onValue={(chosen) => set({ page: chosen })}
              options={sheet.pages.map((p) => [p, p] as const)}
            />
          </Field>
        ) : null}
        <Field label="Rows passed over at the top">
          <Input
            name="skip"
            inputMode="numeric"
            value={String(match.skip)}
            onChange={(e) => {
              const skip = Number(e.target.value.replace(/\D/g, ''));
              if (skip <= MOST_SKIPPED) set({ skip });
            }}
          />
        </Field>
        <Field label="The columns are named by">
          <Select
            name="headerRows"
            value={String(match.headerRows)}
            onValue={(chosen) => set({ headerRows: Number(chosen) as 0 | 1 | 2 })}
            options={[
              ['1', 'the next row'],
              ['2', 'the next two rows'],
              ['0', 'nothing: the next row is a cost already'],
            ]}
          />
        </Field>
        <Field label="Numbers are written like">
          <Select
            name="numbers"
            value={`${match.decimal}${match.thousands}`}
            onValue={(chosen) => set({ decimal: chosen[0] as '.', thousands: (chosen[1] ?? '') as '' })}
            options={[
              ['.,', '1,234.50'],
              [',.', '1.234,50'],
              [', ', '1 234,50'],
              ['. ', '1 234.50'],
              [".'", "1'234.50"],
              ['.', '1234.50 only'],
              [',', '1234,50 only'],
            ]}
          />
        </Field>
        <Field label="Days are written like">
          <Select
            name="dates"
            value={match.dates}
            onValue={(chosen) => set({ dates: chosen as 'iso' })}
            options={[
              ['iso', '2026-03-09'],
              ['day_first', '09.03.2026 or 9/3/2026'],
              ['month_first', '03/09/2026'],
            ]}
          />
        </Field>
        <Field label="Costs without a day count from" group>
          <DateField
            name="validFrom"
            label="Costs without a day count from"
            value={match.validFrom}
            onValue={(validFrom) => set({ validFrom })}
          />
        </Field>
        {sheet.pages.length > 0 ? null : (
          <>
            {' '}
            <Field label="Columns are parted by">
              <Select
                name="delimiter"
                value={match.delimiter}
                onValue={(chosen) => set({ delimiter: chosen })}
                options={[
                  [',', 'comma'],
                  [';', 'semicolon'],
                  ['\t', 'tab'],
                  ['|', 'bar'],
                ]}
              />
            </Field>
            <Field label="Letters are encoded as">
              <Select
                name="encoding"
                value={match.encoding}
                onValue={(chosen) => set({ encoding: chosen as 'utf-8' })}
                options={[
                  ['utf-8', 'UTF-8'],
                  ['windows-1252', 'Windows-1252'],
                  ['utf-16le', 'UTF-16'],
                ]}
              />
            </Field>
          </>
        )}
        <Field label="RRP, MAP and weight of items that are known">
          <Select
            name="known"
            value={match.known}
            onValue={(chosen) => set({ known: chosen as 'take' })}
            options={[
              ['leave', 'stay as they are'],
              ['take', 'are taken from the file'],
            ]}
          />
        </Field>
        <Field label="Codes nobody knows">
          <Select
            name="newItems"
            value={match.newItems}
            onValue={(chosen) => set({ newItems: chosen as 'add' })}
            options={[
              ['leave_out', 'leave out'],
              ['add', 'add as new items'],
            ]}
          />
        </Field>
        {match.newItems === 'add' ? (
          <>
            <Field label="New items go into the category" group>
              <RecordOne
                register="categories"
                label="New items go into the category"
                value={match.category}
                onValue={(category) => set({ category })}
              />
            </Field>
            <Field label="with the tax class">
              <Select
                name="taxClass"
                value={match.taxClass ?? ''}
                onValue={(chosen) => set({ taxClass: chosen || null })}
                options={[['', 'choose …'], ...[...new Set(taxes.map((t) => t.taxClass))].map((t) => [t, t] as const)]}
              />
            </Field>
          </>
        ) : null}
      </fieldset>
      {editable ? (
        <Button weight="main" className="mt-4" disabled={isLoading} onClick={() => void submit()}>
          {isLoading ? 'Reading …' : 'Read the file this way'}
        </Button>
      ) : null}
      <h2 className="mt-6">The first rows, as they stand in the file</h2>
      <div className="overflow-x-auto">
        <table className="ruled mt-1">
          <thead>
            <tr>
              {sheet.header.map((h, i) => (
                <th key={i}>
                  {h}
                  <div className="text-xs font-normal">
                    {SHEET_FIELDS.filter((f) => match.columns[f] === i)
                      .map((f) => `→ ${SHEET_FIELD_NAMES[f]}`)
                      .join(', ')}
                    {(match.quantityColumns ?? [])
                      .filter((q) => q.column === i)
                      .map((q) => `→ cost ${q.from === null ? 'for more at once' : `from ${q.from} at once`}`)}
                  </div>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sheet.sample.map((row, r) => (
              <tr key={r}>
                {sheet.header.map((_, c) => (
                  <td key={c} className="figure !text-left whitespace-nowrap">
                    {row[c] ?? ''}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
