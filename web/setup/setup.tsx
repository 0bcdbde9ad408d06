import { useMemo, useState } from 'react';
import { Link, Navigate, useParams } from 'react-router';
import { api, problemOf } from '../api.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { show, showDay } from '../kit/number-form.ts';
import { useSignedIn } from '../people/use-me.ts';
import { RecordDialog } from './record-dialog.tsx';
import { type RegisterField, type RegisterView, VIEWS } from './registers.ts';

type Row = Record<string, unknown> & { id: string; version: number };

export function Setup() {
  const { register } = useParams();
  const me = useSignedIn();
  const views = VIEWS.filter((v) => me.rights.has(v.right));
  const view = views.find((v) => v.name === register);
  if (!view) return <Navigate to={`/setup/${views[0]!.name}`} replace />;
  return (
    <div className="flex min-h-0 flex-1">
      <nav aria-label="Setup" className="w-44 shrink-0 overflow-auto border-r border-rule py-3">
        {views.map((v) => (
          <Link
            key={v.name}
            to={`/setup/${v.name}`}
            className={`block px-5 py-1 ${v.name === view.name ? 'border-l-[3px] border-accent bg-chosen pl-[17px] font-medium' : 'hover:bg-chosen'}`}
          >
            {v.title}
          </Link>
        ))}
      </nav>
      <RegisterTable key={view.name} view={view} />
    </div>
  );
}

function RegisterTable({ view }: { view: RegisterView }) {
  const me = useSignedIn();
  const { data, error } = api.useRegisterQuery(view.name as 'lists');
  const [open, setOpen] = useState<Row | 'new' | null>(null);
  const [find, setFind] = useState('');
  const names = useNames(view.fields);
  const form = useNumberForm();
  const may = me.rights.has(view.changeRight);
  const cell = (f: RegisterField, row: Row) =>
    cellText(
      f,
      row[f.name],
      names,
      (t) => show(t, form),
      (d) => showDay(d, form),
    );
  const columns = view.fields.filter((f) => f.as.kind !== 'password' && !f.formOnly);
  const rows = (data ?? []) as Row[];
  const shown =
    find === '' ? rows : rows.filter((r) => columns.some((f) => cell(f, r).toLowerCase().includes(find.toLowerCase())));
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
        {rows.length > 0 ? (
          <table className="ruled">
            <thead>
              <tr>
                {columns.map((f) => (
                  <th key={f.name} className={f.as.kind === 'number' ? 'figure' : ''}>
                    {f.title}
                  </th>
                ))}
                <th></th>
              </tr>
            </thead>
            <tbody>
              {shown.slice(0, 500).map((row) => (
                <tr key={row.id}>
                  {columns.map((f, i) => (
                    <td key={f.name} className={f.as.kind === 'number' ? 'figure' : i === 0 ? 'whitespace-nowrap' : ''}>
                      {cell(f, row)}
                    </td>
                  ))}
                  <td>
                    {may ? (
                      <button type="button" className="text-accent underline" onClick={() => setOpen(row)}>
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
      {open ? <RecordDialog view={view} row={open === 'new' ? null : open} onClose={() => setOpen(null)} /> : null}
    </div>
  );
}

/** The names of the records that fields point to. */
function useNames(fields: readonly RegisterField[]): ReadonlyMap<string, string> {
  const wanted = new Set(fields.flatMap((f) => ('register' in f.as ? [f.as.register] : [])));
  const ask = (name: 'lists' | 'categories' | 'customer-groups') => ({ skip: !wanted.has(name) });
  const lists = api.useRegisterQuery('lists', ask('lists')).data;
  const categories = api.useRegisterQuery('categories', ask('categories')).data;
  const groups = api.useRegisterQuery('customer-groups', ask('customer-groups')).data;
  const items = api.useItemsQuery(null, { skip: !fields.some((f) => f.as.kind === 'item') }).data;
  const recipes = api.useRecipesQuery(undefined, { skip: !wanted.has('recipes') }).data;
  return useMemo(() => {
    const out = new Map<string, string>();
    for (const [register, rows] of [
      ['lists', lists],
      ['categories', categories],
      ['customer-groups', groups],
      ['recipes', recipes],
    ] as const) {
      for (const r of rows ?? []) out.set(`${register}/${r.id}`, String((r as Record<string, unknown>)['name']));
    }
    for (const i of items ?? []) out.set(`item/${i.id}`, i.sku);
    return out;
  }, [lists, categories, groups, recipes, items]);
}

function cellText(
  f: RegisterField,
  value: unknown,
  names: ReadonlyMap<string, string>,
  number: (t: string) => string,
  day: (t: string) => string,
): string {
  if (value === null || value === undefined || value === '') return '';
  const kind = f.as;
  switch (kind.kind) {
    case 'yes':
      return value ? 'yes' : 'no';
    case 'number':
      return number(String(value));
    case 'day':
      return day(String(value));
    case 'choice':
      return kind.options.find(([v]) => v === value)?.[1] ?? String(value);
    case 'record':
      return names.get(`${kind.register}/${String(value)}`) ?? String(value);
    case 'item':
      return names.get(`item/${String(value)}`) ?? `item ${String(value)}`;
    case 'records':
      return (value as string[]).map((v) => names.get(`${kind.register}/${v}`) ?? v).join(', ') || 'everyone';
    case 'breakRows':
      return (value as { from: string; kind: string; value: string }[])
        .map(
          (r) =>
            `from ${number(r.from)}: ${number(r.value)}${r.kind === 'percent_off' ? ' % off' : r.kind === 'amount_off' ? ' off' : ''}`,
        )
        .join(' · ');
    default:
      return String(value);
  }
}
