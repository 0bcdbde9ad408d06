import { type ComponentType, useMemo, useState } from 'react';
import { Link, Navigate, useParams, useSearchParams } from 'react-router';
import { itemsApi } from '../items/endpoints.ts';
import { recordsApi } from '../records/endpoints.ts';
import { problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { type NumberForm, show, showDay } from '../kit/number-form.ts';
import { TO_COME } from '#contract/to-come.ts';
import { toComeApi } from '../to-come/endpoints.ts';
import { useSignedIn } from '../people/use-me.ts';
import { FetchedRatesTable } from './fetched-rates.tsx';
import { CategoryTree } from './category-tree.tsx';
import { RateChart } from './rate-chart.tsx';
import type { TreeRow } from './tree.ts';
import { RecordDialog } from './record-dialog.tsx';
import { PARTS, type RegisterView } from './registers.ts';
import { VIEWS } from './views.ts';
import type { Field } from '#contract/records/declare.ts';
import { declaredText, useNames } from './cell-text.ts';

type Row = Record<string, unknown> & { id: string; version: number };

/** What stands above the records of a register. */
interface AboveProps {
  rows: readonly Row[];
  /** Opens a new record with what is proposed in it. */
  onPropose: (body: Record<string, unknown>) => void;
}
const ABOVE: Readonly<Record<string, ComponentType<AboveProps> | undefined>> = {
  'exchange-rates': ({ rows, onPropose }) => (
    <>
      <FetchedRatesTable onPropose={onPropose} />
      <RateChart rows={rows} />
    </>
  ),
};

export function Setup() {
  const { register } = useParams();
  const me = useSignedIn();
  const views = VIEWS.filter((v) => me.rights.has(v.right));
  const view = views.find((v) => v.name === register);
  if (!view) return <Navigate to={`/setup/${views[0]!.name}`} replace />;
  return (
    <div className="flex min-h-0 flex-1">
      <nav aria-label="Setup" className="w-44 shrink-0 overflow-auto border-r border-rule py-3">
        {PARTS.map((part) => {
          const here = views.filter((v) => v.part === part);
          return here.length === 0 ? null : (
            <div key={part} className="mb-3">
              <h2 className="px-5 pb-1 text-xs font-normal text-faint">{part}</h2>
              {here.map((v) => (
                <Link
                  key={v.name}
                  to={`/setup/${v.name}`}
                  className={`block px-5 py-1 ${v.name === view.name ? 'border-l-[3px] border-accent bg-chosen pl-[17px] font-medium' : 'hover:bg-chosen'}`}
                >
                  {v.title}
                </Link>
              ))}
            </div>
          );
        })}
        <Link to="/changes-to-come" className="block px-5 py-1 hover:bg-chosen">
          Changes to come
        </Link>
        {me.rights.has('edit_rules') ? (
          <Link to="/workspace-file" className="block px-5 py-1 hover:bg-chosen">
            As a file
          </Link>
        ) : null}
      </nav>
      <RegisterTable key={view.name} view={view} />
    </div>
  );
}

/** Of the records that a change to come is of the first day on which they become another. */
function useFirstChanges(register: string, form: NumberForm): ReadonlyMap<string, string> {
  const planned = (TO_COME as readonly string[]).includes(register);
  const { data } = toComeApi.useChangesToComeQuery(undefined, { skip: !planned });
  return useMemo(() => {
    const own = (data ?? []).filter((c) => c.register === register && c.trouble === null);
    // the nearest comes first
    return new Map(own.reverse().map((c) => [c.record, showDay(c.day, form)]));
  }, [data, register, form]);
}

function RegisterTable({ view }: { view: RegisterView }) {
  const me = useSignedIn();
  const { data, error } = recordsApi.useRegisterQuery(view.name as 'lists');
  const [params, setParams] = useSearchParams();
  const asked = params.get('open');
  const [chosen, setChosen] = useState<Row | 'new' | null>(null);
  const [proposed, setProposed] = useState<Record<string, unknown>>();
  const { data: byCategory } = itemsApi.useItemsByCategoryQuery(undefined, { skip: view.name !== 'categories' });
  const itemCounts = useMemo(() => new Map((byCategory ?? []).map((c) => [c.category, c.items])), [byCategory]);
  const rows = useMemo(() => {
    const all = (data ?? []) as Row[];
    const by = view.latestFirst;
    return by ? [...all].sort((a, b) => String(b[by]).localeCompare(String(a[by]))) : all;
  }, [data, view.latestFirst]);
  const Above = ABOVE[view.name];
  // an address may name a record: from the search, from a finding
  const open =
    chosen ?? (asked === 'new' && me.rights.has(view.changeRight) ? 'new' : (rows.find((r) => r.id === asked) ?? null));
  const setOpen = (row: Row | 'new' | null) => {
    setChosen(row);
    setProposed(undefined);
    if (asked !== null) setParams({}, { replace: true });
  };
  const [find, setFind] = useState('');
  const names = useNames(view.fields, rows);
  const form = useNumberForm();
  const may = me.rights.has(view.changeRight);
  const changesOn = useFirstChanges(view.name, form);
  const cell = (name: string, f: Field, row: Row) =>
    declaredText(f, row[name], { names, number: (t) => show(t, form), day: (d) => showDay(d, form) });
  const columns = Object.entries(view.fields).filter(([, f]) => !f.formOnly);
  const shown =
    find === ''
      ? rows
      : rows.filter((r) => columns.some(([name, f]) => cell(name, f, r).toLowerCase().includes(find.toLowerCase())));
  const start = (
    <Button weight="main" onClick={() => setOpen('new')}>
      New {view.one}
    </Button>
  );
  return (
    <div className="flex min-w-0 flex-1 flex-col">
      <ViewHead title={view.title} about={view.about}>
        {rows.length > 12 ? (
          <input
            type="search"
            aria-label={`Find in ${view.title}`}
            placeholder="Find"
            className="field"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        ) : null}
        {may && !view.single ? start : null}
      </ViewHead>
      <div className="min-h-0 flex-1 overflow-auto px-5 py-3">
        {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
        {data?.length === 0 ? <Empty action={may ? start : null}>{view.about}</Empty> : null}
        {Above && rows.length > 0 ? (
          <Above rows={rows} onPropose={(body) => (setOpen('new'), setProposed(body))} />
        ) : null}
        {rows.length > 0 && view.name === 'categories' && find === '' ? (
          <CategoryTree
            rows={rows as unknown as (Row & TreeRow)[]}
            items={itemCounts}
            form={form}
            may={may}
            onOpen={setOpen}
            onMove={(row, parent) => (setOpen(row), setProposed({ parent }))}
          />
        ) : rows.length > 0 ? (
          <table className="ruled">
            <thead>
              <tr>
                {columns.map(([name, f]) => (
                  <th key={name} className={`!whitespace-normal ${f.type === 'decimal' ? 'figure' : ''}`}>
                    {f.title}
                  </th>
                ))}
                <th className="sticky right-0 bg-paper"></th>
              </tr>
            </thead>
            <tbody>
              {shown.slice(0, 500).map((row) => (
                <tr key={row.id}>
                  {columns.map(([name, f], i) => (
                    <td key={name} className={f.type === 'decimal' ? 'figure' : i === 0 ? 'whitespace-nowrap' : ''}>
                      {cell(name, f, row)}
                      {i === 0 && changesOn.has(row.id) ? (
                        <span className="block text-xs text-faint">changes on {changesOn.get(row.id)}</span>
                      ) : null}
                    </td>
                  ))}
                  {/* in sight however wide the table is */}
                  <td className="sticky right-0 bg-paper">
                    {may ? (
                      <button
                        type="button"
                        aria-label={`change ${String(row['name'] ?? view.one)}`}
                        className="text-accent underline"
                        onClick={() => setOpen(row)}
                      >
                        change
                      </button>
                    ) : null}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        ) : null}
      </div>
      {open && may ? (
        <RecordDialog
          key={open === 'new' ? 'new' : open.id}
          view={view}
          row={open === 'new' ? null : open}
          {...(proposed ? { proposed } : {})}
          onClose={() => setOpen(null)}
        />
      ) : null}
    </div>
  );
}
