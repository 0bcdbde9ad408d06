import { type ReactNode, useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { CostSupplier, SheetSummary } from '#contract/costs.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { useMoment } from '../frame/moments.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { type NumberForm, show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { BringSheet } from './bring-sheet.tsx';
import { costsApi } from './endpoints.ts';
import { CostSuppliers } from './suppliers.tsx';

const LINK = 'text-accent underline underline-offset-2';
/** Of what is settled so many are shown before more are asked for. */
const SETTLED_SHOWN = 6;
const waits = (s: SheetSummary) => s.state === 'waiting' || s.state === 'part_taken';

/** What arrived of suppliers: what waits to be looked at, what was settled, bills, and whose costs follow by themselves. */
export function Costs() {
  const me = useSignedIn();
  const [params, setParams] = useSearchParams();
  const { data: sheets = [], isLoading, error } = costsApi.useSheetsQuery();
  const { data: suppliers = [] } = costsApi.useCostSuppliersQuery();
  const may = me.rights.has('take_costs');
  const navigate = useNavigate();
  const [all, setAll] = useState(false);
  const open = () => setParams({ bring: '1' });
  const waiting = sheets.filter(waits);
  const settled = sheets.filter((s) => !waits(s));
  return (
    <>
      <ViewHead
        title="Costs"
        about="What suppliers sent: what it would change, what was taken in, what was turned down."
      >
        <Link to="/setup/exchange-rates" className={LINK}>
          Exchange rates
        </Link>
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
            Here stand the files that suppliers send: CSV, XLSX or a UBL catalogue, with a code and a cost in every row
            or line.
          </Empty>
        ) : null}
        {waiting.length > 0 ? (
          <Arrivals title="Waits" sheets={waiting} suppliers={suppliers} />
        ) : sheets.length > 0 ? (
          <p className="mb-7 text-faint">Nothing waits.</p>
        ) : null}
        {settled.length > 0 ? (
          <Arrivals title="Settled" sheets={all ? settled : settled.slice(0, SETTLED_SHOWN)} suppliers={suppliers}>
            {settled.length > SETTLED_SHOWN ? (
              <button type="button" className={`mt-1 ml-2 ${LINK}`} onClick={() => setAll(!all)}>
                {all ? `only the last ${SETTLED_SHOWN}` : `all ${settled.length}`}
              </button>
            ) : null}
          </Arrivals>
        ) : null}
        <Bills />
        <CostSuppliers suppliers={suppliers} />
      </div>
      <BringSheet open={may && params.get('bring') === '1'} onClose={() => setParams({})} />
    </>
  );
}

function stateWords(s: SheetSummary, form: NumberForm): string {
  if (s.state === 'set_aside') return s.reason ? `turned down: ${s.reason}` : 'turned down';
  if (s.state === 'part_taken') return `${show(String(s.counts.taken), form)} taken in, the rest waits`;
  return s.state === 'waiting' ? 'waits' : s.byItself ? 'taken in by itself' : 'taken in';
}

/** Files with what was counted in each when somebody last looked. */
function Arrivals({
  title,
  sheets,
  suppliers,
  children,
}: {
  title: string;
  sheets: readonly SheetSummary[];
  suppliers: readonly CostSupplier[];
  children?: ReactNode;
}) {
  const form = useNumberForm();
  const moment = useMoment();
  const follows = new Set(suppliers.flatMap((s) => (s.follow ? [s.id] : [])));
  const number = (n: number, tone = '') => <td className={`figure ${tone}`}>{n === 0 ? '' : show(String(n), form)}</td>;
  return (
    <section aria-label={title} className="mb-7">
      <h2>{title}</h2>
      <table className="ruled w-full max-w-6xl">
        <thead>
          <tr>
            <th>File</th>
            <th>Supplier</th>
            <th>Arrived</th>
            <th className="figure">up</th>
            <th className="figure">down</th>
            <th className="figure">new</th>
            <th className="figure">unknown</th>
            <th className="figure">need a look</th>
            <th className="figure">unreadable</th>
            <th>State</th>
          </tr>
        </thead>
        <tbody>
          {sheets.map((s) => (
            <tr key={s.id}>
              <td>
                <Link to={`/costs/${s.id}`} className={LINK}>
                  {s.fileName}
                </Link>
              </td>
              <td>
                {s.supplierName}
                {follows.has(s.supplier) ? <span className="text-faint"> · follows by itself</span> : null}
              </td>
              <td className="whitespace-nowrap" title={`brought by ${s.broughtBy}`}>
                {moment(s.arrivedAt)}
              </td>
              {number(s.counts.up)}
              {number(s.counts.down)}
              {number(s.counts.new)}
              {number(s.counts.unknown, 'text-warn')}
              {number(s.counts.suspicious, 'text-warn')}
              {number(s.counts.faulty, 'text-stop')}
              <td className={waits(s) ? 'bg-proposed' : ''}>{stateWords(s, form)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {children}
    </section>
  );
}

/** Bills of suppliers; those that are drafts count for nothing yet. */
function Bills() {
  const { data: bills = [] } = costsApi.useBillsQuery();
  const form = useNumberForm();
  if (bills.length === 0) return null;
  return (
    <section aria-label="Bills" className="mt-7">
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
                <Link to={`/bills/${b.id}`} className={LINK}>
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
