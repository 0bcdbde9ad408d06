import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import type { BillBody, BillView } from '#contract/bills.ts';
import { minorUnits } from '#core/numbers/currency.ts';
import { billTotal } from '#core/costs/bill-total.ts';
import { plain } from '#core/numbers/decimal.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Conflict } from '../kit/conflict.tsx';
import { Button, Empty, Field, Input, Trouble, ViewHead } from '../kit/controls.tsx';
import { RecordOne } from '../records/record-picker.tsx';
import { DateField } from '../kit/date-field.tsx';
import { faultWords } from '../kit/faults.tsx';
import { useLeaveGuard } from '../kit/leave-guard.tsx';
import { NumberInput } from '../kit/number-input.tsx';
import { show } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { useRegister } from '../records/use-register.ts';
import { BillLines, isWhole } from './bill-lines.tsx';
import { costsApi } from './endpoints.ts';
import { ProposeMoved } from './propose-moved.tsx';
import { InvoiceIn } from './invoice-in.tsx';

/** A supplier's bill: written down line by line, looked at, and made final; only then do its costs count. */
export function Bill() {
  const { id = '' } = useParams();
  const { workspace } = useSignedIn();
  const { data: bill, error } = costsApi.useBillQuery(id, { skip: id === 'new' });
  if (id === 'new') return <BillForm key="new" bill={null} day={workspace.today} currency={workspace.currency} />;
  if (error) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!bill) return <p className="p-6 text-faint">Reading the bill …</p>;
  return <BillForm key={`${bill.id}/${bill.version}`} bill={bill} day={bill.day} currency={bill.currency} />;
}

