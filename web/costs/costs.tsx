import { type FormEvent, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { costsApi } from './endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { Button, Dialog, Empty, Field, Select, Trouble, ViewHead } from '../kit/controls.tsx';
import { show, showDay, showMoment } from '../kit/number-form.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useSignedIn } from '../people/use-me.ts';

const STATES = { waiting: 'waiting', taken_in: 'taken in', set_aside: 'set aside' } as const;

/** The inbox of suppliers' files, and the way to bring one in. */
export function Costs() {
  const me = useSignedIn();
  const [params, setParams] = useSearchParams();
  const { data: sheets = [], isLoading, error } = costsApi.useSheetsQuery();
  const may = me.rights.has('take_costs');
  const form = useNumberForm();
  const navigate = useNavigate();
  const open = () => setParams({ bring: '1' });
  return (
    <>
      <ViewHead
        title="Costs"
        about="Suppliers’ cost sheets and bills: what arrived, what it would change, what was taken in."
      >
        {may ? <Button onClick={() => void navigate('/bills/new')}>New bill</Button> : null}
        {may ? (
          <Button weight="main" onClick={open}>
            Bring in a cost sheet
          </Button>
        ) : null}
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {!isLoading && sheets.length === 0 ? (
          <Empty action={may ? <Button onClick={open}>Bring in the first one</Button> : null}>
            Here stand the files that suppliers send: CSV with a code and a cost in every row.
          </Empty>
        ) : null}
        {sheets.length > 0 ? (
          <table className="ruled w-full max-w-4xl">
            <thead>
              <tr>
                <th>File</th>
                <th>Supplier</th>
                <th>Arrived</th>
                <th>Brought by</th>
                <th>State</th>
              </tr>
            </thead>
            <tbody>
              {sheets.map((s) => (
                <tr key={s.id}>
                  <td>
                    <Link to={`/costs/${s.id}`} className="text-accent underline underline-offset-2">
                      {s.fileName}
                    </Link>
                  </td>
                  <td>{s.supplierName}</td>
                  <td className="whitespace-nowrap">{showMoment(s.arrivedAt, form)}</td>
                  <td>{s.broughtBy}</td>
                  <td className={s.state === 'waiting' ? 'bg-proposed' : ''}>{STATES[s.state]}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : null}
        <Bills />
      </div>
      <BringSheet open={may && params.get('bring') === '1'} onClose={() => setParams({})} />
    </>
  );
}

/** Suppliers' bills; those that are drafts count for nothing yet. */
function Bills() {
  const { data: bills = [] } = costsApi.useBillsQuery();
  const form = useNumberForm();
  if (bills.length === 0) return null;
  return (
    <section aria-label="Bills" className="mt-8">
      <h2>Bills</h2>
      <table className="ruled w-full max-w-4xl">
        <thead>
          <tr>
            <th>Number</th>
            <th>Supplier</th>
            <th>Day</th>
            <th className="figure">lines</th>
            <th className="figure">without tax</th>
            <th>Written by</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          {bills.map((b) => (
            <tr key={b.id}>
              <td>
                <Link to={`/bills/${b.id}`} className="text-accent underline underline-offset-2">
                  {b.number}
                </Link>
              </td>
              <td>{b.supplierName}</td>
              <td className="whitespace-nowrap">{showDay(b.day, form)}</td>
              <td className="figure">{b.lines}</td>
              <td className="figure whitespace-nowrap">
                {show(b.total, form)} {b.currency}
              </td>
              <td>{b.writtenBy}</td>
              <td className={b.state === 'draft' ? 'bg-proposed' : ''}>{b.state}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function BringSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { data: suppliers = [] } = recordsApi.useRegisterQuery('suppliers', { skip: !open });
  const [bring, { isLoading, error }] = costsApi.useBringSheetMutation();
  const [supplier, setSupplier] = useState('');
  const [file, setFile] = useState<File | null>(null);
  const navigate = useNavigate();
  const submit = async (e: FormEvent) => {
    e.preventDefault();
    if (!file || supplier === '') return;
    const made = await bring({ supplier, file });
    if (made.data) void navigate(`/costs/${made.data.id}`);
  };
  return (
    <Dialog open={open} onClose={onClose} title="Bring in a cost sheet">
      <form onSubmit={(e) => void submit(e)} className="flex flex-col gap-4">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {suppliers.length === 0 ? (
          <Trouble tone="warn">
            There is no supplier yet: add one under{' '}
            <Link to="/setup/suppliers" className="underline">
              Setup, Suppliers
            </Link>
            .
          </Trouble>
        ) : null}
        <Field label="Supplier">
          <Select
            name="supplier"
            value={supplier}
            onChange={(e) => setSupplier(e.target.value)}
            options={[
              ['', 'choose …'],
              ...suppliers.map((s) => [s.id, `${String(s['name'])} (${String(s['currency'])})`] as const),
            ]}
          />
        </Field>
        <Field
          label="File"
          hint="CSV with a header row; or without one; any delimiter and encoding. How its columns are read is shown next, and nothing is taken in before you say so."
        >
          <input
            name="file"
            type="file"
            accept=".csv,.txt,.tsv,text/csv"
            onChange={(e) => setFile(e.target.files?.[0] ?? null)}
            className="field"
          />
        </Field>
        <div className="flex justify-end gap-2">
          <Button onClick={onClose}>Cancel</Button>
          <Button type="submit" weight="main" disabled={!file || supplier === '' || isLoading}>
            {isLoading ? 'Reading …' : 'Read the file'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
