import { type FormEvent, useState } from 'react';
import { toast } from 'sonner';
import { type SheetRow, flagWords } from '#contract/cost-rows.ts';
import {
  ROW_FAULT_TEXT,
  type RowFault,
  type SheetCorrection,
  type SheetCost,
  type SheetView,
} from '#contract/costs.ts';
import { SHEET_FIELDS, SHEET_FIELD_NAMES, type SheetField } from '#contract/sheet-match.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { ItemPicker } from '../items/item-picker.tsx';
import { Button, Dialog, Field, Input, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { type NumberForm, show, showDay } from '../kit/number-form.ts';
import { useRegister } from '../records/use-register.ts';
import { RecordOne } from '../records/record-picker.tsx';
import { costsApi } from './endpoints.ts';
import { useFreshSheet } from './fresh-sheet.ts';
import { useRowDecisions } from './row-decisions.ts';
import { writtenIn } from './written.ts';

const faultOf = (faults: readonly RowFault[], field: SheetField): string | undefined => {
  const fault = faults.find((f) => f.field === field);
  return fault ? ROW_FAULT_TEXT[fault.code] : undefined;
};

const costWords = (c: SheetCost, form: NumberForm): string =>
  `${show(c.amount, form)} ${c.currency} for ${show(c.packUnits, form)} from ${showDay(c.from, form)}`;

/** One row of a file: what is odd about it, which item it is, and what is read instead of what stands there. */
export function RowDialog({
  sheet,
  row,
  change,
  again,
  onClose,
}: {
  sheet: SheetView;
  row: number;
  /** Where it could be read. */
  change?: SheetRow | undefined;
  /** Reads again what shows it. */
  again?: (() => Promise<unknown>) | undefined;
  onClose: () => void;
}) {
  const form = useNumberForm();
  const faults = sheet.faults.filter((f) => f.row === row);
  const said = change?.said ?? sheet.faulty[row]?.said ?? {};
  const [cells, setCells] = useState<Partial<Record<SheetField, string>>>(said.cells ?? {});
  const { send, isLoading } = useRowDecisions(sheet, again);
  const inFile = (field: SheetField): string => {
    const cells = sheet.faulty[row]?.cells;
    const at = sheet.match.columns[field];
    if (cells) return at === undefined ? '' : (cells[at] ?? '');
    if (!change) return '';
    const { code, name, after } = change;
    const known: Partial<Record<SheetField, string>> = {
      code,
      name,
      cost: after.amount,
      reducedCost: after.reduced ?? '',
      currency: after.currency,
      packUnits: after.packUnits,
      validFrom: after.from,
      validTo: after.to ?? '',
    };
    return known[field] ?? '';
  };
  const first = faults[0]?.field ?? (change?.kind === 'unknown' ? null : 'cost');
  const decide = async (what: Parameters<typeof send>[0][number]) => {
    if (await send([what])) onClose();
  };
  const submit = (e: FormEvent) => {
    e.preventDefault();
    void decide({ ...said, row, decision: 'read', reason: '', cells });
  };
  const words = change?.flags.map((f) => flagWords(change, f, writtenIn(form))) ?? [];
  return (
    <Dialog open onClose={onClose} title={`Row ${row} of ${sheet.fileName}`} wide>
      {change ? (
        <p>
          {change.code}
          {change.sku ? `: ${change.sku}, ${change.name}` : change.name ? `: ${change.name}` : ''}
          <br />
          {change.before ? (
            <span className="figure">{costWords(change.before, form)}</span>
          ) : (
            'nothing known of this supplier'
          )}{' '}
          → <span className="figure">{costWords(change.after, form)}</span>
        </p>
      ) : null}
      {words.length > 0 ? (
        <ul className="mt-1 list-disc pl-5 text-warn">
          {words.map((w) => (
            <li key={w}>{w}</li>
          ))}
        </ul>
      ) : null}
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
      {change && change.kind !== 'unchanged' ? (
        <WhichItem sheet={sheet} change={change} said={said} again={again} onDone={onClose} />
      ) : null}
      <form onSubmit={submit} className="mt-4 flex flex-col gap-3">
        <h2>Read instead of what stands in the file</h2>
        <p className="text-faint">
          In the file’s own form of numbers and days. What is left empty is read from the file, where it stands in grey.
        </p>
        <div className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-x-5 gap-y-2">
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
          <Button disabled={isLoading} onClick={() => void decide({ row, decision: 'left_out' })}>
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

/** Which item of ours a code means: one that is known, now and in every later file, or a new one. */
function WhichItem({
  sheet,
  change: { row, code, sku: known },
  said,
  again,
  onDone,
}: {
  sheet: SheetView;
  change: SheetRow;
  said: SheetCorrection;
  again: (() => Promise<unknown>) | undefined;
  onDone: () => void;
}) {
  const [sayCode, { isLoading }] = costsApi.useSayCodeMutation();
  const fresh = useFreshSheet(sheet.id);
  const { send, isLoading: sending } = useRowDecisions(sheet, again);
  const { rows: taxes } = useRegister('tax-rates');
  const [category, setCategory] = useState(said.add?.category ?? sheet.match.category ?? '');
  const [taxClass, setTaxClass] = useState(said.add?.taxClass ?? sheet.match.taxClass ?? '');
  const [other, setOther] = useState(known === null);
  const say = async (item: string | null) => {
    try {
      await sayCode({ id: sheet.id, version: sheet.version, code, item }).unwrap();
      await Promise.all([fresh(), again?.()]);
      toast.success(
        item === null ? `${code} is known by the items’ own codes again.` : `${code} is known from now on.`,
      );
      onDone();
    } catch (e) {
      toast.error(problemOf(e).message);
    }
  };
  if (!other)
    return (
      <p className="mt-2">
        <button type="button" className="text-accent underline" onClick={() => setOther(true)}>
          It is another item …
        </button>
      </p>
    );
  return (
    <section
      aria-label="Which item it is"
      className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2 border-y border-rule py-3"
    >
      <Field label={`${code} of ${sheet.supplierName} is`} group>
        <ItemPicker label="our item, by code, name or barcode" onPick={(item) => void say(item.id)} />
      </Field>
      {known ? (
        <Button disabled={isLoading} onClick={() => void say(null)}>
          Forget what was said of this code
        </Button>
      ) : (
        <>
          <span className="pb-1 text-faint">or</span>
          <Field label="a new item in" group>
            <RecordOne
              register="categories"
              label="a new item in"
              value={category || null}
              onValue={(id) => setCategory(id ?? '')}
            />
          </Field>
          <Field label="taxed as">
            <Select
              name="taxClass"
              value={taxClass}
              onValue={(chosen) => setTaxClass(chosen)}
              options={[['', 'choose …'], ...[...new Set(taxes.map((t) => t.taxClass))].map((t) => [t, t] as const)]}
            />
          </Field>
          <Button
            disabled={sending || category === '' || taxClass === ''}
            onClick={() =>
              void send([{ ...said, row, decision: 'read', reason: '', add: { category, taxClass } }]).then(
                (done) => done && onDone(),
              )
            }
          >
            Make an item of it
          </Button>
        </>
      )}
    </section>
  );
}