function BillForm({ bill, day, currency }: { bill: BillView | null; day: string; currency: string }) {
  const me = useSignedIn();
  const form = useNumberForm();
  const navigate = useNavigate();
  const start: BillBody = bill?.body ?? { supplier: '', number: '', day, currency, note: null, lines: [] };
  const [body, setBody] = useState(start);
  const [version, setVersion] = useState(bill?.version ?? 0);
  const [looked, setLooked] = useState(false);
  const { rows: suppliers } = useRegister('suppliers');
  const [write, writing] = costsApi.useWriteBillMutation();
  const [change, changing] = costsApi.useChangeBillMutation();
  const [makeFinal, finishing] = costsApi.useFinalBillMutation();
  const [takeBack] = costsApi.useTakeBackBillMutation();
  const [drop] = costsApi.useDropBillMutation();
  const set = (more: Partial<BillBody>) => setBody((b) => ({ ...b, ...more }));
  const changed = JSON.stringify(body) !== JSON.stringify(start);
  const editable = me.rights.has('take_costs') && bill?.state !== 'final';
  const { question, letGo } = useLeaveGuard(editable && changed, 'The bill');
  const failed = writing.error ?? changing.error ?? finishing.error;
  const problem = failed ? problemOf(failed) : null;
  const theirs =
    problem?.code === 'changed_meanwhile'
      ? (problem.current as (BillBody & { version: number }) | undefined)
      : undefined;
  const ready = body.supplier !== '' && body.number.trim() !== '' && body.lines.length > 0 && body.lines.every(isWhole);
  const keep = async () => {
    try {
      const kept = bill ? await change({ id: bill.id, version, ...body }).unwrap() : await write(body).unwrap();
      letGo();
      toast.success('The draft is kept. Its costs do not count yet.');
      if (!bill) void navigate(`/bills/${kept.id}`, { replace: true });
    } catch {
      /* shown above the lines */
    }
  };
  const finish = async () => {
    if (!bill) return;
    try {
      await makeFinal({ id: bill.id, version, looked }).unwrap();
      toast.success(`Bill ${bill.number} is final: its costs count from its day.`);
    } catch {
      /* shown above the lines */
    }
  };
  const undo = async () => {
    if (!bill) return;
    const done = await takeBack({ id: bill.id, version });
    if (done.error) toast.error(problemOf(done.error).message);
    else toast.success('Taken back: what was known before counts again, and the bill is a draft.');
  };
  const away = async () => {
    if (!bill) return;
    const done = await drop({ id: bill.id, version });
    if (done.error) return void toast.error(problemOf(done.error).message);
    letGo();
    void navigate('/costs');
  };
  const total = billTotal(body.lines.filter(isWhole));
  return (
    <>
      <ViewHead
        title={bill ? `Bill ${bill.number}, ${bill.supplierName}` : 'New bill'}
        about={
          bill
            ? bill.state === 'final'
              ? `final, by ${bill.finalBy ?? '–'} · its costs count from its day`
              : `draft, written by ${bill.writtenBy} · its costs do not count yet`
            : 'What a supplier charged, line by line. Its costs count once it is made final.'
        }
      >
        {bill?.state === 'final' && me.rights.has('take_costs') ? (
          <Button onClick={() => void undo()}>Take it back</Button>
        ) : null}
        {bill?.state === 'final' && me.rights.has('post') && body.lines.some((l) => l.kind !== 'return') ? (
          <ProposeMoved
            cameWith={{ bill: bill.id }}
            reason={`Bill ${bill.number} of ${bill.supplierName}`}
            from={[bill.day]}
            weight="main"
          />
        ) : null}
        {bill ? (
          <a className="text-accent underline underline-offset-2" href={`/api/bills/${bill.id}/ubl`} download>
            as a UBL invoice
          </a>
        ) : null}
        {editable && bill ? (
          <Button weight="stop" onClick={() => void away()}>
            Throw away
          </Button>
        ) : null}
        {editable ? (
          <Button
            weight={bill && !changed ? 'plain' : 'main'}
            disabled={!ready || !changed || writing.isLoading || changing.isLoading}
            onClick={() => void keep()}
          >
            Keep the draft
          </Button>
        ) : null}
        {editable && bill ? (
          <Button
            weight={changed ? 'plain' : 'main'}
            disabled={changed || finishing.isLoading}
            onClick={() => void finish()}
          >
            Make final
          </Button>
        ) : null}
      </ViewHead>
      {question}
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {theirs ? (
          <Conflict
            message={problem!.message}
            theirs={theirs}
            mine={body}
            onGoOn={() => (setVersion(theirs.version), changing.reset())}
          />
        ) : problem ? (
          <Trouble>
            {problem.message} {faultWords(problem.faults)}
            {problem.code === 'bill_looks_odd' ? (
              <label className="mt-1 flex items-center gap-1.5">
                <input type="checkbox" checked={looked} onChange={(e) => setLooked(e.target.checked)} />I have looked at
                them; they are meant
              </label>
            ) : null}
          </Trouble>
        ) : null}
        <fieldset disabled={!editable}>
          <div className="flex flex-wrap items-start gap-x-5 gap-y-3">
            <Field label="Supplier" group>
              <RecordOne
                register="suppliers"
                label="Supplier"
                value={body.supplier || null}
                onValue={(chosen) => {
                  const known = suppliers.find((s) => s.id === chosen);
                  set({ supplier: chosen ?? '', ...(known ? { currency: known.currency } : {}) });
                }}
                className="w-48"
              />
            </Field>
            <Field label="Its number">
              <Input name="number" value={body.number} onChange={(e) => set({ number: e.target.value })} />
            </Field>
            <Field label="Day of the bill" group>
              <DateField name="day" label="Day of the bill" value={body.day} onValue={(d) => set({ day: d })} />
            </Field>
            <Field label="Currency">
              <Input
                name="currency"
                className="w-20"
                maxLength={3}
                value={body.currency}
                onChange={(e) => set({ currency: e.target.value.toUpperCase() })}
              />
            </Field>
            <Field label="Fee besides" hint="carriage, an order’s fee: its lines bear it by their amount">
              <NumberInput
                name="fee"
                className="w-24"
                value={body.fee ?? ''}
                onValue={(v) => set({ fee: v === '' ? null : v })}
              />
            </Field>
            <Field label="Note" className="min-w-64 flex-1">
              <Input name="note" value={body.note ?? ''} onChange={(e) => set({ note: e.target.value || null })} />
            </Field>
          </div>
        </fieldset>
        <BillLines
          lines={body.lines}
          saved={start.lines}
          changes={bill?.changes ?? []}
          currency={body.currency}
          editable={editable}
          onLines={(lines) => set({ lines })}
        />
        {!bill && body.lines.length === 0 ? <InvoiceIn supplier={body.supplier} onMade={letGo} /> : null}
        {body.lines.length === 0 ? (
          <Empty>Add the first line: an item by its code, its name or its barcode.</Empty>
        ) : null}
        <p className="mt-3 text-right">
          goods less what was sent back, without tax:{' '}
          <strong>
            {show(plain(total), form, minorUnits(body.currency))} {body.currency}
          </strong>
        </p>
        {bill?.state === 'final' ? (
          <p className="mt-2">
            What follows from it stands on{' '}
            <Link className="text-accent underline" to="/today">
              Today
            </Link>
            : prices that now differ from what their recipe makes.
          </p>
        ) : null}
      </div>
    </>
  );
}
