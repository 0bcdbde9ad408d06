import { useMemo, useState } from 'react';
import { placeOf } from '#contract/places.ts';
import { startOf } from '#contract/records/declare.ts';
import { schemaOf } from '#contract/records/schema.ts';
import { toast } from 'sonner';
import { RecordHistory } from '../ledger/record-history.tsx';
import { FindingsBeside } from '../findings/findings-beside.tsx';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Dialog, Trouble } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { heldTo } from '../kit/held-to.ts';
import { show, showDay } from '../kit/number-form.ts';
import { Conflict } from '../kit/conflict.tsx';
import { InForce, WaitingChanges, useKeepWords } from '../to-come/in-force.tsx';
import { DeclaredField } from '../records/declared-field.tsx';
import { declaredText, useNames } from './cell-text.ts';
import type { RegisterView } from './registers.ts';
import { useRecordForm } from './use-record-form.ts';

type Body = Record<string, unknown>;

/** One record of a register: made, changed, removed. */
export function RecordDialog({
  view,
  row,
  proposed,
  onKept,
  onClose,
}: {
  view: RegisterView;
  row: (Body & { id: string; version: number }) | null;
  /** What is to be changed of it: seen with what follows, and kept only then. */
  proposed?: Body;
  /** Told its id once it is kept. */
  onKept?: (id: string) => void;
  onClose: () => void;
}) {
  const faultsIn = useMemo(() => heldTo(schemaOf(view.fields)), [view.fields]);
  const start: Body = row ? wholeBody(view, row) : { ...view.start };
  const { body, set, save, saving, problem, fault, faults, theirs, goOn, changed, inForce } = useRecordForm<Body>(
    view.name,
    start,
    row?.id ?? null,
    row?.version ?? 0,
    { proposed, faultsIn },
  );
  const [remove] = recordsApi.useRemoveRecordMutation();
  const [leaving, setLeaving] = useState(false);
  const keep = async () => {
    const kept = await save();
    if (!kept) return;
    onKept?.(kept.id);
    onClose();
  };
  const away = async () => {
    if (!row) return;
    if (inForce.day !== null) {
      if (await inForce.removeFrom(inForce.day)) onClose();
      return;
    }
    try {
      await remove({ register: view.name, id: row.id, version: row.version }).unwrap();
      toast.success('Removed. The ledger keeps what it was.');
      onClose();
    } catch (error) {
      toast.error(problemOf(error).message);
    }
  };
  const told = useMemo(() => [row ?? {}, body as Record<string, unknown>], [row, body]);
  const names = useNames(view.fields, told);
  const form = useNumberForm();
  const shownField = (name: string, value: unknown) => {
    const field = view.fields[name];
    return field
      ? declaredText(field, value, { names, number: (t) => show(t, form), day: (d) => showDay(d, form) })
      : value;
  };
  const fields = Object.entries(view.fields).filter(([, f]) => row !== null || !f.laterOnly);
  const shownFields = fields.filter(([, f]) => f.when?.(body) ?? true);
  // what no field of the form shows is told above it
  const elsewhere = faults?.filter((f) => !TOLD.has(f.path) && !fields.some(([name]) => isOf(f.path, name)));
  const Beside = view.beside;
  const keepWords = useKeepWords(inForce, 'Keep');
  const removeWords = useKeepWords(inForce, 'Remove', 'on');
  const close = () => (changed && !leaving ? setLeaving(true) : onClose());
  return (
    <Dialog
      open
      onClose={close}
      title={row ? `Change this ${view.one}` : `New ${view.one}`}
      wide={fields.some(([, f]) => LONG.has(f.type))}
    >
      <form onSubmit={(e) => (e.preventDefault(), void keep())}>
        {theirs ? (
          <Conflict
            message={problem!.message}
            theirs={theirs}
            mine={body}
            titles={Object.fromEntries(Object.entries(view.fields).map(([name, f]) => [name, f.title]))}
            shown={(name, value) => shownField(name, value)}
            onGoOn={goOn}
          />
        ) : problem ? (
          <Trouble>
            {problem.message} {faultWords(elsewhere)}
          </Trouble>
        ) : null}
        <WaitingChanges inForce={inForce} />
        <div className="mt-2 grid grid-cols-2 gap-x-5 gap-y-3">
          {shownFields.map(([name, f]) => (
            <div key={name} className={LONG.has(f.type) ? 'col-span-2' : ''}>
              <DeclaredField
                field={f}
                path={name}
                value={body[name]}
                onValue={(v) => set({ [name]: v })}
                faults={faults}
              />
            </div>
          ))}
        </div>
        <FindingsBeside
          register={view.name}
          id={row?.id ?? null}
          address={row ? placeOf(view.name, row.id) : null}
          body={body}
          changed={changed}
          from={inForce}
        />
        {row ? <RecordHistory<Body> register={view.name} id={row.id} onTake={set} /> : null}
        {Beside && (row || view.besideNew) ? <Beside id={row?.id ?? ''} body={body} before={start} /> : null}
        <InForce inForce={inForce} fault={fault} />
        {leaving ? (
          <div className="mt-4">
            <Trouble tone="warn">
              What was typed here is not kept yet.{' '}
              <button type="button" className="underline" onClick={onClose}>
                Throw it away
              </button>{' '}
              or{' '}
              <button type="button" className="underline" onClick={() => setLeaving(false)}>
                go on
              </button>
              .
            </Trouble>
          </div>
        ) : null}
        {/* in sight however long the form is: what is said above it comes later and would push it away */}
        <div className="sticky -bottom-5 -mx-5 mt-5 -mb-5 flex items-center gap-2 border-t border-rule bg-sheet px-5 py-3">
          {row && view.removable ? (
            <Button weight="stop" onClick={() => void away()}>
              {removeWords}
            </Button>
          ) : null}
          <span className="flex-1" />
          <Button onClick={close}>Cancel</Button>
          <Button type="submit" weight="main" disabled={saving}>
            {saving ? 'Keeping …' : keepWords}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Told where it is said from when on a form holds. */
const TOLD = new Set(['day', 'reason', 'body']);

/** Fields that need the width of the form. */
const LONG = new Set(['texts', 'rows', 'scope', 'scopes', 'many', 'countries', 'attributes', 'part', 'condition']);
/** A fault of a part of a field is told in it. */
const isOf = (path: string, name: string): boolean =>
  path === name || (/^[.[]/.test(path.slice(name.length)) && path.startsWith(name));

/** A record goes back whole: what the form does not show stays what it is. */
function wholeBody(view: RegisterView, { id: _id, version: _version, ...row }: Body & { id: string; version: number }) {
  return { ...startOf(view.fields), ...row };
}
