import { type ReactNode, useEffect, useMemo, useState } from 'react';
import { MOST_ROWS } from '#contract/windows.ts';
import { problemOf } from '../api.ts';
import { useDay } from '../frame/day.ts';
import { asTyped } from '../grid/clipboard.ts';
import { listsApi } from './endpoints.ts';
import type { ListPrices } from '#contract/lists.ts';
import { priceChange } from '#core/lists/price-change.ts';
import { useNumberForm } from '../frame/preferences.ts';
import { readTable } from '../grid/files.ts';
import { Button, Dialog, Field, Trouble } from '../kit/controls.tsx';
import { Select } from '../kit/select.tsx';
import { Change, Figure } from '../kit/figure.tsx';
import { counted } from '../kit/words.ts';
import { type FilePrice, type PriceColumns, guessColumns, headOf, matchPrices } from './price-file.ts';
import type { ListPriceRow } from '#contract/list-row.ts';

interface Table {
  readonly name: string;
  readonly rows: string[][];
  readonly exact: boolean;
  readonly head: number;
}

const MOST_SHOWN = 200;

/** The prices of the items that a file names; `found` is null until all are there. */
function useRowsOf(list: string, table: Table | null, sku: number) {
  const { asked: day } = useDay();
  const [ask] = listsApi.useLazyListRowsQuery();
  const [known, setKnown] = useState<{ of: Table; sku: number; found: ListPriceRow[] } | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => {
    if (!table || sku < 0) return;
    let left = false;
    const skus = [...new Set(table.rows.slice(table.head + 1).map((cells) => asTyped(cells[sku] ?? '').trim()))];
    const read = async () => {
      const found: ListPriceRow[] = [];
      for (let at = 0; at < skus.length && !left; at += MOST_ROWS)
        found.push(...(await ask({ list, day, skus: skus.slice(at, at + MOST_ROWS) }).unwrap()));
      if (!left) setKnown({ of: table, sku, found });
    };
    read().then(
      () => setTrouble(null),
      (error: unknown) => setTrouble(problemOf(error).message),
    );
    return () => {
      left = true;
    };
  }, [ask, list, day, table, sku]);
  return { found: known?.of === table && known?.sku === sku ? known.found : null, trouble };
}

/** A price list that comes back from a file: what differs from what is posted is seen before any of it is taken. */
export function FromFileDialog({
  list,
  onClose,
  onTake,
}: {
  list: ListPrices['list'];
  onClose: () => void;
  onTake: (typed: readonly { row: ListPriceRow; value: string }[]) => void;
}) {
  const form = useNumberForm();
  const [table, setTable] = useState<Table | null>(null);
  const [columns, setColumns] = useState<PriceColumns | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const { decimals, currency } = list;
  const rows = useRowsOf(list.id, table, columns?.sku ?? -1);
  const bring = async (file: File) => {
    setTable(null);
    try {
      const { rows, exact } = await readTable(file);
      const head = headOf(rows);
      if (head === null)
        return setTrouble(`${file.name}: no column is called SKU. The first row must name the columns.`);
      setTable({ name: file.name, rows, exact, head });
      setColumns(guessColumns(rows[head]!));
      setTrouble(null);
    } catch {
      setTrouble(`${file.name} cannot be read as a table. Keep it as XLSX or CSV (UTF-8) and bring it again.`);
    }
  };
  const found = useMemo(
    () =>
      table && columns && columns.sku >= 0 && columns.price >= 0 && rows.found
        ? matchPrices(table.rows, table.head, columns, rows.found, { form, exact: table.exact, decimals })
        : [],
    [table, columns, rows.found, form, decimals],
  );
  const of = (outcome: FilePrice['outcome']) => found.filter((f) => f.outcome === outcome);
  const differs = of('differs');
  const wrong = found.filter((f) => ['unknown', 'unreadable', 'twice'].includes(f.outcome));
  const heads = table?.rows[table.head] ?? [];
  const choice = (label: string, key: keyof PriceColumns, none: string | null) => (
    <Field label={label}>
      <Select
        value={String(columns![key])}
        onValue={(chosen) => setColumns({ ...columns!, [key]: Number(chosen) })}
        options={[
          ...(none === null ? [] : [['-1', none] as const]),
          ...heads.map((h, i) => [String(i), h || `column ${i + 1}`] as const),
        ]}
      />
    </Field>
  );
  return (
    <Dialog open onClose={onClose} title={`Prices from a file into ${list.name}`} wide>
      <p className="text-faint">
        An XLSX or CSV file with the columns SKU, pack and a price in {currency}. Take the list out under “To a file”,
        change it there and bring it back: nothing is posted by this.
      </p>
      <input
        type="file"
        aria-label="The file"
        accept=".xlsx,.csv,.txt"
        className="my-3 block"
        onChange={(e) => e.target.files?.[0] && void bring(e.target.files[0])}
      />
      {(trouble ?? rows.trouble) ? <Trouble>{trouble ?? rows.trouble}</Trouble> : null}
      {table && columns ? (
        <>
          <div className="flex flex-wrap gap-4">
            {choice('SKU stands in', 'sku', null)}
            {choice('Pack stands in', 'pack', 'nowhere: items of one pack')}
            {choice('The price stands in', 'price', 'choose …')}
          </div>
          <p className="mt-3" role="status">
            {columns.sku >= 0 && !rows.found ? 'Looking for the items … ' : ''}
            {counted(differs.length, 'price differs', 'prices differ')} from what is posted, {of('same').length} are the
            same, {of('empty').length} are empty
            {wrong.length > 0 ? `, ${counted(wrong.length, 'row')} cannot be taken` : ''}.
          </p>
          <Rows title="Rows that cannot be taken" rows={wrong}>
            {(f) => (
              <>
                <td className="figure">{f.row}</td>
                <td>{f.sku}</td>
                <td>{f.pack}</td>
                <td>{f.typed}</td>
                <td className="text-stop">{f.why}</td>
              </>
            )}
          </Rows>
          <Rows title="What differs" rows={differs}>
            {(f) => (
              <>
                <td>{f.sku}</td>
                <td>{f.price!.name}</td>
                <td>{f.pack}</td>
                <td className="figure">
                  <Figure value={f.price!.posted} places={decimals} />
                </td>
                <td className="figure bg-proposed">
                  <Figure value={f.value} places={decimals} />
                </td>
                <td className="figure">
                  <Change value={priceChange(f.price!.posted, f.value)} unit=" %" />
                </td>
              </>
            )}
          </Rows>
        </>
      ) : null}
      <div className="mt-4 flex justify-end gap-2">
        <Button onClick={onClose}>Cancel</Button>
        <Button
          weight="main"
          disabled={differs.length === 0}
          onClick={() => onTake(differs.map((f) => ({ row: f.price!, value: f.value! })))}
        >
          Take {counted(differs.length, 'price')} into the list
        </Button>
      </div>
    </Dialog>
  );
}

function Rows({
  title,
  rows,
  children,
}: {
  title: string;
  rows: readonly FilePrice[];
  children: (row: FilePrice) => ReactNode;
}) {
  if (rows.length === 0) return null;
  return (
    <section className="mt-3" aria-label={title}>
      <h3>{title}</h3>
      <div className="max-h-56 overflow-auto">
        <table className="ruled w-full">
          <tbody>
            {rows.slice(0, MOST_SHOWN).map((r) => (
              <tr key={r.row}>{children(r)}</tr>
            ))}
          </tbody>
        </table>
      </div>
      {rows.length > MOST_SHOWN ? <p className="text-xs text-faint">and {rows.length - MOST_SHOWN} more</p> : null}
    </section>
  );
}
