import { useCallback, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { toast } from 'sonner';
import {
  ITEM_FIELDS,
  type ItemChange,
  type ItemConflict,
  type ItemField,
  type ItemRow,
  type ItemWindow,
} from '#contract/items.ts';
import type { Problem } from '#contract/problems.ts';
import { type WindowQuery, windowQuery } from '#contract/windows.ts';
import { itemsApi } from './endpoints.ts';
import { useRegister } from '../records/use-register.ts';
import { problemOf } from '../api.ts';
import { ItemCosts } from '../costs/item-costs.tsx';
import { useDay } from '../frame/day.ts';
import { useNumberForm } from '../frame/preferences.ts';
import type { Column } from '../grid/columns.ts';
import type { Edit } from '../grid/edits.ts';
import { GridTools } from '../grid/grid-tools.tsx';
import { Grid } from '../grid/grid.tsx';
import { AsOf } from '../grid/as-of.tsx';
import { type WindowSource, useWindow } from '../grid/use-window.ts';
import { Button, Empty, Trouble, ViewHead } from '../kit/controls.tsx';
import { faultWords } from '../kit/faults.tsx';
import { Figure } from '../kit/figure.tsx';
import { type NumberForm, read, show } from '../kit/number-form.ts';
import { type Me, useSignedIn } from '../people/use-me.ts';
import { ItemDialog } from './item-dialog.tsx';
import { type Met, MetInItems } from './met-in-items.tsx';

const keyOf = (row: ItemRow) => row.id;
const AMOUNTS: ReadonlySet<ItemField> = new Set(['weightKg', 'rrp', 'map']);

/** An amount in the reader's form, with its currency where it has one. */
function inForm(text: string, form: NumberForm): string {
  const [amount = '', code] = text.split(' ');
  return amount === '' ? '' : `${show(amount, form)}${code ? ` ${code}` : ''}`;
}

function RecommendedPrice({ text }: { text: string }) {
  const [amount, code] = text.split(' ');
  return (
    <>
      <Figure value={amount} places={2} />
      {code ? <span className="ml-1 text-xs text-warn">{code}</span> : null}
    </>
  );
}

function itemColumns(me: Me, form: NumberForm, categories: ReadonlyMap<string, string>): Column<ItemRow>[] {
  const may = me.rights.has('edit_rules');
  const text = (id: ItemField, title: string, width: number, more: Partial<Column<ItemRow>> = {}): Column<ItemRow> => ({
    id,
    title,
    width,
    value: (r) => String(r[id as keyof ItemRow] ?? ''),
    ...(may ? { parse: (t: string) => ({ ok: true as const, value: t.trim() }) } : {}),
    ...more,
  });
  const number = (id: 'weightKg', title: string, places: number, width: number): Column<ItemRow> => ({
    id,
    title,
    width,
    align: 'end',
    numeric: true,
    value: (r) => r[id] ?? '',
    typed: (v) => show(v, form),
    copied: (v) => (v === '' ? '' : show(v, form)),
    draw: (_, v) => (v === '' ? '' : <Figure value={v} places={places} />),
    ...(may
      ? {
          parse: (t: string) => {
            const found = read(t, form);
            return found.ok && found.value.startsWith('-')
              ? { ok: false as const, message: 'must not be below zero' }
              : found;
          },
        }
      : {}),
  });
  const own = me.workspace.currency;
  /** "24.00 GBP"; in our own currency, which stands in the head, the amount alone. */
  const recommended = (id: 'rrp' | 'map', title: string): Column<ItemRow> => ({
    id,
    title: `${title}, ${own}`,
    width: 104,
    align: 'end',
    numeric: true,
    value: (r) => (r[id] ?? '').replace(` ${own}`, ''),
    typed: (v) => inForm(v, form),
    copied: (v) => inForm(v, form),
    draw: (_, v) => (v === '' ? '' : <RecommendedPrice text={v} />),
    ...(may
      ? {
          parse: (t: string) => {
            const [, number = '', code = ''] = /^(.*?)\s*([A-Za-z]{3})?$/.exec(t.trim()) ?? [];
            const found = read(number, form);
            if (!found.ok || found.value === '') return found;
            return /^0*(\.0*)?$/.test(found.value) || found.value.startsWith('-')
              ? { ok: false as const, message: 'must be more than 0' }
              : { ok: true as const, value: `${found.value} ${code.toUpperCase()}`.trim() };
          },
        }
      : {}),
  });
  const byName = new Map([...categories].map(([id, name]) => [name.toLowerCase(), id]));
  return [
    { id: 'sku', title: 'SKU', width: 118, frozen: 'start', value: (r) => r.sku },
    text('name', 'Name', 270, { frozen: 'start' }),
    {
      id: 'category',
      title: 'Category',
      width: 150,
      value: (r) => r.categoryName,
      ...(may
        ? {
            parse: (t: string) => {
              const name = t.trim().toLowerCase();
              return byName.has(name)
                ? { ok: true as const, value: categories.get(byName.get(name)!)! }
                : { ok: false as const, message: `there is no category "${t}"` };
            },
          }
        : {}),
    },
    text('brand', 'Brand', 110),
    text('model', 'Model', 100),
    { id: 'supplier', title: 'Supplier', width: 150, value: (r) => r.supplierName ?? '' },
    text('supplierCode', 'Supplier’s code', 110),
    text('unit', 'Unit', 70),
    {
      id: 'packs',
      title: 'Packs',
      width: 170,
      value: (r) => r.packs.map((p) => (p.units === '1' ? p.name : `${p.name} of ${show(p.units, form)}`)).join(', '),
    },
    number('weightKg', 'Weight, kg', 4, 96),
    text('taxClass', 'Tax class', 90),
    recommended('rrp', 'RRP'),
    recommended('map', 'MAP'),
    ...(me.rights.has('see_cost')
      ? [
          {
            id: 'landed',
            title: `Landed, ${me.workspace.currency}`,
            width: 110,
            frozen: 'end' as const,
            align: 'end' as const,
            numeric: true,
            value: (r: ItemRow) => r.landed ?? '',
            draw: (r: ItemRow) =>
              r.landed ? (
                <Figure value={r.landed} places={4} />
              ) : (
                <span className="text-xs text-stop" title={r.costReason ?? ''}>
                  no cost
                </span>
              ),
          },
        ]
      : []),
  ];
}

/** Windows of the items on a day. */
function useItemSource(day: string | null): WindowSource<WindowQuery, ItemWindow> {
  return useMemo(
    () => ({
      endpoint: itemsApi.endpoints.items,
      argOf: (arranged, stretch, more) => windowQuery(day, arranged, stretch, more),
      wordsOf: (error) => problemOf(error as Problem).message,
    }),
    [day],
  );
}

export function Items() {
  const me = useSignedIn();
  const { asked } = useDay();
  const find = useSearchParams()[0].get('find') ?? '';
  const [making, setMaking] = useState(false);
  return (
    <>
      <ViewHead
        title="Items"
        about={
          me.rights.has('edit_rules')
            ? 'Type, paste or fill down; every change is kept at once and can be undone.'
            : 'Everything that is bought and sold.'
        }
      >
        <Link to="/items/file" className="text-accent underline underline-offset-2">
          As a file, and from one
        </Link>
        {me.rights.has('edit_rules') ? (
          <Button weight="main" onClick={() => setMaking(true)}>
            New item
          </Button>
        ) : null}
      </ViewHead>
      {making ? <ItemDialog row={null} onClose={() => setMaking(false)} /> : null}
      <ItemsGrid key={find} find={find} day={asked} me={me} />
    </>
  );
}

function ItemsGrid({ day, me, find }: { day: string | null; me: Me; find: string }) {
  const form = useNumberForm();
  const { rows: categoryRows } = useRegister('categories');
  const categories = useMemo(() => new Map(categoryRows.map((c) => [c.id, c.name])), [categoryRows]);
  const columns = useMemo(() => itemColumns(me, form, categories), [me, form, categories]);
  const [change] = itemsApi.useChangeItemsMutation();
  const ids = useMemo(() => new Map([...categories].map(([id, name]) => [name, id])), [categories]);
  // one after the other: an edit that follows quickly saw what the one before it made
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const [met, setMet] = useState<Met | null>(null);
  const keep = useCallback(
    async (changes: ItemChange[]) => {
      if (changes.length === 0) return null;
      try {
        await change(changes).unwrap();
        return null;
      } catch (error) {
        const p = problemOf(error);
        if (p.code === 'changed_meanwhile') {
          setMet({ changes, conflicts: (p.current ?? []) as ItemConflict[] });
          return p.message;
        }
        const message = `${p.message} ${faultWords(p.faults)}`.trim();
        toast.error(message);
        return message;
      }
    },
    [change],
  );
  const send = useCallback(
    (edits: readonly Edit[]) => {
      const inField = (field: ItemField, text: string) => (field === 'category' ? (ids.get(text) ?? '') : text);
      return keep(
        edits.flatMap((e) => {
          const field = ITEM_FIELDS.find((f) => f === e.column);
          return field ? [{ item: e.key, field, seen: inField(field, e.before), value: inField(field, e.after) }] : [];
        }),
      );
    },
    [ids, keep],
  );
  const onEdits = useCallback(
    (edits: readonly Edit[]) => {
      const sent = queue.current.then(() => send(edits));
      queue.current = sent;
      return sent;
    },
    [send],
  );
  const readNumber = useCallback(
    (t: string) => {
      const r = read(t, form);
      return r.ok && r.value !== '' ? r.value : null;
    },
    [form],
  );
  const source = useItemSource(day);
  const { state, busy, window, error } = useWindow({
    name: 'items',
    columns,
    keyOf,
    read: readNumber,
    onEdits,
    find,
    source,
  });
  const [active, setActive] = useState<ItemRow | null>(null);
  const [open, setOpen] = useState<ItemRow | null>(null);
  if (error && !window) return <Trouble>{problemOf(error).message}</Trouble>;
  if (!window)
    return (
      <p className="p-6 text-faint" role="status">
        Reading the items …
      </p>
    );
  if (window.total === 0)
    return (
      <Empty>
        Items come in with a supplier’s cost sheet: rows with a code nobody knows can be added as new items. Bring one
        in under Costs.
      </Empty>
    );
  return (
    <>
      {error ? <Trouble>{problemOf(error).message}</Trouble> : null}
      <GridTools state={state} columns={columns} what="items">
        <AsOf window={window} />
        {active ? (
          <Link to={`/items/${active.id}`} className="border border-rule-strong px-3 py-1 font-medium text-accent">
            All about {active.sku}
          </Link>
        ) : null}
        {me.rights.has('see_cost') ? (
          <Button disabled={!active} onClick={() => setOpen(active)}>
            {active ? `Costs of ${active.sku}` : 'Costs'}
          </Button>
        ) : null}
      </GridTools>
      <Grid
        state={state}
        busy={busy}
        label="Items"
        onActive={setActive}
        onOpen={(row) => me.rights.has('see_cost') && setOpen(row)}
      />
      {met ? (
        <MetInItems
          met={met}
          shown={(field, text) =>
            field === 'category' ? (categories.get(text) ?? text) : AMOUNTS.has(field) ? inForm(text, form) : text
          }
          onGoOn={(changes) => {
            setMet(null);
            void keep(changes);
          }}
        />
      ) : null}
      {open ? <ItemCosts item={open} onClose={() => setOpen(null)} /> : null}
    </>
  );
}
